"""Delivery and the work on the roof as steps of a run: what has to lie there, and each task with what holds before it.

Source: practice, the roof; site, roof go or no-go.
"""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.steps.commission.result import Act, Field, Rule, Step
from rowan.core.steps.roof.marks import grid_diagonal
from rowan.core.steps.roof.order import CARRIED_GUST_M_S, Task, order_of_work
from rowan.core.steps.roof.square import SQUARE_RAD
from rowan.core.terms.figure import Quantity, Statement, say

NOTHING = say("")
DRY = (Act("dry"),)
PLACES_IN_ORDER = ("roof", "attic", "shaft", "plant room")


def delivery_steps(result: Reckoning) -> tuple[Step, ...]:
    """Every part that is bought, ticked off by the place it goes to; what is hired comes on its day."""
    bought = [part for part in result.parts.parts if part.merchant != "hire"]
    places = [*PLACES_IN_ORDER, *sorted({part.place for part in bought} - set(PLACES_IN_ORDER))]
    found = []
    for place in places:
        parts = [part for part in bought if part.place == place]
        if parts:
            fields = tuple(Field(f"came_{part.key}", f"{part.quantity.shown()} {part.name.text()}") for part in parts)
            words = say(
                "Counted and looked at before the roof is opened: what is missing today is a day lost tomorrow."
            )
            found.append(
                Step(
                    f"came-{place}".replace(" ", "-"),
                    f"For the {place}",
                    words,
                    NOTHING,
                    NOTHING,
                    acts=DRY,
                    fields=fields,
                )
            )
    return tuple(found)


def roof_steps(design: Design, result: Reckoning) -> tuple[Step, ...]:
    """Each task of mounting the field as a step."""
    return tuple(_step(design, result, task) for task in order_of_work(design, result.roof))


def _step(design: Design, result: Reckoning, task: Task) -> Step:
    before = say("A gate: nothing after it before it is done.") if task.gate else NOTHING
    word = task.key.partition("-")[0]
    fields, rules = (
        _weather() if word == "weather" else _diagonals(result, task.key) if word == "diagonals" else ((), ())
    )
    done = Field(f"done_{task.key}", "done, and looked at")
    return Step(
        task.key,
        task.name,
        before,
        task.words,
        NOTHING,
        acts=DRY,
        hand=task.tools,
        fields=(*fields, done),
        rules=rules,
        gate=task.gate,
        caution=_caution(word),
    )


def _caution(word: str) -> Statement | None:
    if word == "collector":
        return say(
            "Above {v} of gust nothing is carried, and nothing is left unclamped.", v=Quantity(CARRIED_GUST_M_S, "gust")
        )
    return None


def _weather() -> tuple[tuple[Field, ...], tuple[Rule, ...]]:
    """Read, not felt: a plate pulls with the square of the gust."""
    rule = Rule(
        "gusts",
        "stop",
        f"gust > {CARRIED_GUST_M_S:g}",
        "Gusts of {v}: nobody goes up today.",
        {"v": ("gust", "gust")},
    )
    return (Field("gust", "strongest gust", "gust", high=f"{CARRIED_GUST_M_S:g}", level=""),), (rule,)


def _diagonals(result: Reckoning, key: str) -> tuple[tuple[Field, ...], tuple[Rule, ...]]:
    """Both diagonals of a plane: square where they are the same within what a tape can tell."""
    number = int(key.partition("-")[2] or "1")
    whole = grid_diagonal(result.roof.planes[number - 1])
    if whole is None:
        return (), ()
    one, other = f"diagonal_{number}a", f"diagonal_{number}b"
    within = f"{SQUARE_RAD:g} * {whole:.4f}"
    fields = tuple(
        Field(name, words, "length", expected=f"{whole:.4f}", level="")
        for name, words in ((one, "one diagonal"), (other, "the other"))
    )
    amounts = {"d": (f"max({one} - {other}, {other} - {one})", "level"), "l": (within, "level")}
    words = "They differ by {d}, {l} may be: move the upper rail and measure both again."
    rules = tuple(
        Rule(f"not_square_{side}", "fix", f"{a} - {b} > {within}", words, amounts)
        for side, a, b in (("left", one, other), ("right", other, one))
    )
    return fields, rules
