"""The survey as a walk with a phone: what is looked at, measured and photographed once, so that nobody goes back for it.

What is measured here is typed where it belongs; the run keeps the pictures and what was found. Source: practice, survey.
"""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.commission.result import Act, Field, Step
from rowan.core.terms.figure import say

# key, name, what is looked at, what is done there, what is in hand
WALK = (
    ("outside", "From the street", "The whole roof, its neighbours, what will shade it in December.",
     "Each plane with its eave and ridge, gutters, chimney, wires; where a ladder can stand.", "phone, plumb line"),
    ("covering", "The covering", "Age and state, from a window, a ladder or below: never from memory.",
     "One course close by, flashing, moss, what is cracked. In doubt the roofer comes first.", "binoculars"),
    ("attic", "From below", "Rafters or trusses, their section and spacing, battens, membrane, damp.",
     "A rule held against one rafter in the picture; the way a pipe can go.", "rule, torch"),
    ("horizon", "The sky", "Every obstacle over the field, by bearing and height.",
     "A round of pictures from where the field will be; the bearing is kept with each.", "phone with its compass"),
    ("route", "The route", "From field to store, with lengths, rises, walls and places.",
     "Each turn, each wall that is cored, each place that is outside or cold.", "tape, level"),
    ("room", "Where the store stands", "Floor, headroom, door, drain; what it weighs full.",
     "A rule in the door; the floor from below if it is in doubt.", "tape"),
    ("heater", "Heater and board", "The heater's plate, its controls, the board and a free way in it.",
     "Plates so that they can be read. No cover is opened: mains is for a licensed electrician.", "phone"),
    ("water", "Cold main", "Its pressure, a reducer, a check, hardness by strip.",
     "The gauge while somebody draws, and while nobody does.", "gauge for a tap, hardness strip"),
)  # fmt: skip


def survey_steps(design: Design) -> tuple[Step, ...]:
    """The walk: each place with what is looked at; a field on the ground or a wall has no roof to look at from below."""
    left_out = set() if design.on_roof else {"covering", "attic"}
    return tuple(_place(*row) for row in WALK if row[0] not in left_out)


def _place(key: str, name: str, before: str, work: str, hand: str) -> Step:
    pressure = (Field("main_static", "gauge while nobody draws", "pressure", needed=False),) if key == "water" else ()
    fields = (*pressure, Field(f"seen_{key}", "looked at, and in a picture"))
    return Step(key, name, say(before), say(work), say(""), acts=(Act("dry"),), hand=hand, fields=fields)
