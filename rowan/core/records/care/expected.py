"""What should have come: the plan as built, run through its year in the light and air of the log, and what came by the log, day by day."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.own_store import own_store_of
from rowan.core.reckon import Reckoning
from rowan.core.records.care.drawn import PLANNED_UP_TO, by_hours, drawn_share
from rowan.core.records.care.scene import Scene
from rowan.core.records.care.twin import HEAT, LIGHT
from rowan.core.records.logs.days import FULL_DAY_H
from rowan.core.records.logs.log import Log
from rowan.core.records.logs.stamps import HOUR_S
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.simulate import planes_of, sky_of
from rowan.core.simulation.system import Draws, System
from rowan.core.simulation.year import Year, run_year
from rowan.core.terms.calendar import DAYS, HOURS
from rowan.core.terms.record import record
from rowan.core.weather.hours import PlaneYear, Weather

Array = NDArray[np.float64]
# what is not known of a house that stands: shares; methods 17 for field and losses, rule of thumb for what is drawn
FIELD_OFF, LOSS_OFF, DRAWS_OFF, DRAWN_OFF = 0.07, 0.12, 0.25, 0.2
# by what the heat was read, and how far that may be off [-]: a meter by its class; a flow meter by 3 % and two probes by 0.4 K each on
# the 7 K between them; the plan's flow by its prior
METER, FLOW_AND_LINES, TEMPERATURES = (
    "its heat meter",
    "its flow meter and both lines",
    "its temperatures and the plan's flow",
)
READ_OFF = {METER: 0.03, FLOW_AND_LINES: 0.09, TEMPERATURES: 0.10}


@record
class Expected:
    """Heat into the store of each day, less what left it by the loop at rest [J]: as read, as it should have been with its band, not a number where the day was not read whole;
    hours the pump should have run and ran [h], starts, the warmest of field and store's top [°C] as they should have been. `source` says by
    what the heat was read; `drawn` is what the store's foot tells of the draws, of the plan's, None where it tells nothing;
    `by_drawn` whether those were reckoned with."""

    first_day: int
    came: Array
    due: Array
    low: Array
    high: Array
    ran: Array
    should_run: Array
    source: str
    should_start: Array
    should_field: Array
    should_top: Array
    drawn: float | None = None
    by_drawn: bool = False

    @property
    def compared(self) -> NDArray[np.bool_]:
        """Days that were read whole."""
        return np.isfinite(self.came) & np.isfinite(self.due)

    def sums(self, since: int = 0) -> tuple[float, float, float, float]:
        """Heat that came, that was due, and its band [J], over the compared days from a day on."""
        good = self.compared.copy()
        good[:since] = False
        return (
            float(self.came[good].sum()),
            float(self.due[good].sum()),
            float(self.low[good].sum()),
            float(self.high[good].sum()),
        )

    def hours(self, since: int = 0) -> tuple[float, float]:
        """Hours that the pump ran and should have run [h], over the compared days from a day on."""
        good = self.compared.copy()
        good[:since] = False
        return float(self.ran[good].sum()), float(self.should_run[good].sum())


def _light_of_year(design: Design, result: Reckoning, scene: Scene, out: Array, system: System) -> tuple[Array, Array]:
    """Light that counts [W/m²] and air [°C] of each hour of a year: the log's where it was read, the made year's elsewhere."""
    sky = sky_of(design)
    first, _ = planes_of(design, sky, result.site.horizon)
    light = np.clip(system.field.absorbed(first, sky.weather.air) / system.field.eta0, 0.0, None)
    air = sky.weather.air.copy()
    at = hours_of_year(scene)
    time = np.bincount(at, weights=scene.lasts, minlength=HOURS)
    read = time > HOUR_S / 2
    for values, into in ((out[:, LIGHT], light), (scene.given[:, 5], air)):
        sums = np.bincount(at, weights=scene.lasts * values, minlength=HOURS)
        into[read] = sums[read] / time[read]
    return light, air


def hours_of_year(scene: Scene) -> NDArray[np.int64]:
    """The hour of the year, by the place's clock, of each row, 0 to 8759."""
    days = (np.datetime64("1970-01-01") + scene.first_day + scene.day).astype("datetime64[D]")
    of_year = (days - days.astype("datetime64[Y]").astype("datetime64[D]")).astype(np.int64)
    return np.minimum(of_year * 24 + scene.hour.astype(np.int64), HOURS - 1)


def expected(
    design: Design,
    result: Reckoning,
    scene: Scene,
    log: Log,
    out: Array,
    *,
    healthy: int | None = None,
    told: Callable[[float], None] = lambda _: None,
) -> Expected:
    """What should have come in the log's days, and what came.

    Args:
        design: the plan as built.
        result: its reckoning.
        scene: the log on its plan.
        log: the log itself.
        out: the twin's rows under what is supposed, of which the light is taken, and the heat where no meter read it.
        healthy: the first days of the log that are healthy, from which draws may be told; all of them without.
        told: hears how far it is, 0 to 1.
    """
    system = system_of(design, result, sky_of(design).weather)
    draws = draws_of(design, sky_of(design).weather)
    light, air = _light_of_year(design, result, scene, out, system)
    place = _day_places(scene)
    came, source = _came(scene, log, out)
    came = came - night_losses(scene, out)
    read = np.bincount(scene.day, weights=scene.lasts, minlength=scene.days) / HOUR_S >= FULL_DAY_H
    ran = np.bincount(scene.day, weights=scene.lasts * (scene.given[:, 2] > 0), minlength=scene.days) / HOUR_S
    came, ran = np.where(read, came, np.nan), np.where(read, ran, np.nan)
    if own_store_of(design) is not None:
        # what a pool, a slab or a bath is due follows how warm it is held from hour to hour, which no plan knows
        none = np.full(scene.days, np.nan)
        return Expected(scene.first_day, came, none, none, none, ran, none, source, none, none, none)
    share = _drawn_share(scene, healthy, system, draws, light, air)
    # within what a foot can tell, the plan's draws are as good
    others = share is not None and not 1 / PLANNED_UP_TO < share < PLANNED_UP_TO
    off = DRAWN_OFF if others else DRAWS_OFF
    draws = _drawn(draws, share if share is not None and others else 1.0)
    heats, usual = _cases(system, draws, off, light, air, told)
    mean = heats[0]
    either = np.hypot(np.hypot(heats[1] - mean, heats[2] - mean), READ_OFF[source] * mean)
    more = np.hypot(either, np.maximum(heats[3] - mean, 0.0))
    less = np.hypot(either, np.maximum(mean - heats[4], 0.0))
    return Expected(
        scene.first_day,
        came,
        np.where(read, mean[place], np.nan),
        np.where(read, np.maximum(mean[place] - less[place], 0.0), np.nan),
        np.where(read, mean[place] + more[place], np.nan),
        ran,
        np.where(read, (usual.day_sums("pump_time") / HOUR_S)[place], np.nan),
        source,
        np.where(read, usual.day_sums("starts")[place], np.nan),
        np.where(read, usual.hourly("exit").reshape(DAYS, 24).max(axis=1)[place], np.nan),
        np.where(read, np.array([usual.layers(day)[:, 0].max() for day in range(DAYS)])[place], np.nan),
        share,
        others,
    )


def _cases(
    system: System, draws: Draws, off: float, light: Array, air: Array, told: Callable[[float], None]
) -> tuple[list[Array], Year]:
    """Heat of each day of a year [J] as planned, with a better field, more losses, more and less drawn; and the planned year itself."""
    field = replace(system, field=replace(system.field, eta0=system.field.eta0 * (1 + FIELD_OFF)))
    cases = [
        (field, draws),
        (_losing(system, 1 + LOSS_OFF), draws),
        (system, _drawn(draws, 1 + off)),
        (system, _drawn(draws, 1 - off)),
    ]
    usual = _run(system, draws, light, air, trace=True)
    heats = [usual.day_sums("coil")]
    for number, (one, drawn) in enumerate(cases, 1):
        told(number / len(cases))
        heats.append(_run(one, drawn, light, air, trace=False).day_sums("coil"))
    return heats, usual


def _drawn_share(
    scene: Scene, healthy: int | None, system: System, draws: Draws, light: Array, air: Array
) -> float | None:
    """What the store's foot tells of the draws over the healthy days of a log, of the plan's."""
    rows = scene.day < (scene.days if healthy is None else healthy)
    if not rows.any() or draws.days.max() <= 0.0:
        return None
    hours, foot = by_hours(scene.at[rows], hours_of_year(scene)[rows], scene.read["low_c"][rows])
    return drawn_share(
        hours, foot, draws.cold, lambda share: _run(system, _drawn(draws, share), light, air, trace=True)
    )


def _losing(system: System, times: float) -> System:
    field = replace(system.field, a1=system.field.a1 * times, a2=system.field.a2 * times)
    return replace(
        system,
        field=field,
        hot=replace(system.hot, loss=system.hot.loss * times),
        cold=replace(system.cold, loss=system.cold.loss * times),
    )


def _drawn(draws: Draws, times: float) -> Draws:
    return replace(draws, days=draws.days * times)


def _run(system: System, draws: Draws, light: Array, air: Array, *, trace: bool) -> Year:
    """A year in some light and air."""
    # light that counts has its angles in it already
    dark = np.zeros(HOURS)
    plane = PlaneYear(dark, light / system.field.k_d, np.ones(HOURS), dark, dark)
    weather = Weather(dark, dark, dark, air)
    beside = plane if system.beside is not None else None
    return run_year(system=system, weather=weather, plane=plane, draws=draws, beside=beside, trace=trace)


def _day_places(scene: Scene) -> NDArray[np.int64]:
    """The day of the year of each day of a log, 0 to 364."""
    days = (np.datetime64("1970-01-01") + scene.first_day + np.arange(scene.days)).astype("datetime64[D]")
    of_year = (days - days.astype("datetime64[Y]").astype("datetime64[D]")).astype(np.int64)
    return np.minimum(of_year, DAYS - 1)


def _came(scene: Scene, log: Log, out: Array) -> tuple[Array, str]:
    """Heat into the store on each day [J], and by what it was read."""
    meter = log.columns.get("heat_j")
    if meter is not None and np.isfinite(meter).mean() > 0.5:
        return _by_meter(scene, log, meter), METER
    read = scene.read
    if all(np.isfinite(read[key]).mean() > 0.5 for key in ("flow_m3_s", "hot_c", "cold_c")):
        per_flow = scene.loop.rate / scene.flow
        power = np.nan_to_num(read["flow_m3_s"] * per_flow * (read["hot_c"] - read["cold_c"]))
        return _daily(scene, power), FLOW_AND_LINES
    return _daily(scene, np.where(scene.given[:, 2] > 0.0, out[:, HEAT], np.maximum(out[:, HEAT], 0.0))), TEMPERATURES


def night_losses(scene: Scene, out: Array) -> Array:
    """Heat of each day that leaves the store by the loop while the pump is told to rest, as the twin has it [J]."""
    rest = scene.given[:, 2] <= 0.0
    return _daily(scene, -np.minimum(out[:, HEAT], 0.0) * rest)


def _daily(scene: Scene, power: Array) -> Array:
    return np.asarray(np.bincount(scene.day, weights=scene.lasts * power, minlength=scene.days), dtype=float)


def _by_meter(scene: Scene, log: Log, meter: Array) -> Array:
    """A counter's steps by day; one that goes back was set to nothing."""
    good = np.isfinite(meter)
    steps = np.clip(np.diff(meter[good]), 0.0, None)
    days = np.searchsorted(scene.at, log.at[good][1:].astype(float), side="right") - 1
    return np.asarray(
        np.bincount(scene.day[np.clip(days, 0, len(scene.day) - 1)], weights=steps, minlength=scene.days), dtype=float
    )
