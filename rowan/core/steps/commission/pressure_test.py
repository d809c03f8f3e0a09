"""Pressure test with air or water: how high, what to expect, what a difference means. Source: methods 13."""

from __future__ import annotations

from typing import Literal

from rowan.core.steps.charge.vessel import WATER_K_PA, pipe_bulk_modulus
from rowan.core.terms.constants import KELVIN
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.limits import CELSIUS, FINITE, NOT_NEGATIVE, POSITIVE, Span, takes
from rowan.core.terms.record import record

Verdict = Literal["pass", "leak", "repeat"]
SOAP_AIR_PA = 3e4  # Pa, enough for soap to show a leak
LEAST_ALLOWANCE_PA = 5e3  # Pa, what a gauge cannot tell
MOST_CHANGE_AIR_K, MOST_CHANGE_WATER_K = 5.0, 0.5  # K of the test's temperature, beyond which it says nothing
SURE_OF_TEMPERATURE_K = 0.1  # K, how well it is read
WATER_EXPANSION, COPPER_EXPANSION = 1.8e-4, 16.5e-6  # at 16 °C, by volume and by length [1/K]


def _checked(pressure: float) -> float:
    if pressure < 0:
        raise OutOfRangeError("test pressure", pressure, 0, None, "Pa", dimension="pressure")
    return pressure


@takes(p1=FINITE, t1=CELSIUS, t2=CELSIUS, atmosphere_pa=POSITIVE)
def air_expected(*, p1: float, t1: float, t2: float, atmosphere_pa: float) -> float:
    """Gauge pressure [Pa] of air shut in at p1 [Pa gauge] and t1 [°C] once it is at t2 [°C]."""
    return (_checked(p1) + atmosphere_pa) * (t2 + KELVIN) / (t1 + KELVIN) - atmosphere_pa


@takes(p1=FINITE, t1=CELSIUS, atmosphere_pa=POSITIVE)
def air_per_kelvin(*, p1: float, t1: float, atmosphere_pa: float) -> float:
    """How much the gauge moves for each kelvin [Pa/K]."""
    return (_checked(p1) + atmosphere_pa) / (t1 + KELVIN)


@takes(pressure_abs=POSITIVE, volume=NOT_NEGATIVE, atmosphere_pa=POSITIVE, gamma=Span(1.0, above=True))
def air_energy(*, pressure_abs: float, volume: float, atmosphere_pa: float, gamma: float = 1.4) -> float:
    """Energy that compressed air sets free when something bursts [J]; pressure_abs [Pa], volume [m³]."""
    return pressure_abs * volume / (gamma - 1) * (1 - (atmosphere_pa / pressure_abs) ** ((gamma - 1) / gamma))


@takes(bore=POSITIVE, wall=POSITIVE)
def water_stiffness(*, bore: float, wall: float) -> float:
    """1/K_water + 1/K_pipe [1/Pa]; bore and wall of a copper pipe [m]."""
    return 1 / WATER_K_PA + 1 / pipe_bulk_modulus(bore=bore, wall=wall)


@takes(stiffness=POSITIVE, expansion=FINITE, pipe=FINITE)
def water_per_kelvin(*, stiffness: float, expansion: float = WATER_EXPANSION, pipe: float = COPPER_EXPANSION) -> float:
    """How much shut-in water moves the gauge for each kelvin [Pa/K]; stiffness [1/Pa], expansions [1/K]."""
    return (expansion - 3 * pipe) / stiffness


@takes(p1=FINITE, p2=FINITE, loop_volume=POSITIVE, stiffness=POSITIVE, air_pocket=NOT_NEGATIVE, atmosphere_pa=POSITIVE)
def water_lost(
    *, p1: float, p2: float, loop_volume: float, stiffness: float, air_pocket: float, atmosphere_pa: float
) -> float:
    """Water that has left the loop [m³] when the gauge fell from p1 to p2 [Pa]; an air pocket [m³ at p1] hides a leak."""
    out = loop_volume * stiffness * (_checked(p1) - _checked(p2))
    return out + air_pocket * ((p1 + atmosphere_pa) / (p2 + atmosphere_pa) - 1)


@record
class Outcome:
    """What the gauge should have shown [Pa gauge], how far below is still right [Pa], and the verdict."""

    expected: float
    allowance: float
    verdict: Verdict


def _outcome(expected: float, read: float, allowance: float, changed_k: float, most_k: float) -> Outcome:
    if abs(changed_k) > most_k:
        return Outcome(expected, allowance, "repeat")
    return Outcome(expected, allowance, "leak" if read < expected - allowance else "pass")


@takes(p1=FINITE, p2=FINITE, t1=CELSIUS, t2=CELSIUS, atmosphere_pa=POSITIVE, gauge_division=NOT_NEGATIVE)
def air_verdict(
    *, p1: float, p2: float, t1: float, t2: float, atmosphere_pa: float, gauge_division: float = 0.0
) -> Outcome:
    """Verdict of an air test read p1 at t1 and p2 at t2 [Pa gauge, °C]; a gauge's division [Pa] widens what is allowed."""
    expected = air_expected(p1=p1, t1=t1, t2=t2, atmosphere_pa=atmosphere_pa)
    allowance = max(LEAST_ALLOWANCE_PA, gauge_division / 2)
    return _outcome(expected, _checked(p2), allowance, t2 - t1, MOST_CHANGE_AIR_K)


@takes(p1=FINITE, p2=FINITE, t1=CELSIUS, t2=CELSIUS, per_kelvin=FINITE, gauge_division=NOT_NEGATIVE)
def water_verdict(
    *, p1: float, p2: float, t1: float, t2: float, per_kelvin: float, gauge_division: float = 0.0
) -> Outcome:
    """Verdict of a water test; per_kelvin [Pa/K] from `water_per_kelvin`."""
    expected = _checked(p1) + per_kelvin * (t2 - t1)
    allowance = max(LEAST_ALLOWANCE_PA, gauge_division / 2, SURE_OF_TEMPERATURE_K * abs(per_kelvin))
    return _outcome(expected, _checked(p2), allowance, t2 - t1, MOST_CHANGE_WATER_K)
