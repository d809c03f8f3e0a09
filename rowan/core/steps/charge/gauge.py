"""What the gauge says: litres by tenths of a bar, what a lost cupful does, and what was found on a service call. Source: methods 10."""

from __future__ import annotations

from scipy.optimize import brentq

from rowan.core.fluid import FILL_C
from rowan.core.goods.items import PipeItem
from rowan.core.steps.charge.pressures import Setting, static_pressure
from rowan.core.steps.charge.vessel import (
    WATER_K_PA,
    Loop,
    VesselState,
    liquid_when_filled,
    litres_between,
    pipe_bulk_modulus,
    thermal_expansion,
    vessel_state,
)
from rowan.core.steps.run.route import Profile
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record

TENTH_PA = 10e3  # Pa, what a gauge is read to
CUPFUL = 0.2e-3  # m³, what a drip leaves unseen
# Pa, Young's modulus; handbooks of materials
ELASTIC_PA = {"copper": 117e9, "steel": 210e9, "galvanised": 210e9, "corrugated": 117e9, "plastic": 0.8e9}
CHARGE_CLOSE_PA = 20e3  # how well a charge is known from two gauge readings
LITRES_CLOSE = 0.3e-3  # m³ two readings may differ by
LEAST_PAIR_K = 20.0  # K between two readings, or they tell nothing of the contents
DEEPEST_VACUUM = 0.9  # of the air's pressure: no loop is emptier


def stiffness_of(route: Profile) -> float:
    """1/K_water + 1/K_pipe [1/Pa] of a route's pipes, by what each holds."""
    held = route.contents
    if held <= 0:
        return 1 / WATER_K_PA
    pipes = sum(leg.contents / _pipe_k(leg.pipe) for leg in route.legs()) / held
    return 1 / WATER_K_PA + pipes


def _pipe_k(pipe: PipeItem) -> float:
    return pipe_bulk_modulus(bore=pipe.bore_m, wall=pipe.wall_m, elastic_modulus=ELASTIC_PA[pipe.material])


@record
class Vessel:
    """A vessel as it stands on its loop: nominal volume [m³], charge [Pa gauge], loop, and 1/K_water + 1/K_pipe [1/Pa]."""

    nominal: float
    precharge: float
    loop: Loop
    stiffness: float

    def litres(self, p1: float, p2: float) -> float:
        """Volume that moves the gauge from p1 to p2 [m³]; pressures [Pa gauge]."""
        return litres_between(
            p1=p1,
            p2=p2,
            vessel=self.nominal,
            precharge=self.precharge,
            loop_volume=self.loop.volume,
            atmosphere_pa=self.loop.atmosphere_pa,
            stiffness=self.stiffness,
        )

    def gauge_after(self, pressure: float, lost: float) -> float | None:
        """Gauge [Pa] once a volume [m³] is lost from a pressure; None where the loop would be under vacuum."""
        lowest = -DEEPEST_VACUUM * self.loop.atmosphere_pa
        if self.litres(lowest, pressure) < lost:
            return None
        return float(brentq(lambda p: self.litres(p, pressure) - lost, lowest, pressure, xtol=1e-4))

    def held_at(self, pressure: float) -> float:
        """Liquid in the vessel at a gauge pressure [m³], 0 below its charge."""
        return liquid_when_filled(
            vessel=self.nominal, precharge=self.precharge, fill=pressure, atmosphere_pa=self.loop.atmosphere_pa
        )


@record
class FoundPair:
    """Charge [Pa gauge] and cold liquid [m³] that two gauge readings, cold and hot, tell."""

    precharge: float
    liquid: float


def charge_from_pair(*, nominal: float, loop: Loop, cold: float, cold_c: float, hot: float, hot_c: float) -> FoundPair:
    """What a cold and a hot reading of one gauge say of the vessel; pressures [Pa gauge], temperatures of the loop [°C].

    The liquid that warming pushed in and the rise it made leave one charge. Raises ImpossibleInputError where the
    readings contradict each other.
    """
    if hot_c - cold_c < LEAST_PAIR_K:
        raise ImpossibleInputError(
            "the two readings are {k} apart: at least {least} are needed to tell the charge",
            k=(hot_c - cold_c, "difference"),
            least=(LEAST_PAIR_K, "difference"),
        )
    grown = thermal_expansion(loop_volume=loop.volume, volume_share=loop.share, hot=hot_c) - thermal_expansion(
        loop_volume=loop.volume, volume_share=loop.share, hot=cold_c
    )
    low, high = cold + loop.atmosphere_pa, hot + loop.atmosphere_pa
    if high <= low:
        raise ImpossibleInputError("the gauge must stand higher on the hot loop than on the cold one")
    gas_cold = grown * high / (high - low)
    if gas_cold > nominal:
        raise ImpossibleInputError(
            "so small a rise needs {gas} of gas, more than the vessel's {nominal}: there is air in the loop, or the gauge sticks",
            gas=(gas_cold, "volume"),
            nominal=(nominal, "tank"),
        )
    return FoundPair(low * gas_cold / nominal - loop.atmosphere_pa, nominal - gas_cold)


@record
class AsFound:
    """A loop as found: its vessel, the gauge now and the liquid in the vessel, what the plan would show at this temperature,
    what is missing [m³, negative: too much], and the states that follow if nothing is done."""

    vessel: Vessel
    gauge: float
    temperature: float
    liquid: float
    planned_gauge: float | None
    planned_liquid: float
    missing: float
    cold: VesselState
    stagnation: VesselState
    charge_off: float
    top_now: float


def as_found(
    *,
    vessel: Vessel,
    planned: Setting,
    gauge: float,
    temperature: float,
    coldest: float,
    hottest: float,
    steam: float,
) -> AsFound:
    """What a gauge reading [Pa] on a loop at a temperature [°C] means for a vessel whose charge was found or is trusted.

    The states are those of the liquid found, on the coldest night [°C] and standing hot [°C, steam m³].
    """
    nominal, loop = vessel.nominal, vessel.loop
    wanted = vessel_state(
        vessel=nominal, precharge=planned.precharge, fill=planned.fill, loop=loop, temperature=temperature
    )
    liquid = vessel.held_at(gauge)
    warm = thermal_expansion(loop_volume=loop.volume, volume_share=loop.share, hot=temperature)
    missing_below = vessel.litres(gauge, vessel.precharge) if gauge < vessel.precharge else 0.0
    missing = wanted.liquid - liquid + missing_below
    air = loop.atmosphere_pa
    left = liquid - warm - missing_below  # what the vessel would hold at the filling temperature
    # a vessel that would be empty or flooded then has no fill of its own: it stands at its charge, short or over by what is left
    wet = 0 <= left < nominal
    fill = (vessel.precharge + air) * nominal / (nominal - left) - air if wet else vessel.precharge

    def state(at: float, pushed: float = 0.0) -> VesselState:
        """The vessel at a temperature [°C], with a volume pushed into it by steam [m³]."""
        return vessel_state(
            vessel=nominal,
            precharge=vessel.precharge,
            fill=fill,
            loop=loop,
            temperature=at,
            steam=pushed if wet else left + pushed,
        )

    return AsFound(
        vessel=vessel,
        gauge=gauge,
        temperature=temperature,
        liquid=liquid,
        planned_gauge=wanted.station,
        planned_liquid=wanted.liquid,
        missing=missing,
        cold=state(min(coldest, FILL_C)),
        stagnation=state(hottest, steam),
        charge_off=vessel.precharge - planned.precharge,
        top_now=gauge - static_pressure(volume_share=loop.share, height=loop.height, temperature=temperature),
    )
