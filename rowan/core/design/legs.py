"""Putting a leg into a line, cutting one in two, taking one out."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.design.inputs.run import Leg
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change

NEW_LENGTH_M = 1.0  # m of a leg that is put in
# of one line; a route of more is drawn wrong, or is two jobs
MOST_LEGS = 60


def _legs(design: Design, line: str, path: str) -> list[Leg]:
    if line not in ("cold", "hot"):
        raise JobFileError(path, "there are a cold line and a hot line")
    return list(design.run.cold if line == "cold" else design.run.hot)


def _at(legs: list[Leg], key: str, path: str) -> int:
    found = next((i for i, leg in enumerate(legs) if leg.id == key), None)
    if found is None:
        raise JobFileError(path, "this leg is no longer there")
    return found


def new_leg_id(legs: list[Leg]) -> str:
    """An id no leg of a line has."""
    taken = {leg.id for leg in legs}
    return next(f"n{number}" for number in range(1, len(taken) + 2) if f"n{number}" not in taken)


def _room(legs: list[Leg], path: str) -> None:
    if len(legs) >= MOST_LEGS:
        raise JobFileError(path, f"a line has {MOST_LEGS} legs at most")


def insert_leg(design: Design, line: str, key: str) -> tuple[Change, str]:
    """The change that puts a level leg of a metre after a leg, and how it is worded. Raises JobFileError."""
    path = f"run.{line}"
    legs = _legs(design, line, path)
    at = _at(legs, key, path)
    _room(legs, path)
    before = legs[at]
    leg = Leg(
        id=new_leg_id(legs),
        name="",
        length_m=NEW_LENGTH_M,
        place=before.place,
        pipe=before.pipe,
        insulation_m=before.insulation_m,
    )
    return Change(path, [*legs[: at + 1], leg, *legs[at + 1 :]]), f"a leg put into the {line} line"


def split_leg(design: Design, line: str, key: str) -> tuple[Change, str]:
    """The change that cuts a leg in two halves of one slope, and how it is worded.

    What stands at its end (a vent, offsets) goes to the second half, its fittings stay with the first. Raises JobFileError,
    also for a fitted leg: it has no length of its own.
    """
    path = f"run.{line}"
    legs = _legs(design, line, path)
    at = _at(legs, key, path)
    _room(legs, path)
    leg = legs[at]
    if leg.fitted:
        raise JobFileError(path, "a fitted leg takes up the height that is left; put a leg beside it instead")
    length, rise = leg.length_m / 2, leg.rise_m / 2
    first = leg.model_copy(
        update={
            "length_m": round(length, 4),
            "rise_m": round(rise, 4),
            "vented": False,
            "from_a_m": None,
            "from_b_m": None,
        }
    )
    second = leg.model_copy(
        update={
            "id": new_leg_id(legs),
            "length_m": round(length, 4),
            "rise_m": round(rise, 4),
            "bends": 0,
            "tees": 0,
            "valves": 0,
        }
    )
    return Change(path, [*legs[:at], first, second, *legs[at + 1 :]]), f"a leg of the {line} line cut in two"


def take_leg(design: Design, line: str, key: str) -> tuple[Change, str]:
    """The change that takes a leg out, and how it is worded. Raises JobFileError for the last one of a line."""
    path = f"run.{line}"
    legs = _legs(design, line, path)
    at = _at(legs, key, path)
    if len(legs) == 1:
        raise JobFileError(path, "a line keeps one leg at least")
    return Change(path, [*legs[:at], *legs[at + 1 :]]), f"{legs[at].name or 'a leg'} taken out of the {line} line"
