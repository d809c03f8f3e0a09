"""A plan through a year: design and reckoning to a system in its weather. It comes after `reckon`, which it reads."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Sequence
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.media import properties
from rowan.core.reckon import Reckoning
from rowan.core.run.route import ProfileLeg
from rowan.core.site.cold_main import cold_main
from rowan.core.units import LITRE
from rowan.core.year.made import Climate, made_year
from rowan.core.year.run import DAYS, Year, run_year
from rowan.core.year.system import MINUTES_A_DAY, Absorber, Backup, Draws, Line, Settings, System, Tank
from rowan.core.year.weather import Place, SunYear, plane_year, sun_year

Array = NDArray[np.float64]
LINE_NODES = 5
COPPER_DENSITY, COPPER_HEAT_J_KGK = 8900.0, 385.0
OUTSIDE = ("roof", "outside")
TAP_M3_S = 0.1e-3  # 6 L/min: how fast a draw runs
# when the household draws: minute of the day and share
PATTERN = ((7 * 60, 0.36), (12 * 60 + 30, 0.15), (18 * 60, 0.24), (20 * 60 + 30, 0.25))
BACKUP_SET_C, BOILER_W = 60.0, 15_000.0
ELEMENT_W, ELEMENT_FOR_L = 3_000.0, 300.0  # one element for each so many litres
KEPT = 48


def climate_of(design: Design) -> Climate:
    """The climate of a plan's place; its clock is the whole hour nearest to its longitude."""
    survey = design.survey
    longitude = survey.longitude_deg.value
    place = Place(survey.latitude_deg.value, longitude, survey.altitude_m.value, float(round(longitude / 15)))
    normals = survey.normals.value
    return Climate(place, tuple(normals.ghi_kwh_m2_day), tuple(normals.air_c))


def line_of(legs: Sequence[ProfileLeg], design: Design, reckoning: Reckoning) -> Line:
    """A line in five equal lengths, each with what it holds and loses; a length is outdoors if most of it is."""
    pipe, total = design.run.pipe.value, sum(leg.length for leg in legs)
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)
    metal = np.pi / 4 * (pipe.outer_diameter_m**2 - pipe.bore_m**2) * COPPER_DENSITY * COPPER_HEAT_J_KGK
    per_metre = pipe.bore_area_m2 * fluid.density * fluid.heat_capacity + metal
    edges = np.linspace(0, total, LINE_NODES + 1)
    outdoors = np.zeros(LINE_NODES)
    for i in range(LINE_NODES):
        for leg in legs:
            if leg.place in OUTSIDE:
                outdoors[i] += max(0.0, min(leg.end, edges[i + 1]) - max(leg.start, edges[i]))
    length = total / LINE_NODES
    outdoors = (outdoors > length / 2).astype(float)
    loss = np.where(outdoors > 0, reckoning.run.loss.outdoors, reckoning.run.loss.indoors) * length
    return Line(np.full(LINE_NODES, max(length * per_metre, 1.0)), loss, outdoors)


def tank_of(design: Design, reckoning: Reckoning) -> Tank:
    """The store as planned."""
    store, item = design.store, design.store.item.value
    return Tank(
        volume=item.contents_l * LITRE,
        diameter=item.diameter_m,
        loss=item.loss_w_m2k,
        room=design.survey.room_c.value,
        coil_ua=reckoning.store.coil_conductance,
        coil_top=store.coil_top_m.value,
        coil_bottom=store.coil_bottom_m.value,
    )


def backup_of(design: Design, tank: Tank) -> Backup | None:
    """An element or the boiler's coil in the upper part of the store; None where the heater comes after the store."""
    item = design.store.item.value
    if design.duty.heater.value == "electric":
        power = ELEMENT_W * max(1, round(item.contents_l / ELEMENT_FOR_L))
    elif item.twin_coil:
        power = BOILER_W
    else:
        return None
    above = (design.store.coil_top_m.value + design.store.upper_sensor_m.value) / 2
    return Backup(power, BACKUP_SET_C, tank.node_at(above), np.ones(MINUTES_A_DAY))


def draws_of(design: Design) -> Draws:
    """The household's day, each draw at six litres a minute spread over whole minutes, the same every day."""
    volume = design.duty.persons.value * design.duty.litres_per_person_l.value * LITRE
    minute = np.zeros(MINUTES_A_DAY)
    for start, share in PATTERN:
        minutes = max(1, int(np.ceil(volume * share / (TAP_M3_S * 60) - 1e-9)))
        for k in range(minutes):
            minute[(start + k) % MINUTES_A_DAY] += volume * share / minutes
    air, latitude = design.survey.normals.value.air_c, design.survey.latitude_deg.value
    cold = [cold_main(monthly_air=air, day=day, latitude=latitude) for day in range(1, DAYS + 1)]
    return Draws(minute, np.ones(DAYS), np.array(cold), design.duty.tap_c.value)


def system_of(design: Design, reckoning: Reckoning) -> System:
    """A plan as the year takes it. Raises ImpossibleInputError for one without flow or with its differences crossed."""
    item, control, run = design.collector.item.value, design.control, reckoning.run
    tank = tank_of(design, reckoning)
    return System(
        field=Absorber(
            area=design.area_m2,
            eta0=item.eta0,
            a1=item.a1_w_m2k,
            a2=item.a2_w_m2k2,
            capacity=item.c_eff_j_m2k,
            b0=item.b0,
            k_d=item.k_d,
        ),
        cold=line_of(run.route.cold, design, reckoning),
        hot=line_of(run.route.hot, design, reckoning),
        tank=tank,
        settings=Settings(
            start=control.start_k.value,
            stop=control.stop_k.value,
            least_collector=control.least_collector_c.value,
            store_maximum=design.store.maximum_c.value,
            cut_out=control.cut_out_c.value,
            store_node=tank.node_at(design.store.lower_sensor_m.value),
            limit_node=tank.node_at(design.store.upper_sensor_m.value),
        ),
        flow=run.mass_flow,
        heat_capacity=run.heat_capacity,
        pump_power=run.pump_power,
        backup=backup_of(design, tank),
        store_start=design.survey.room_c.value,
        loop_start=design.survey.room_c.value,
    )


_suns: OrderedDict[Place, SunYear] = OrderedDict()
_years: OrderedDict[str, Year] = OrderedDict()
_lock = Lock()


def sun_of(place: Place) -> SunYear:
    """The sun of a place, reckoned once."""
    with _lock:
        if place in _suns:
            _suns.move_to_end(place)
            return _suns[place]
    made = sun_year(place)
    with _lock:
        _suns[place] = made
        while len(_suns) > KEPT:
            _suns.popitem(last=False)
    return made


def _key(system: System, climate: Climate, plane: tuple[float, float], draws: Draws, seed: int) -> str:
    """The content of everything that the year depends on."""
    with np.printoptions(threshold=10**7, precision=17):
        words = repr((system, climate, plane, draws, seed))
    return hashlib.sha256(words.encode()).hexdigest()


def simulate(design: Design, reckoning: Reckoning, *, seed: int = 0) -> Year:
    """The year of a plan in its made weather; seed 0 is the mean year. Kept by content: only what is relevant runs it again.

    Raises ImpossibleInputError for a plan without flow or with its differences crossed.
    """
    system, climate, draws = system_of(design, reckoning), climate_of(design), draws_of(design)
    tilt, azimuth = design.survey.roof_tilt_deg.value, design.survey.roof_azimuth_deg.value
    key = _key(system, climate, (tilt, azimuth), draws, seed)
    with _lock:
        if key in _years:
            _years.move_to_end(key)
            return _years[key]
    sun = sun_of(climate.place)
    weather = made_year(climate, seed, sun)
    plane = plane_year(weather=weather, sun=sun, tilt=tilt, azimuth=azimuth)
    year = run_year(system=system, weather=weather, plane=plane, draws=draws)
    with _lock:
        _years[key] = year
        while len(_years) > KEPT:
            _years.popitem(last=False)
    return year
