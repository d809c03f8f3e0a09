"""A small pump on a photovoltaic panel: how fast the sun turns it, without a controller.

The panel by its four rated points (an explicit single-diode form), the pump as a load whose current grows with the square
of its voltage and whose speed goes with the voltage; heads and flows by the affinity laws. Rules of thumb are named so.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from rowan.core.design.design import Design
from rowan.core.steps.run.pump import PumpCurve, operating_point
from rowan.core.terms.errors import NoOperatingPointError
from rowan.core.terms.record import record

STANDARD_SUN = 1000.0  # W/m² at which a panel is rated
PEAK_V, OPEN_V = 17.2, 21.3  # of a panel sold for 12 V, rule of thumb
SHORT_OVER_PEAK = 1.08  # short-circuit current over that at the peak, rule of thumb
DIMMING_V = 1.0  # what the voltage falls by for each e-fold of less sun, rule of thumb
STARTS_AT = 0.4  # share of its volts below which the pump does not turn, rule of thumb
MOST_SPEED = 1.25  # its electronics hold it there, rule of thumb
STEPS = 60  # of a day's sun
DARK = 1e-3  # W/m², below which nothing comes


@record
class Panel:
    """A panel of a rated power [W at 1000 W/m²]."""

    power: float

    def current(self, *, volts: float, sun: float) -> float:
        """What it gives [A] at a voltage under sun [W/m²], not below 0."""
        if sun < DARK:
            return 0.0
        peak = self.power / PEAK_V
        short = SHORT_OVER_PEAK * peak
        bend = (PEAK_V / OPEN_V - 1) / math.log(1 - peak / short)
        scale = (1 - peak / short) * math.exp(-PEAK_V / (bend * OPEN_V))
        share = sun / STANDARD_SUN
        shifted = max(volts - DIMMING_V * math.log(share), 0.0)
        return max(short * share * (1 - scale * (math.exp(shifted / (bend * OPEN_V)) - 1)), 0.0)


def speed_under(*, panel: Panel, pump_w: float, pump_v: float, sun: float) -> float:
    """Speed of the pump over its rated one [-]: where panel and pump take one current; 0 where it does not turn."""
    rated = pump_w / pump_v

    def left(volts: float) -> float:
        """Current left over at a voltage [A]."""
        return panel.current(volts=volts, sun=sun) - rated * (volts / pump_v) ** 2

    low, high = STARTS_AT * pump_v, MOST_SPEED * pump_v
    if left(low) <= 0:
        return 0.0
    if left(high) >= 0:
        return MOST_SPEED
    for _ in range(STEPS):
        middle = (low + high) / 2
        low, high = (middle, high) if left(middle) > 0 else (low, middle)
    return low / pump_v


def at_speed(curve: PumpCurve, speed: float) -> PumpCurve:
    """A pump's curve at a share of its speed, by the affinity laws; `speed` above 0."""
    return PumpCurve([(q * speed, p * speed**2) for q, p in curve.points])


def flow_at_speed(curve: PumpCurve, speed: float, loop: Callable[[float], float], lift: float = 0.0) -> float:
    """Flow [m³/s] at a share of a pump's speed on a loop (Pa over m³/s) that also lifts [Pa]; 0 where it moves nothing."""
    if speed <= 0:
        return 0.0
    try:
        return operating_point(pump=at_speed(curve, speed), loop=lambda q: loop(q) + lift).flow
    except NoOperatingPointError:
        return 0.0


@record
class SunPump:
    """Flow [m³/s] by sun [W/m²], and the sun from which anything moves (None: never)."""

    points: tuple[tuple[float, float], ...]
    starts_at: float | None

    def flow(self, sun: float) -> float:
        """Flow at a sun between the points."""
        suns, flows = zip(*self.points, strict=True)
        return float(np.interp(sun, suns, flows))


def sun_pump(
    design: Design, curve: PumpCurve, loop: Callable[[float], float], *, start: float = 0.0, lift: float = 0.0
) -> SunPump:
    """The pump of a design on its panel, for suns up to 1000 W/m²; what it lifts at the start and running [Pa]."""
    pump, panel = design.run.pump.value, Panel(design.run.panel_w.value)
    power = pump.speeds[-1].power_w

    def flow(sun: float) -> float:
        """Flow under a sun [W/m²], none until the water is over the top [m³/s]."""
        speed = speed_under(panel=panel, pump_w=power, pump_v=pump.volts, sun=sun)
        over_the_top = curve.head(0.0) * speed**2 > start
        return flow_at_speed(curve, speed, loop, lift) if over_the_top else 0.0

    points = tuple((sun, flow(sun)) for sun in (0.0, *(50.0 * n for n in range(1, 21))))
    moving = [sun for sun, q in points if q > 0]
    if not moving:
        return SunPump(points, None)
    low, high = moving[0] - 50.0, moving[0]
    for _ in range(10):
        middle = (low + high) / 2
        low, high = (low, middle) if flow(middle) > 0 else (middle, high)
    return SunPump(points, high)
