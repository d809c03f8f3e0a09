"""What stands in the plant room: pump, what keeps the loop safe, the store and what belongs on it. Counted by kind of loop.

Source: practice 13; what each danger asks for is on the list where its device is fitted.
"""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.design.own_store import FLOOR_MOST_C, SLAB_PIPE_M_M2, circuits_of
from rowan.core.steps.charge.result import ChargeResult
from rowan.core.steps.parts.counting import Merchant, Part, counted
from rowan.core.steps.store.heat import hottest_tap
from rowan.core.steps.store.modes import VALVES
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.units import LITRE

# a vacuum breaker stays cool on a riser, away from the hot outlet [m]; practice, system and store
BREAKER_RISER_M, BREAKER_APART_M = 0.3, 0.2
HOT_PIPE_M = 3.0  # m of the hot pipe that is lagged at least, rule of thumb
SOLAR: tuple[Merchant, str] = ("solar", "plant room")
PLUMBING: tuple[Merchant, str] = ("plumbing", "plant room")


def station_parts(design: Design, charge: ChargeResult) -> list[Part]:
    """Pump, safety and store."""
    relief = Quantity(design.charge.relief_gauge_pa.value, "pressure", 1)
    parts = [*_pump_parts(design), *_valve_parts(design)]
    if design.sealed:
        parts += _sealed_parts(design, charge, relief)
    elif design.drains:
        parts += [*_drainback_parts(design, SOLAR), *_reservoir_glycol(design, charge)]
    else:
        parts += _main_parts(design, relief)
    if design.run.field_relief.value:
        words = say("relief of the field's own, piped to a can")
        because = say("on the field's side of every shut-off")
        parts.append(counted("field_relief", 1, words, ("plumbing", "roof"), because))
    return [*parts, *_own_parts(design)] if design.own_store else [_store(design), *parts, *_store_parts(design)]


def _own_parts(design: Design) -> list[Part]:
    """What warms a slab or a bath; a pool has none."""
    duty = design.duty
    if duty.kind.value == "bath":
        area = Quantity(duty.bath_coil_m2.value, "area", 1)
        return [
            counted(
                "bath_coil", 1, say("coil for the bath, {a}", a=area), SOLAR, say("of a metal its liquid leaves alone")
            )
        ]
    if duty.kind.value != "slab":
        return []
    circuits = circuits_of(design)
    length = Quantity(duty.slab_area_m2.value * SLAB_PIPE_M_M2, "length", 0)
    most = Quantity(FLOOR_MOST_C, "temperature")
    return [
        Part(
            "slab_pipe",
            say("floor pipe with an oxygen barrier"),
            length,
            "",
            *PLUMBING,
            say("{n} circuits in the slab", n=str(circuits)),
        ),
        counted(
            "manifold",
            1,
            say("manifold with {n} circuits and flow glasses", n=str(circuits)),
            PLUMBING,
            say("equal lengths"),
        ),
        counted(
            "floor_mixer",
            1,
            say("mixing valve and high limit for the floor, {t}", t=most),
            PLUMBING,
            say("a hot field cracks screed and pipe"),
        ),
    ]


def _store(design: Design) -> Part:
    item = design.store.item.value
    because = say("{m} dry: two people and a clear way", m=Quantity(item.dry_mass_kg, "mass"))
    return counted("store", 1, say(item.name), SOLAR, because)


def _boxed(design: Design) -> bool:
    """Whether pump and fittings come as a station in one box."""
    return design.sealed and design.parts.station.value == "box"


def _pump_parts(design: Design) -> list[Part]:
    """The pump, and the panel of one that runs on it."""
    if not design.pumped:
        return []
    because = say("in the station's box" if _boxed(design) else "with a valve on each side")
    parts = [counted("pump", 1, say("pump: {name}", name=design.run.pump.value.name.lower()), SOLAR, because)]
    if design.run.pump.value.on_panel:
        words = say("photovoltaic panel {w}, 12 V", w=Quantity(design.run.panel_w.value, "electric_power"))
        parts.append(counted("panel", 1, words, ("electrical", "roof"), say("drives the pump")))
    return parts


def _valve_parts(design: Design) -> list[Part]:
    """What stands in the lines beside the pump."""
    parts = []
    if design.run.separator.value:
        parts.append(counted("separator", 1, say("air separator"), SOLAR, say("low in the hot line")))
    if design.run.non_return.value and design.pumped:
        parts.append(counted("non_return", 1, say("non-return valve"), SOLAR, say("stops the night's circulation")))
    return parts


def _sealed_parts(design: Design, charge: ChargeResult, relief: Quantity) -> list[Part]:
    """Gauge, relief and ports, vessel, and where what the relief lets out is caught."""
    boxed, size = _boxed(design), Quantity(design.charge.vessel_l.value * LITRE, "tank")
    ports = "gauge, relief {p}, two filling ports with a valve between"
    why = "six joints fewer to tighten" if boxed else "together, nothing to shut between them and the field"
    bracket = say("with bracket, hose and a valve that can be secured")
    caught = say("container of at least {v} under the relief", v=Quantity(charge.contents.total, "tank"))
    parts = [
        counted(
            "station",
            1,
            say("{case}{ports}", case="station in one box: " if boxed else "", ports=ports, p=relief),
            SOLAR,
            say(why),
        ),
        counted("vessel", design.charge.vessels.value, say("expansion vessel {v}, for glycol", v=size), SOLAR, bracket),
        counted("discharge", 1, caught, PLUMBING, say("what comes out is measured and can go back")),
    ]
    if design.charge.cooling_vessel.value:
        parts.append(
            counted("cooling_vessel", 1, say("cooling vessel"), SOLAR, say("keeps hot liquid from the membrane"))
        )
    return parts


def _main_parts(design: Design, relief: Quantity) -> list[Part]:
    """What keeps the main's pressure from a loop that it fills."""
    here: tuple[Merchant, str] = ("plumbing", "plant room")
    parts = [
        counted(
            "loop_relief", 1, say("relief {p}, piped to a drain", p=relief), here, say("nothing to shut before it")
        ),
        counted("loop_gauge", 1, say("pressure gauge"), here, say("beside the relief")),
    ]
    reduced = design.charge.reducer_gauge_pa.value
    if reduced is not None:
        set_to = Quantity(reduced, "pressure")
        words = say("reducing valve with gauge, set to {p}", p=set_to)
        parts.append(counted("reducer", 1, words, here, say("the main presses harder than the weakest part stands")))
    return parts


def _drainback_parts(design: Design, here: tuple[Merchant, str]) -> list[Part]:
    """What a loop that empties needs beside its pump; no vessel, no vent, no non-return valve."""
    parts = [
        counted("level_tube", 1, say("flow tube as level glass, two valves"), here, say("at the height of the mark")),
        counted("lid_seal", 1, say("seal for the lid"), here, say("an open tank loses its water slowly")),
    ]
    if not design.through_store:
        size = Quantity(design.charge.reservoir_l.value * LITRE, "tank")
        parts.append(
            counted(
                "reservoir",
                1,
                say("reservoir {v}, open to its own air", v=size),
                here,
                say("what drains and a tenth of air"),
            )
        )
    return parts


def _reservoir_glycol(design: Design, charge: ChargeResult) -> list[Part]:
    """Glycol for a reservoir that has some as belt and braces, in cans."""
    if not design.glycol_share:
        return []
    wanted = (charge.contents.total + design.charge.reservoir_l.value * LITRE) * design.glycol_share
    can = Quantity(design.parts.can_l.value * LITRE, "tank")
    cans = math.ceil(wanted / can.value)
    words = say("can of {c} propylene glycol, pure", c=can)
    return [
        counted(
            "concentrate",
            cans,
            words,
            ("solar", "plant room"),
            say("{s} of loop and reservoir", s=Quantity(design.glycol_share, "share")),
        )
    ]


def _store_parts(design: Design) -> list[Part]:
    """What belongs on a tank: to guard it and its taps, to stand it dry, to carry off what is too much."""
    return [*_tank_parts(design), *_tap_parts(design), *_heat_parts(design)]


def _tank_parts(design: Design) -> list[Part]:
    """Relief, drain, vacuum breaker, and what the tank stands on."""
    store, parts = design.store, []
    if not store.item.value.unpressurised:
        words = say("store relief, piped to a drain")
        parts.append(counted("store_relief", 1, words, PLUMBING, say("never to be shut off")))
    words = say("drain valve at the store's foot")
    parts.append(counted("store_drain", 1, words, PLUMBING, say("to empty it one day")))
    if store.vacuum_breaker.value:
        riser, apart = Quantity(BREAKER_RISER_M, "length"), Quantity(BREAKER_APART_M, "length")
        words = say("vacuum breaker with a riser of {r}", r=riser)
        because = say("{a} from the hot outlet, to stay cool", a=apart)
        parts.append(counted("vacuum_breaker", 1, words, PLUMBING, because))
    if store.pan.value:
        words = say("pan with a drain, and feet for the tank")
        parts.append(counted("pan", 1, words, PLUMBING, say("dry from below, a drip is seen")))
    parts += _mode_valves(design)
    if design.two_heaters:
        words = say("electric element with its own thermostat and high limit")
        because = say("heats while the boiler rests; connected by an electrician")
        parts.append(counted("summer_element", 1, words, PLUMBING, because))
        words = say("season switch with two sides, never both")
        parts.append(
            counted("season_switch", 1, words, ("electrical", "plant room"), say("boiler in winter, element in summer"))
        )
    if store.base_m2.value is not None:
        words = say("base of {a} that spreads the load", a=Quantity(store.base_m2.value, "area"))
        parts.append(counted("base", 1, words, PLUMBING, say("proved by whoever answers for the floor")))
    return parts


def _mode_valves(design: Design) -> list[Part]:
    """The valves of the mode table, each with a tag that bears its number, on the wall as in the drawing."""
    if not design.taps or design.store.item.value.unpressurised:
        return []
    valves = VALVES["two" if design.store.backup.value == "second" else "one"]
    return [
        counted(
            "mode_valves",
            len(valves),
            say("ball valve for drinking water"),
            PLUMBING,
            say("one for each number of the mode table"),
        ),
        counted(
            "valve_tags",
            len(valves),
            say("numbered tag"),
            PLUMBING,
            say("the same numbers as drawn, and the table on the wall"),
        ),
    ]


def _tap_parts(design: Design) -> list[Part]:
    """Tempering valve, the taps' coil of an open store, and lagging for the pipe that stands hot all day."""
    store, parts = design.store, []
    if store.tempering_valve.value and design.taps:
        because = say("the store may reach {t}", t=Quantity(hottest_tap(design), "temperature"))
        parts.append(counted("tempering", 1, say("tempering valve"), PLUMBING, because))
    if design.taps_coil_m2:
        area = Quantity(design.taps_coil_m2, "area", 1)
        words = say(
            "{case}, {a}, in the store", case="coil for the taps" if design.taps else "coil for the heat drawn", a=area
        )
        parts.append(counted("taps_coil", 1, words, SOLAR, say("with a way to flush it where water is hard")))
    if design.taps and store.hot_pipe_lagged.value:
        words, because = say("lagging for the hot pipe from the tank"), say("the first metres, and all that is seen")
        first = Quantity(HOT_PIPE_M, "length", 1)
        parts.append(Part("taps_lagging", words, first, "", *PLUMBING, because))
    return parts


def _heat_parts(design: Design) -> list[Part]:
    """Where heat goes that nobody wants: the field's by a dump, a fire's by one that needs no current."""
    parts = []
    if design.functions.dumps and design.pumped:
        radiator = design.functions.dump.value == "radiator"
        words = say("radiator for heat that is too much" if radiator else "exchanger to the pool")
        because = say("with a three-way valve; in a power cut it does nothing")
        parts.append(counted("heat_dump", 1, words, PLUMBING, because))
    if design.store.solid_fuel.value == "dump":
        words = say("heat dump with a valve that opens by heat alone")
        parts.append(counted("fire_dump", 1, words, PLUMBING, say("works in a power cut")))
    return parts
