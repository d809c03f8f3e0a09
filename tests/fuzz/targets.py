"""Every parser of what comes from outside, with texts to begin from. Each takes what it is given or raises a refusal of ours."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from rowan.core.appraise.heaters import cheap_hours
from rowan.core.design.changes import inputs
from rowan.core.design.inputs.hours import away_days, day_draws, day_minutes, press_minute
from rowan.core.design.inputs.rows import row_counts
from rowan.core.design.job_file import load
from rowan.core.reckon import reckon
from rowan.core.records.data_sheet_line import readings
from rowan.core.records.readings import once_each, reading_of
from rowan.core.steps.run.own_pump import points_from_text, speeds_from_csv
from rowan.core.terms.compass import compass_point
from rowan.core.terms.errors import ReadingError, RowanError
from rowan.core.terms.units import DIMENSIONS, SYSTEMS, typed_to_si, worded
from rowan.core.weather.files import read_weather
from rowan.demo.kvist import kvist_plan_a
from rowan.web.editing.blanks import changes_from_text
from rowan.web.ui.errors import WebError

REFUSALS = (RowanError, WebError)
PLAN = kvist_plan_a()
DONE = reckon(PLAN)
TEXTS = [found.path for found in inputs(PLAN)]
SAMPLES = Path(__file__).parents[1] / "core" / "samples"


class Target(NamedTuple):
    """A parser, and what its search begins from."""

    parse: Callable[[bytes], object]
    seeds: tuple[bytes, ...]


def text_of(data: bytes) -> str:
    """Bytes as the text that a form or a file would bring."""
    return data.decode("utf-8", errors="replace")


def _reading(data: bytes) -> object:
    try:
        found = json.loads(text_of(data), object_pairs_hook=once_each)
    except (ValueError, RecursionError) as error:
        raise ReadingError("this is no JSON") from error  # as the page that takes them says it
    return reading_of(found)


def _typed(data: bytes) -> object:
    which, text = data[:1] or b"\0", text_of(data[1:])
    dimension = sorted(DIMENSIONS)[which[0] % len(DIMENSIONS)]
    worded(text)
    compass_point(text)
    return typed_to_si(text, dimension, SYSTEMS[which[0] % 2])


def _blank(data: bytes) -> object:
    return changes_from_text(
        PLAN, TEXTS[(data[:1] or b"\0")[0] % len(TEXTS)], text_of(data[1:]), SYSTEMS[len(data) % 2]
    )


def _hours(data: bytes) -> object:
    parsers = (day_minutes, day_draws, away_days, press_minute, cheap_hours)
    return parsers[(data[:1] or b"\0")[0] % len(parsers)](text_of(data[1:]))


def _line(data: bytes) -> object:
    from typing import get_args

    from rowan.core.records.data_sheet_line import Line

    lines = get_args(Line)
    return readings(
        PLAN, DONE, line=lines[(data[:1] or b"\0")[0] % len(lines)], text=text_of(data[1:]), system="metric"
    )


EPW_HEAD = b"LOCATION,Aldersund,-,-,SRC,1,57.2,12.1,1.0,85.0\nDATA PERIODS,1,1,Data,Sunday, 1/ 1,12/31\n1990,1,1,1,60,?,2.0,1.0,90,101000\n"
TARGETS: dict[str, Target] = {
    "job_file": Target(load, tuple(path.read_bytes() for path in sorted(SAMPLES.glob("*.json")))),
    "reading": Target(_reading, (b'{"at": "2026-05-04T12:00:00Z", "field_c": 57.6, "pump_share": 1.0}', b'{"at": "2026-05-04T12:00:00+01:00"}')),
    "weather": Target(
        lambda data: read_weather("any", data),
        (EPW_HEAD, b'1,"Aldersund",XX,1.0,57.2,12.1,85\nDate (MM/DD/YYYY),Time (HH:MM),GHI (W/m^2)\n', b'{"inputs": {}, "outputs": {}}'),
    ),
    "typed": Target(_typed, (b"\x0012 ft 3 in", b"\x0123 psi", b"\x021,6 bar", b"\x03SW", b"\x043/4 in", b"\x051.5e3")),
    "blank": Target(_blank, (b"\x01 57.2", b"\x05 slate", b"\x20 Plate 2.3 selective", b"\x30 yes")),
    "rows": Target(lambda data: row_counts(text_of(data[1:]), 1 + (data[:1] or b"\0")[0] % 40), (b"\x045+5", b"\x033, 2", b"\x092 x 5")),
    "hours": Target(_hours, (b"\x006:00-8:00, 17-22", b"\x01 7:00 40 L; 19:30 80 L", b"\x02 1 Jul - 15 Aug", b"\x03 6:30", b"\x04 22-6")),
    "points": Target(lambda data: points_from_text(text_of(data), "metric"), (b"0 6.0\n1.0 5.2\n2.0 3.9\n", b"0;6,0\n1;5,2\n")),
    "pump_csv": Target(lambda data: speeds_from_csv(text_of(data), "metric"), (b"speed,flow,head,power\n1,0,4,20\n1,1,3,25\n2,0,6,40\n",)),
    "sheet_line": Target(_line, (b"\x003.2 m3/h", b"\x01 25 l/min 4 kPa", b"\x02 0.78 3.5 0.015")),
}  # fmt: skip
