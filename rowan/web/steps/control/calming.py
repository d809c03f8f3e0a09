"""What would calm a pump that hunts, tried on the day under the lens."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rowan.core.design.changes import changed
from rowan.core.reckon import Known, reckon
from rowan.core.simulation.plan_day import Lens, made_ready, race_day
from rowan.core.steps.control.differences import cycling_band
from rowan.core.studies.trials import Trial, calming_trials, sensor_trials
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.steps.control.race import lens_of


def calming_rows(sheet: Sheet, lens: Lens) -> list[dict[str, Any]]:
    """The plan, then each cure: starts, heat and electricity of the day, and the sun from which it runs on."""
    return [
        _row(sheet, lens, tr("nothing: the plan")),
        *_tried(sheet, lens, calming_trials(sheet.design, sheet.result.run)),
    ]


def calming_context(sheet: Sheet) -> dict[str, Any]:
    """The rows, or why there are none."""
    if not sheet.design.pumped:
        return {"calming_problem": "Nothing pumps here, so nothing hunts"}
    try:
        return {"calming": calming_rows(sheet, lens_of(sheet))}
    except RowanError as error:
        return {"calming_problem": tr("No day can be run: {units}", units=error.text(sheet.units))}


def sensor_rows(sheet: Sheet, lens: Lens) -> list[dict[str, Any]]:
    """The plan's day with its field sensor right, and wrong in each of the ways it can be."""
    return _tried(sheet, lens, sensor_trials(sheet.design))


def _tried(sheet: Sheet, lens: Lens, trials: tuple[Trial, ...]) -> list[dict[str, Any]]:
    design, known = sheet.design, Known(sheet.design, sheet.result)
    rows = []
    for trial in trials:
        try:
            tried = changed(design, trial.changes)
            rows.append(_row(Sheet(tried, reckon(tried, known), sheet.units, sheet.measured), lens, trial.name))
        except RowanError:
            continue
    return rows


def _row(sheet: Sheet, lens: Lens, name: str) -> dict[str, Any]:
    control = sheet.design.control
    made = made_ready(sheet.design, sheet.result, lens, measured=sheet.measured)
    day = race_day(made, start=control.start_k.value, stop=control.stop_k.value)
    loop, held = sheet.result.differences.loop, sheet.design.functions
    # a pump that follows the difference holds on at its slowest
    slowest = held.speed_floor.value if held.follows else 1.0
    band = cycling_band(
        start=control.start_k.value,
        stop=control.stop_k.value,
        loop=replace(loop, capacity_rate=loop.capacity_rate * slowest),
    )
    return {
        "name": name,
        "starts": number_text(day.total("starts"), 0),
        "heat": number_text(day.total("coil") / KWH, 2),
        "pump": number_text(day.total("electric") / KWH, 3),
        "sun": Quantity(max(band.start_irradiance, band.hold_irradiance), "irradiance").shown(sheet.units),
    }
