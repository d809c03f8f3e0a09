"""Schools of the vessel, its reserve, the cold fill and a field that stands in the sun."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.steps.charge.pressures import EQUAL_OVER_STATIC_PA, RESERVE_OVER_STATIC_PA
from rowan.core.steps.charge.result import SchoolView
from rowan.core.steps.charge.stage import school_in
from rowan.core.studies.schools.matter import Matter, Way
from rowan.core.studies.standstill import ANSWERS, NAMES, Standing, best_answer, chosen_answer, standing
from rowan.core.terms.figure import Quantity, Statement, joined, say
from rowan.core.terms.finding import Change
from rowan.core.terms.units import LITRE

GAPS_PA = (30e3, 55e3, 70e3)  # Pa of charge under the fill, as the schools have it: practice 18


def pressure_matters(design: Design, result: Reckoning) -> Iterator[Matter]:
    """The matters of a loop with a vessel of its own; none of any other."""
    if not design.sealed:
        return
    yield _charge(design, result)
    yield _reserve(design, result)
    yield _fill(design, result)
    yield _standstill(design, result)


def _by_school(result: Reckoning) -> dict[str, SchoolView]:
    return {view.school: view for view in result.sealed.schools}


def _cold_night(view: SchoolView) -> Statement:
    """The vessel on the coldest night."""
    cold = view.states["cold"]
    if cold.empty:
        return say("on the coldest night it is empty, {s} short", s=Quantity(cold.shortage, "volume"))
    return say("{t} are left on top on the coldest night", t=Quantity(cold.top or 0.0, "pressure"))


def _hot(view: SchoolView) -> Statement:
    """The vessel while the field stands hot."""
    hot = view.states["stagnation"]
    if hot.full:
        return say("standing hot it is full")
    return say(
        "standing hot the gauge comes to {h}, {m} under the relief",
        h=Quantity(hot.station or 0.0, "pressure"),
        m=Quantity(hot.margin_to_relief or 0.0, "pressure"),
    )


def _charge(design: Design, result: Reckoning) -> Matter:
    views, school = _by_school(result), design.charge.school.value
    ways = []
    for key, name in (("reserve", "below the fill"), ("equal", "equal to it"), ("above", "a little above it")):
        view = views[key]
        if view.setting is None:
            comes = view.refused or say("it cannot be in this vessel")
        else:
            held = view.states["fill"].liquid
            waits = say(
                "charge {p}, cold fill {f}: {case}",
                case="{l} wait in the vessel" if held > 0 else "nothing waits in the vessel",
                p=Quantity(view.setting.precharge, "pressure"),
                f=Quantity(view.setting.fill, "pressure"),
                l=Quantity(held, "volume"),
            )
            comes = joined(waits, _cold_night(view))
        ways.append(Way(say(name), comes, school == key, key == "reserve"))
    why = say("Liquid that waits keeps the top under pressure and takes the place of the air that is let out.")
    return Matter("charge", "charge", "Vessel's charge against the cold fill", tuple(ways), why, "charge.school")


def _reserve(design: Design, result: Reckoning) -> Matter:
    now = design.charge.gap_pa.value
    planned = min(GAPS_PA, key=lambda gap: abs(gap - now)) if design.charge.school.value == "reserve" else None
    vessel = design.charge.vessel_l.value * design.charge.vessels.value * LITRE
    ways = []
    for gap in GAPS_PA:
        tried = changed(design, [Change("charge.school", "reserve"), Change("charge.gap_pa", gap)])
        view = school_in(tried, result.run, result.sealed, vessel=vessel)
        holds = say("holds {l} in this vessel", l=Quantity(view.states["fill"].liquid, "volume"))
        name = say("{g} under the fill", g=Quantity(gap, "pressure"))
        ways.append(Way(name, joined(holds, _hot(view)), gap == planned, gap == GAPS_PA[0]))
    why = say("The smallest is enough where the vessel is right; what more it holds back is missing on a hot day.")
    return Matter("gap", "charge", "Size of the reserve", tuple(ways), why, "charge.gap_pa")


def _fill(design: Design, result: Reckoning) -> Matter:
    views, school = _by_school(result), design.charge.school.value
    static = Quantity(result.charge.static, "pressure")
    names = {
        "reserve": say(
            "static head {s}, {r} and the reserve", s=static, r=Quantity(RESERVE_OVER_STATIC_PA, "pressure")
        ),
        "equal": say("static head {s} and {r}", s=static, r=Quantity(EQUAL_OVER_STATIC_PA, "pressure")),
        "above": say("one atmosphere and half a psi a foot"),
        "atmosphere": say("vessel at static head and one atmosphere, filled a little above"),
        "typed": say("as the kit's maker says, typed"),
    }
    ways = []
    for key, name in names.items():
        view = views.get(key)
        if view is None:
            continue
        if view.setting is None:
            comes = view.refused or say("it cannot be in this vessel")
        else:
            comes = joined(say("{f} on the cold loop", f=Quantity(view.setting.fill, "pressure")), _hot(view))
        ways.append(Way(name, comes, school == key, key == "reserve"))
    why = say(
        "Gauges start at one atmosphere: the “atmosphere” of the schools is a margin against boiling and air, no need of the pump."
    )
    return Matter("fill", "charge", "Pressure of the cold fill", tuple(ways), why, "charge.school")


def _standstill(design: Design, result: Reckoning) -> Matter:
    chosen = chosen_answer(design)
    found = {key: standing(design, key, result) for key in ANSWERS}
    best = best_answer(found)
    ways = tuple(Way(say(NAMES[key]), _stands(found[key]), key == chosen, key == best) for key in ANSWERS)
    why = say(
        "A field that empties early at modest pressure is the calmest, where the vessel takes its steam; a dump does nothing "
        "in a power cut."
    )
    return Matter("standstill", "charge", "Field in the sun without a pump", ways, why, "charge.school")


def _stands(found: Standing) -> Statement:
    if found.refused is not None:
        return found.refused
    parts = []
    if found.needs_l is not None:
        parts.append(say("wants a vessel of {v}", v=Quantity(found.needs_l * LITRE, "tank")))
    if found.boils is not None:
        words = "the top stays liquid up to {b}" if found.liquid else "boils on top at {b}"
        parts.append(say(words, b=Quantity(found.boils, "temperature")))
    parts.append(say("steam reaches {r} into the lines", r=Quantity(found.reach, "length", 1)))
    whole = parts[0]
    for part in parts[1:]:
        whole = joined(whole, part)
    return whole
