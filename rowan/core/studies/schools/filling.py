"""Schools of testing, filling, purging and mixing."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, first_mix, frost_point
from rowan.core.reckon import Reckoning
from rowan.core.steps.charge.gauge import CUPFUL, Vessel, stiffness_of
from rowan.core.steps.charge.loop import loop_of
from rowan.core.steps.charge.ratings import MOST_AIR_PA, test_pressure
from rowan.core.steps.commission.figures import PURGE_M_S, station_flow
from rowan.core.steps.commission.pressure_test import air_energy, air_per_kelvin
from rowan.core.studies.schools.matter import Matter, Way
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.units import LITRE

PURGES_MIN = (5.0, 12.0, 20.0)  # minutes that the schools pump: practice 18
BURPED_MIN = 20.0  # of them the one that lets the pressure rise and go every five
TURNS = 8.0  # of the loop, from which the air is out: practice 14
FREEZES_C = 0.0  # coldest night at which water in the test may still stand over night
NO_FIELD_VENT_ROWS = 1  # rows that a high-pressure pump purges without a vent on top


def filling_matters(design: Design, result: Reckoning) -> Iterator[Matter]:
    """The matters of the day on which the loop is tested and filled."""
    yield _medium(design, result)
    if not design.sealed:
        return
    yield _vessel_in_test(design, result)
    yield _purge(design, result)
    yield _port(design)
    yield _mix(design, result)
    yield _air(design, result)


def _medium(design: Design, result: Reckoning) -> Matter:
    """Water or air, at the pressure of this loop."""
    air, volume = result.charge.atmosphere, result.charge.contents.total
    pressure = min(test_pressure(design), MOST_AIR_PA)
    energy = air_energy(pressure_abs=pressure + air, volume=volume, atmosphere_pa=air)
    drift = air_per_kelvin(p1=pressure, t1=FILL_C, atmosphere_pa=air)
    cold = design.survey.design_minimum_c.value < FREEZES_C
    chosen = design.commission.test.value
    water = say("a leak is a spoonful and shows at once; what cannot drain is left in the coil")
    if cold:
        water = say(
            "a leak is a spoonful and shows at once; what is left in the pipes freezes where nights come to {t}",
            t=Quantity(design.survey.design_minimum_c.value, "temperature"),
        )
    return Matter(
        "medium",
        "commission",
        "What the loop is tested with",
        (
            Way(say("water"), water, chosen == "water", ours=True),
            Way(
                say("air, in frost"),
                say(
                    "at {p} it holds {e}: nobody stands close; a kelvin of sun moves the gauge by {d}",
                    p=Quantity(pressure, "pressure"),
                    e=Quantity(energy, "work", 0),
                    d=Quantity(drift, "pressure", 3),
                ),
                chosen == "air",
            ),
        ),
        say("Water in warm weather, air in frost with its danger; never both in one day without a look at the gauge."),
        "commission.test",
    )


def _vessel_in_test(design: Design, result: Reckoning) -> Matter:
    """What a cupful lost does to the gauge, with the vessel on the loop and shut off."""
    charge, pressure = result.sealed, test_pressure(design)
    loop = loop_of(design, contents=charge.contents.total, top=result.run.route.top, atmosphere=charge.atmosphere)
    stiff = stiffness_of(result.run.route)
    precharge = charge.setting.precharge if charge.setting else charge.static
    cup = Quantity(CUPFUL, "volume")

    def told(vessel: Vessel) -> Statement:
        """The gauge once a cupful is lost."""
        after = vessel.gauge_after(pressure, CUPFUL)
        if after is None:
            return say("{c} lost and the gauge is at nought: seen at once", c=cup)
        return say("{c} lost lets the gauge fall by {d}", c=cup, d=Quantity(pressure - after, "pressure"))

    # shut off, nothing softens the loop: its own stretch is all that is left
    shut = Vessel(1e-9, pressure, loop, stiff)
    with_it = Vessel(charge.vessel, precharge, loop, stiff)
    return Matter(
        "vessel_test",
        "commission",
        "Vessel during the test",
        (
            Way(say("shut off"), told(shut), planned=True, ours=True),
            Way(say("left on the loop"), told(with_it)),
        ),
        say("Shut off: the needle is quick, and the test pressure stays off the membrane."),
    )


def _purge(design: Design, result: Reckoning) -> Matter:
    volume, flow = result.charge.contents.total, station_flow(design)
    turn = volume / flow
    ways = []
    for minutes in PURGES_MIN:
        turns = minutes * 60 / turn
        name = say("{m} with burps, in rounds" if minutes == BURPED_MIN else "{m}", m=Quantity(minutes * 60, "minutes"))
        words = "{n} turns of this loop" + ("" if turns >= TURNS else ": too few")
        ways.append(Way(name, say(words, n=Quantity(turns, "count", 1))))
    need = max(design.commission.turns.value, TURNS)
    ours = say(
        "{n} turns, here {t}, and until no bubble comes",
        n=Quantity(need, "count"),
        t=Quantity(need * turn, "minutes"),
    )
    ways.append(Way(say("by turns of the loop, and no bubble"), ours, planned=True, ours=True))
    why = say("Minutes say nothing of another loop's contents; turns do, and the eye has the last word.")
    return Matter("purge", "commission", "How long it is purged", tuple(ways), why, "commission.turns")


def _port(design: Design) -> Matter:
    weak = design.charge.filling_gauge_pa.value
    return Matter(
        "port",
        "commission",
        "Where it is filled from",
        (
            Way(
                say("up through the fill port, back out of the drain port"),
                say(
                    "the pump reaches {p} and pushes the air round the whole loop before it",
                    p=Quantity(weak, "pressure"),
                ),
                planned=True,
                ours=True,
            ),
            Way(
                say("into the drain port, both legs rising"),
                say("the air leaves by an open vent on top: somebody stands there; with a garden sprayer the only way"),
            ),
        ),
        say("The first with a pump that circulates, the second with a sprayer."),
    )


def _mix(design: Design, result: Reckoning) -> Matter:
    """What the frost point comes to with the water that stays in the loop."""
    loop, wanted = result.charge.contents.total, design.charge.share.value
    left = min(design.charge.residual_l.value * LITRE, 0.9 * loop)
    thin = wanted * (loop - left) / loop
    strong = design.charge.concentrate.value
    mix = first_mix(loop_volume=loop, residual_water=left, wanted=wanted, concentrate=strong)
    stronger = min(mix.share, strong)
    reached = stronger * (loop - left) / loop
    chosen = "ready" if design.parts.fluid_sold.value == "premix" else "stronger"
    lost = {"w": Quantity(left, "volume"), "s": Quantity(thin, "share")}
    return Matter(
        "mix",
        "charge",
        "Strength that is filled in",
        (
            Way(
                say("exactly what is wanted, {s}", s=Quantity(wanted, "share")),
                say(
                    "with {w} of water left in the coil it becomes {s} and freezes at {f}",
                    f=Quantity(frost_point(volume_share=thin), "temperature"),
                    **lost,
                ),
                chosen == "ready",
            ),
            Way(
                say("stronger, for the water that is left: {s}", s=Quantity(stronger, "share")),
                say(
                    "becomes {s} with it, which freezes at {f}",
                    s=Quantity(reached, "share"),
                    f=Quantity(frost_point(volume_share=reached), "temperature"),
                ),
                chosen == "stronger",
                ours=True,
            ),
            Way(
                say("filled till the colour comes, then measured"),
                say("nobody knows before: read, and exchange what is missing"),
            ),
        ),
        say("The second, corrected by the refractometer: how much water stays nobody knows."),
        "charge.residual_l",
    )


def _air(design: Design, result: Reckoning) -> Matter:
    """Ways to be rid of air, by what this loop's flow carries down."""
    flow, speed = result.run.flow, result.run.warm.slowest(result.run.flow)
    carries = speed >= PURGE_M_S
    vented = any(leg.vented for leg in (*design.run.cold, *design.run.hot))
    rows = len(design.row_counts)
    purge = result.run.warm.slowest(station_flow(design))
    if purge >= PURGE_M_S and rows <= NO_FIELD_VENT_ROWS:
        pumped_out = say(
            "one row, and the filling pump makes {v}: the air comes back with the fluid",
            v=Quantity(purge, "velocity"),
        )
    elif purge >= PURGE_M_S:
        pumped_out = say("{n} rows: the pump finds the easier one", n=Quantity(float(rows), "count"))
    else:
        pumped_out = say(
            "the filling pump makes {v} in the widest pipe: less than the {l} that carry air down",
            v=Quantity(purge, "velocity"),
            l=Quantity(PURGE_M_S, "velocity"),
        )
    separator = "the loop flows at {v}: it carries bubbles down to it" if carries else "the loop flows at {v}: too slow"
    ours_none = not vented and purge >= PURGE_M_S and rows <= NO_FIELD_VENT_ROWS
    return Matter(
        "air",
        "run",
        "How the air leaves",
        (
            Way(
                say("a vent on the roof, shut after purging"),
                say("reached once over the roof; left open it lets steam out"),
                vented,
                ours=not ours_none,
            ),
            Way(
                say("a separator low in the line"),
                say(separator, v=Quantity(speed, "velocity")),
                design.run.separator.value and flow > 0,
            ),
            Way(say("a vent opened by hand after some weeks"), say("a second visit that the diary has to know")),
            Way(say("none, purged at high pressure"), pumped_out, ours_none, ours_none),
        ),
        say("By the way of filling and the rows: every high point that the purge does not sweep wants its vent."),
    )
