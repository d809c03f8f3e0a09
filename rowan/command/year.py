"""`bin/rowan year`: a plan through a made year, month by month, as text or JSON."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.year import Year
from rowan.core.terms.units import KWH, System, number_text, shown

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
COLUMNS = (
    ("demand", "demand"),
    ("solar", "coil"),
    ("drawn", "draw"),
    ("backup", "backup"),
    ("lost in lines", "line_loss"),
    ("lost by store", "store_loss"),
)


def year_data(design: Design, seed: int) -> dict[str, object]:
    """The year in SI, for scripts."""
    year = simulate(design, reckon(design), seed=seed)
    return {
        "seed": seed,
        "solar_heat_j": year.solar_heat,
        "demand_j": year.total("demand"),
        "backup_j": year.backup,
        "solar_fraction": year.solar_fraction,
        "pump_s": year.total("pump_time"),
        "starts_per_day": year.starts_per_day,
        "stagnation_s": year.total("stagnation_time"),
        "highest_collector_c": year.highest_collector,
        "highest_store_c": year.highest_store,
        "balance_residual": year.residual,
        "months_j": {name: [float(v) for v in year.months(key)] for name, key in COLUMNS},
    }


def year_text(design: Design, seed: int, system: System) -> str:
    """The year as a table; heat in kWh in both systems of units."""
    reckoning = reckon(design)
    year = simulate(design, reckoning, seed=seed)
    lines = [f"{'kWh':<6}" + "".join(f"{name:>15}" for name, _ in COLUMNS)]
    months = [year.months(key) / KWH for _, key in COLUMNS]
    for number, month in enumerate(MONTHS):
        lines.append(f"{month:<6}" + "".join(f"{number_text(float(column[number]), 0):>15}" for column in months))
    lines.append(f"{'year':<6}" + "".join(f"{number_text(float(column.sum()), 0):>15}" for column in months))
    return "\n".join([*lines, "", *_sums(year, reckoning.collector.year_heat, system)])


def _sums(year: Year, estimate: float | None, system: System) -> list[str]:
    hours = 3600
    rows = [
        f"solar heat into the store {number_text(year.solar_heat / KWH, 0)} kWh, {number_text(100 * year.solar_fraction, 0)} % solar",
        f"pump {number_text(year.total('pump_time') / hours, 0)} h, {number_text(year.starts_per_day, 1)} starts a day, "
        f"field standing hot {number_text(year.total('stagnation_time') / hours, 0)} h",
        f"highest: field {shown(year.highest_collector, 'temperature', system)}, store {shown(year.highest_store, 'temperature', system)}",
        f"energy balance closes to {year.residual:.1e} of the solar heat",
    ]
    if estimate is not None:
        rows.append(f"beside it the estimate by months: {number_text(estimate / KWH, 0)} kWh of solar heat used")
    return rows
