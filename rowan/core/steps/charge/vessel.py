"""Expansion, steam, reserve, vessel size and the vessel in each state."""

from __future__ import annotations

from collections.abc import Sequence

from rowan.core.fluid import FILL_C, boiling_point, properties
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError, RowanError
from rowan.core.terms.limits import FINITE, GLYCOL, NOT_NEGATIVE, POSITIVE, SHARE, takes
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

STEAM_OVER_SURROUNDINGS_K = 110.0  # K, steam in a line over what is round it, methods 10
STANDARD_L = (8, 12, 18, 25, 35, 50, 80, 105, 150, 200)  # L, as vessels are sold
LARGEST_L = 400  # L; beyond it two vessels
TRAVEL_LEFT = 0.25  # share of the vessel that must stay gas where no maker says: membrane travel
RESERVE_SHARE, LEAST_RESERVE_L = 0.005, 1.0  # of the contents, and L at least, methods 10
LARGE_LOOP_L, LARGE_RESERVE_L = 100.0, 3.0  # L, methods 10
COPPER_E_PA = 117e9  # Pa, Young's modulus of copper
WATER_K_PA = 2.18e9  # Pa, bulk modulus of water at 20 °C


class VesselTooSmallError(ImpossibleInputError):
    """No vessel can take what is asked: a `stop` with its reason."""


@takes(loop_volume=NOT_NEGATIVE, volume_share=GLYCOL)
def thermal_expansion(*, loop_volume: float, volume_share: float, cold: float = FILL_C, hot: float) -> float:
    """Growth of the loop's liquid [m³]; loop_volume [m³], temperatures [°C]. Source: methods 10."""
    cold_density = properties(volume_share=volume_share, temperature=cold).density
    return loop_volume * (cold_density / properties(volume_share=volume_share, temperature=hot).density - 1)


@record
class Steam:
    """How far steam reaches into the lines [m], and the volume it takes [m³]."""

    reach: float
    volume: float


@takes(
    collector_contents=NOT_NEGATIVE,
    area=NOT_NEGATIVE,
    steaming_power=NOT_NEGATIVE,
    pipe_loss=POSITIVE,
    pipe_contents=NOT_NEGATIVE,
)
def steam_volume(
    *,
    collector_contents: float,
    area: float,
    steaming_power: float,
    pipe_loss: float,
    pipe_contents: float,
    steam_lines: Sequence[float],
) -> Steam:
    """Steam in stagnation: contents [m³], area [m²], steaming_power [W/m²], pipe_loss [W/m·K], pipe_contents [m³/m].

    steam_lines: lengths through which it can leave [m]. Source: methods 10, Hausner and Fink 2003.
    """
    reach = min(steaming_power * area / (pipe_loss * STEAM_OVER_SURROUNDINGS_K), sum(steam_lines))
    return Steam(reach, collector_contents + pipe_contents * reach)


@takes(reach=NOT_NEGATIVE, cold=NOT_NEGATIVE, hot=NOT_NEGATIVE)
def steam_ends(*, reach: float, cold: float, hot: float) -> tuple[float, float]:
    """How far steam of a reach [m] gets into a cold and a hot line of these lengths [m]: half each, the rest by the longer."""
    half = reach / 2
    into_cold = min(half, cold)
    into_hot = min(reach - into_cold, hot)
    return min(reach - into_hot, cold), into_hot


@takes(loop_volume=NOT_NEGATIVE)
def reserve(*, loop_volume: float) -> float:
    """Liquid the vessel should keep [m³] for a loop [m³]. Source: methods 10."""
    least = LARGE_RESERVE_L if loop_volume > LARGE_LOOP_L * LITRE else LEAST_RESERVE_L
    return max(RESERVE_SHARE * loop_volume, least * LITRE)


@record
class VesselNeed:
    """Least volume [m³] by each condition, and the standard size [L] and number that fits."""

    pressure: float
    reserve: float
    travel: float
    standard_l: int
    vessels: int

    @property
    def needed(self) -> float:
        """The largest of the conditions [m³]."""
        return max(self.pressure, self.reserve, self.travel)


@takes(
    expansion=FINITE,
    steam=NOT_NEGATIVE,
    reserve_volume=NOT_NEGATIVE,
    precharge=FINITE,
    fill=FINITE,
    end=FINITE,
    atmosphere_pa=POSITIVE,
    keeps_gas=SHARE,
)
def vessel_size(
    *,
    expansion: float,
    steam: float,
    reserve_volume: float,
    precharge: float,
    fill: float,
    end: float,
    atmosphere_pa: float,
    keeps_gas: float = TRAVEL_LEFT,
) -> VesselNeed:
    """Nominal vessel volume: volumes [m³], pressures [Pa gauge]; `keeps_gas` is the share that must stay gas [-].

    Raises VesselTooSmallError where no vessel does it. Source: methods 10.
    """
    pre_abs, end_abs = precharge + atmosphere_pa, end + atmosphere_pa
    fill_abs = max(precharge, fill) + atmosphere_pa
    if fill_abs >= end_abs:
        raise VesselTooSmallError(
            "the vessel is filled to {fill} already, at or above the highest planned {end}: "
            "nothing is left for warm liquid",
            fill=(fill_abs - atmosphere_pa, "pressure"),
            end=(end, "pressure"),
        )
    taken_up = expansion + steam
    by_pressure = taken_up / (pre_abs * (1 / fill_abs - 1 / end_abs))
    by_reserve = reserve_volume * fill_abs / (fill_abs - pre_abs) if fill > precharge else 0.0
    bracket = pre_abs / fill_abs - keeps_gas
    if bracket <= 0:
        raise VesselTooSmallError("the membrane is at its end of travel when filled: charge and fill are too far apart")
    by_travel = taken_up / bracket
    size, count = _standard(max(by_pressure, by_reserve, by_travel) / LITRE)
    return VesselNeed(by_pressure, by_reserve, by_travel, size, count)


def _standard(needed_l: float) -> tuple[int, int]:
    for size in STANDARD_L:
        if size >= needed_l:
            return size, 1
    if needed_l > LARGEST_L:
        raise VesselTooSmallError(
            "{needed} is more than two vessels of {largest} hold",
            needed=(needed_l * LITRE, "tank"),
            largest=(STANDARD_L[-1] * LITRE, "tank"),
        )
    return next(size for size in STANDARD_L if 2 * size >= needed_l), 2


@record
class Loop:
    """What the states need of the loop: volume [m³], share [-], height gauge to top [m], relief [Pa gauge], air [Pa].

    `keeps_gas` is the share of its vessel that must stay gas [-].
    """

    volume: float
    share: float
    height: float
    relief: float
    atmosphere_pa: float
    keeps_gas: float = TRAVEL_LEFT


@record
class VesselState:
    """The vessel in one state. Without a figure (`empty` or `full`) the pressures are None."""

    temperature: float
    liquid: float
    empty: bool = False
    full: bool = False
    shortage: float = 0.0
    station: float | None = None
    top: float | None = None
    boiling_on_top: float | None = None
    margin_to_relief: float | None = None
    over_travel: bool = False


@takes(vessel=POSITIVE, precharge=FINITE, fill=FINITE, atmosphere_pa=POSITIVE)
def liquid_when_filled(*, vessel: float, precharge: float, fill: float, atmosphere_pa: float) -> float:
    """Liquid in the vessel at cold fill [m³], not below 0. Source: methods 10."""
    if fill + atmosphere_pa <= 0:
        raise OutOfRangeError("fill", fill, -atmosphere_pa, None, dimension="pressure", above=True)
    return max(0.0, vessel * (1 - (precharge + atmosphere_pa) / (fill + atmosphere_pa)))


def vessel_state(
    *,
    vessel: float,
    precharge: float,
    fill: float,
    loop: Loop,
    temperature: float,
    steam: float = 0.0,
    at_fill: bool = False,
) -> VesselState:
    """Pressure and liquid with the whole loop at temperature [°C] and steam [m³] pushed out.

    vessel [m³], precharge and fill [Pa gauge]. `at_fill` is the cold fill itself. Source: methods 10.
    """
    air = loop.atmosphere_pa
    held = liquid_when_filled(vessel=vessel, precharge=precharge, fill=fill, atmosphere_pa=air)
    density = properties(volume_share=loop.share, temperature=temperature).density
    if at_fill:
        return _state(vessel, held, fill, loop, temperature, density)
    grown = thermal_expansion(loop_volume=loop.volume, volume_share=loop.share, hot=temperature)
    liquid = held + grown + steam
    if liquid < 0:
        return VesselState(temperature, liquid, empty=True, shortage=-liquid)
    if liquid >= vessel:
        return VesselState(temperature, liquid, full=True, over_travel=True)
    station = (precharge + air) * vessel / (vessel - liquid) - air
    return _state(vessel, liquid, station, loop, temperature, density)


def _state(vessel: float, liquid: float, station: float, loop: Loop, temperature: float, density: float) -> VesselState:
    top = station - density * GRAVITY * loop.height
    try:
        boils: float | None = boiling_point(volume_share=loop.share, pressure_abs=top + loop.atmosphere_pa)
    except RowanError:
        boils = None
    return VesselState(
        temperature=temperature,
        liquid=liquid,
        station=station,
        top=top,
        boiling_on_top=boils,
        margin_to_relief=loop.relief - station,
        over_travel=liquid > (1 - loop.keeps_gas) * vessel,
    )


@takes(line_contents=NOT_NEGATIVE, taken_up=FINITE)
def membrane_too_hot(*, line_contents: float, taken_up: float) -> bool:
    """Whether hot liquid reaches the membrane: less pipe between field and vessel than half of what is taken up."""
    return line_contents < taken_up / 2


@takes(bore=POSITIVE, wall=POSITIVE, elastic_modulus=POSITIVE)
def pipe_bulk_modulus(*, bore: float, wall: float, elastic_modulus: float = COPPER_E_PA) -> float:
    """Stiffness of a pipe against pressure [Pa]; bore, wall [m]. Source: methods 13."""
    return elastic_modulus * wall / bore


@takes(p1=FINITE, p2=FINITE, vessel=POSITIVE, loop_volume=NOT_NEGATIVE, atmosphere_pa=POSITIVE, stiffness=POSITIVE)
def litres_between(
    *, p1: float, p2: float, vessel: float, precharge: float, loop_volume: float, atmosphere_pa: float, stiffness: float
) -> float:
    """Volume that moves the gauge from p1 to p2 [m³], negative when it falls; pressures [Pa gauge].

    stiffness = 1/K_water + 1/K_pipe [1/Pa]. Source: methods 10.
    """
    above = (
        vessel
        * (precharge + atmosphere_pa)
        * (1 / (max(p1, precharge) + atmosphere_pa) - 1 / (max(p2, precharge) + atmosphere_pa))
    )
    return above + loop_volume * stiffness * (min(p2, precharge) - min(p1, precharge))
