"""Four facts to a whole design, by the trade's rules (docs/methods/0-proposal.md). Everything proposed is assumed."""

from __future__ import annotations

import math

from pydantic import ValidationError

from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Input, Origin
from rowan.core.design.inputs.charge import ChargeInputs
from rowan.core.design.inputs.collector import CollectorInputs
from rowan.core.design.inputs.control import ControlInputs
from rowan.core.design.inputs.duty import DutyInputs, Heater
from rowan.core.design.inputs.money import MoneyInputs
from rowan.core.design.inputs.roof import RoofInputs
from rowan.core.design.inputs.run import RunInputs
from rowan.core.design.inputs.store import StoreInputs
from rowan.core.design.inputs.survey import SurveyInputs
from rowan.core.design.refusals import refusal
from rowan.core.design.routes import STOREY_M, plain_lines, planned_length, usual_bends
from rowan.core.fluid import strength
from rowan.core.goods.catalogue import (
    COLLECTORS,
    ELEMENT_FOR_L,
    ELEMENT_W,
    LARGE_PUMP,
    STORES,
    THREE_SPEED,
    in_bronze,
)
from rowan.core.goods.items import CollectorItem, Normals, PipeItem, PumpItem, StoreItem
from rowan.core.goods.places import Place
from rowan.core.simulation.cache import Kept
from rowan.core.steps.store.water import MOST_HARDNESS_MOL_M3
from rowan.core.studies.choices import pipe_wanted, store_places
from rowan.core.studies.settling import settled
from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH
from rowan.core.weather.air import FROST_GUARDED_BELOW_C, WATER_OUTSIDE_FROM_C
from rowan.core.weather.sun import best_plane, mean_days, plane_months

NO_SNOW_FROM_C = 0.0  # °C of the coldest night, over which none is reckoned with
ROOF_EXTRA_M = 1.1  # m, eaves to the field's top, rule of thumb
STORE_L_M2 = 60.0  # L for each m² of aperture, methods 5
SHORTFALL = 0.02  # a field this much short of the rule buys no further collector
# aperture per person [m²] by horizontal irradiation up to [kWh/m²·a]
AREA_PER_PERSON = ((1100.0, 0.9), (1600.0, 0.7), (math.inf, 0.5))
HEATERS: dict[Heater, tuple[float, float, float]] = {  # fuel price a kWh, efficiency, kg CO₂ a kWh
    "oil": (0.11, 0.85, 0.27),
    "gas": (0.09, 0.90, 0.20),
    "electric": (0.28, 1.0, 0.20),
}
BOILER_W = 15000.0  # W of a boiler's coil, usual


_kept = Kept(64)


@record
class Facts:
    """What the householder can say on the telephone: place, roof, people, heater."""

    place: Place
    roof_azimuth_deg: float
    roof_tilt_deg: float
    covering: str
    persons: int
    heater: Heater
    storeys: int = 2


def orientation_loss(facts: Facts) -> float:
    """Share of the best plane's irradiation lost to bearing and pitch [-]."""
    ghi = tuple(g * KWH for g in facts.place.ghi_kwh_m2_day)
    days = mean_days(latitude=facts.place.latitude_deg, ghi=ghi)
    plane = plane_months(days=days, tilt=facts.roof_tilt_deg, azimuth=facts.roof_azimuth_deg)
    return 1 - plane.year / best_plane(latitude=facts.place.latitude_deg, ghi=ghi).year


def collectors_wanted(*, facts: Facts, item: CollectorItem) -> int:
    """Least whole number of collectors for the people, more where the roof is poor."""
    year = sum(g * n for g, n in zip(facts.place.ghi_kwh_m2_day, DAYS_IN_MONTH, strict=True))
    per_person = next(area for limit, area in AREA_PER_PERSON if year <= limit)
    wanted = facts.persons * per_person / (1 - orientation_loss(facts))
    return max(1, math.ceil(wanted * (1 - SHORTFALL) / item.aperture_m2))


def store_wanted(*, area: float, twin: bool) -> StoreItem:
    """Next size that holds 60 L for each m² aperture; the largest where none does."""
    fitting = sorted(
        (s for s in STORES.values() if s.twin_coil == twin and not s.unpressurised), key=lambda s: s.contents_l
    )
    return next((s for s in fitting if s.contents_l >= STORE_L_M2 * area - 1e-9), fitting[-1])


def backup_power(*, heater: str, contents_l: float) -> float:
    """What the backup gives [W]: a boiler's coil, or one element for each 300 L."""
    return ELEMENT_W * max(1, round(contents_l / ELEMENT_FOR_L)) if heater == "electric" else BOILER_W


def _survey(facts: Facts, height: float, width: float) -> SurveyInputs:
    place = facts.place
    origin: Origin = "data sheet"
    return SurveyInputs(
        place=Input[str](value=place.name, origin="agreed"),
        latitude_deg=Input[float](value=place.latitude_deg, origin=origin),
        longitude_deg=Input[float](value=place.longitude_deg, origin=origin),
        altitude_m=Input[float](value=place.altitude_m, origin=origin),
        normals=Input[Normals](
            value=Normals(ghi_kwh_m2_day=list(place.ghi_kwh_m2_day), air_c=list(place.air_c)), origin=origin
        ),
        design_minimum_c=Input[float](value=place.design_minimum_c, origin=origin),
        hardness_mol_m3=Input[float](value=place.hardness_mol_m3, origin=origin),
        roof_azimuth_deg=Input[float](value=facts.roof_azimuth_deg, origin="agreed"),
        roof_tilt_deg=Input[float](value=facts.roof_tilt_deg, origin="agreed"),
        covering=Input[str](value=facts.covering, origin="agreed"),
        storeys=Input[int](value=facts.storeys, origin="agreed"),
        gauge_to_top_m=Input[float](value=round(height, 2)),
        roof_width_m=Input[float](value=width),
        roof_slope_m=Input[float](value=5.6),
    )


def _roof(facts: Facts) -> RoofInputs:
    """A roof as it usually is; no snow where it never freezes."""
    if facts.place.design_minimum_c > NO_SNOW_FROM_C:
        return RoofInputs(snow_pa=Input[float](value=0.0))
    return RoofInputs()


def propose(facts: Facts, *, title: str = "") -> Design:
    """A whole, buildable first design. Raises a RowanError for facts no rule covers or no input takes.

    Kept by its facts: a list of jobs proposes the same house at each look.
    """
    found: Design | None = _kept.get(facts)
    try:
        if found is None:
            found = _kept.keep(facts, settled(_first_design(facts)))
        return Design.model_validate({**dict(found), "title": title})
    except ValidationError as error:
        raise refusal(error, Design) from error


def _store(facts: Facts, store: StoreItem) -> StoreInputs:
    """The store with ports and sensors where its kind has them, and the heater in it."""
    return StoreInputs(
        item=Input[StoreItem](value=store),
        **{name: Input[float](value=height) for name, height in store_places(store).items()},
        maximum_c=Input[float](value=80.0),
        backup=Input[str](value="element" if facts.heater == "electric" else "coil"),
        backup_w=Input[float](value=backup_power(heater=facts.heater, contents_l=store.contents_l)),
    )


SMALL_PUMP_L_H = 600.0  # L/h that the small pump still moves


def _pump(flow_l_h: float, sealed: bool) -> PumpItem:
    """A circulator by the flow wanted; one for drinking water where that is in the loop."""
    pump = THREE_SPEED if flow_l_h <= SMALL_PUMP_L_H else LARGE_PUMP
    return pump if sealed else in_bronze(pump)


def _first_design(facts: Facts) -> Design:
    """Everything that follows from the facts alone."""
    if facts.persons < 1:
        raise OutOfRangeError("people", facts.persons, 1, 200)
    item = COLLECTORS["Plate 2.3 selective"]
    count = collectors_wanted(facts=facts, item=item)
    area = count * item.aperture_m2
    store = store_wanted(area=area, twin=facts.heater != "electric")
    flow = count * item.flow_l_h
    height = STOREY_M * facts.storeys + ROOF_EXTRA_M
    cold, hot = plain_lines(height=height)
    hard = facts.place.hardness_mol_m3 > MOST_HARDNESS_MOL_M3
    sealed = facts.place.design_minimum_c < WATER_OUTSIDE_FROM_C or hard
    share = strength(design_minimum=facts.place.design_minimum_c) if sealed else 0.0
    price, efficiency, carbon = HEATERS[facts.heater]
    length = planned_length(height=height)
    design = Design(
        survey=_survey(facts, height, max(8.4, math.ceil(count * (item.width_m + 0.05) + 2))),
        duty=DutyInputs(
            persons=Input[int](value=facts.persons, origin="agreed"),
            heater=Input[str](value=facts.heater, origin="agreed"),
        ),
        collector=CollectorInputs(item=Input[CollectorItem](value=item), count=Input[int](value=count)),
        store=_store(facts, store),
        roof=_roof(facts),
        run=RunInputs(
            pipe=Input[PipeItem](value=pipe_wanted(flow_l_h=flow)),
            cold=cold,
            hot=hot,
            bends=Input[int](value=usual_bends(length=length)),
            flow_l_h=Input[float](value=flow),
            pump=Input(value=_pump(flow, sealed)),
            speed=Input[int](value=1),
        ),
        charge=ChargeInputs(
            kind=Input[str](value="sealed" if sealed else "direct"),
            share=Input[float](value=share),
            vessel_l=Input[float](value=18.0),
        ),
        control=ControlInputs(
            start_k=Input[float](value=8.0),
            stop_k=Input[float](value=3.0),
            frost=Input[bool](value=not sealed and facts.place.design_minimum_c < FROST_GUARDED_BELOW_C),
        ),
        money=MoneyInputs(
            fuel_price=Input[float](value=price),
            heater_efficiency=Input[float](value=efficiency),
            fuel_kg_co2_kwh=Input[float](value=carbon),
        ),
    )
    return design
