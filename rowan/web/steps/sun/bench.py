"""The Sun bench: what stands before the sun, what it takes, and whether to build here at all."""

from __future__ import annotations

from typing import Any, get_args

from rowan.core.terms.compass import compass_name
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.weather.sun import Season
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot, Word, blank
from rowan.web.steps.sun.horizon import horizon
from rowan.web.steps.sun.shade import contours, shade_table

WORDS = {
    "free": "A free sky: shade takes {s} between 9 and 15 h",
    "clean": "A good sky: shade takes {s} between 9 and 15 h",
    "acceptable": "Shade takes {s} between 9 and 15 h: bearable",
    "poor": "Shade takes {s} between 9 and 15 h: a poor place",
    "no": "Say no: shade takes {s} between 9 and 15 h",
}


# what is written as 0.0 %: nothing stands before the sun in those hours
NOTHING = 0.0005


def _verdict(sheet: Sheet) -> Statement:
    shade = sheet.result.site.shading
    return say(
        WORDS["free" if shade.window < NOTHING else shade.verdict],
        s=Quantity(shade.window, "share" if shade.window >= 0.1 else "share_fine"),
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    survey = sheet.design.survey
    return (
        "From a roof to the ",
        Word("bearing", compass_name(survey.roof_azimuth_deg.value)),
        ", ",
        Slot("survey.roof_azimuth_deg"),
        ", at ",
        Slot("survey.roof_tilt_deg"),
        ", at latitude ",
        Slot("survey.latitude_deg"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("The sky from the collectors", "", horizon(sheet)),
        Block("What stands before it", "dragged in the sky above, or typed here", template="steps/sun/horizon.html"),
        Block("What shade takes", "month by hour", shade_table(sheet), half=True),
        Block("Where it could look", "drag the dot", contours(sheet), half=True, kind="seasons"),
        Block("What bearing and pitch cost", "by the year", run="planes"),
    ]


def _seasons(sheet: Sheet) -> list[tuple[str, str, bool]]:
    """Of what the planes are compared: key, words, and whether it is looked at."""
    words = {"year": "the year", "summer": "the summer half", "winter": "the winter half"}
    return [(key, words[key], key == sheet.look.season) for key in get_args(Season)]


OBSTACLE_CELLS = ("kind", "bearing_deg", "distance_m", "width_m", "height_m", "grown_m", "summer", "winter")
POINT_CELLS = ("bearing_deg", "elevation_deg")


def _cells(sheet: Sheet, which: str, entry: Any, names: tuple[str, ...]) -> dict[str, Any]:
    """A row of a table: an entry of a list of the step, with a blank for each of its inputs."""
    return {
        "entry": entry,
        "cells": [blank(sheet.design, f"sun.{which}.{entry.id}.{name}", sheet.units) for name in names],
    }


def _rows(sheet: Sheet) -> dict[str, Any]:
    sun = sheet.design.sun
    points = sorted(sun.horizon, key=lambda p: p.bearing_deg)
    return {
        "obstacles": [_cells(sheet, "obstacles", entry, OBSTACLE_CELLS) for entry in sun.obstacles],
        "points": [_cells(sheet, "horizon", entry, POINT_CELLS) for entry in points],
        "verdict_word": sheet.result.site.shading.verdict,
        "seasons": _seasons(sheet),
    }


BENCH = Bench("sun", "Sun", _verdict, _line, _blocks, ("survey.longitude_deg", "survey.altitude_m"), _rows)
