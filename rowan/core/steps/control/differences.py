"""Loss floor, stability and the band between start and hold: why pumps hunt."""

from __future__ import annotations

import math
from typing import Literal

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.record import record

CUT_OUT_LATCH_K = 10.0  # a cut-out lets the pump run again this far below it, methods 7
LINE_C = 40.0  # °C of a line without a day's run, methods 7
MOST_STARTS_A_DAY = 20  # beyond what the sky asks for; more wear pump and relay, methods 7
HEALTHY_STARTS = 10  # beyond what the sky asks for, at morning and evening; rule of thumb, decision 0020
START_ABOVE_STOP_K = 5.0  # K, usual band


@takes(
    sensor_error=NOT_NEGATIVE,
    pipe_loss=FINITE,
    pump_power=NOT_NEGATIVE,
    price_ratio=NOT_NEGATIVE,
    flow=POSITIVE,
    heat_capacity=POSITIVE,
)
def loss_floor(
    *, sensor_error: float, pipe_loss: float, pump_power: float, price_ratio: float, flow: float, heat_capacity: float
) -> float:
    """Least stop difference [K] below which running loses.

    sensor_error [K], pipe_loss and pump_power [W], price_ratio electricity over useful heat [-],
    flow [kg/s], heat_capacity [J/kg·K]. Source: methods 7.
    """
    return sensor_error + (pipe_loss + pump_power * price_ratio) / (flow * heat_capacity)


@record
class Stability:
    """Largest stop difference without cycling [K] and whether the pair keeps it."""

    largest_stop: float
    stable: bool


@takes(start=FINITE, stop=FINITE, area=POSITIVE, fr_ul=NOT_NEGATIVE, flow=POSITIVE, heat_capacity=POSITIVE)
def stability(*, start: float, stop: float, area: float, fr_ul: float, flow: float, heat_capacity: float) -> Stability:
    """The rule ΔT_off ≤ ΔT_on·A·F_RU_L/(ṁ·c_p); differences [K], area [m²], fr_ul [W/m²K].

    Raises ImpossibleInputError unless stop is below start. Source: methods 7, Duffie and Beckman.
    """
    if stop >= start:
        raise ImpossibleInputError(
            "stop difference must be below start difference: {stop} is not below {start}",
            stop=(stop, "difference"),
            start=(start, "difference"),
        )
    largest = start * area * fr_ul / (flow * heat_capacity)
    return Stability(largest, stop <= largest)


@record
class CyclingBand:
    """Irradiance that starts the pump and that holds it running [W/m²]."""

    start_irradiance: float
    hold_irradiance: float

    @property
    def cycles(self) -> bool:
        """Between the two it starts and cannot stay on."""
        return self.hold_irradiance > self.start_irradiance


@record
class LoopAtStart:
    """What the band needs: area [m²], F_Rτα [-], F_RU_L [W/m²K], capacity rate ṁ·c_p [W/K], store bottom and air [°C]."""

    area: float
    fr_tau_alpha: float
    fr_ul: float
    capacity_rate: float
    store_bottom: float
    air_temperature: float

    @property
    def over(self) -> float:
        """The store's foot over the air [K]."""
        return self.store_bottom - self.air_temperature

    @property
    def level_irradiance(self) -> float:
        """Irradiance at which a standing field is as warm as the store's foot [W/m²]."""
        return self.standing_irradiance(0.0)

    def standing_irradiance(self, difference: float) -> float:
        """Irradiance [W/m²] that warms a standing field by a difference [K] over the store's foot."""
        return self.fr_ul * (self.over + difference) / self.fr_tau_alpha

    def running_irradiance(self, difference: float) -> float:
        """Irradiance [W/m²] that keeps a running field a difference [K] over the store's foot."""
        return (self.fr_ul * self.over + difference * self.capacity_rate / self.area) / self.fr_tau_alpha


def cycling_band(*, start: float, stop: float, loop: LoopAtStart) -> CyclingBand:
    """Irradiance to start and to hold for a pair of differences [K]. Source: methods 7."""
    return CyclingBand(loop.standing_irradiance(start), loop.running_irradiance(stop))


def cycling_level(*, stable: bool, starts_per_day: float | None) -> Literal["none", "mind", "fix"]:
    """How gravely a pair hunts: the rule broken is `mind`, and `fix` above 20 starts a day. Source: methods 7."""
    many = starts_per_day is not None and starts_per_day > MOST_STARTS_A_DAY
    if stable:
        return "mind" if many else "none"
    return "fix" if many else "mind"


@takes(current=NOT_NEGATIVE, resistance=NOT_NEGATIVE, cut=NOT_NEGATIVE, resume=NOT_NEGATIVE)
def battery_hunts(*, current: float, resistance: float, cut: float, resume: float) -> bool:
    """Whether a pump's own sag makes its battery cut-off hunt: V_resume − V_cut < I·R. [A], [Ω], [V]. Source: methods 7."""
    return resume - cut < current * resistance


@takes(floor=FINITE)
def proposed_stop(*, floor: float) -> float:
    """The loss floor [K] rounded up to a whole kelvin."""
    return float(math.ceil(floor - 1e-9))


@takes(floor=FINITE)
def proposed_start(*, floor: float) -> float:
    """Start difference [K] that suits a loss floor: the stop it asks for, and what start stands over stop."""
    return proposed_stop(floor=floor) + START_ABOVE_STOP_K
