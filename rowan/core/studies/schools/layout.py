"""Schools of the loop's kind, its falls, flow, pipe, sensor and tanks."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.fluid import properties
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE
from rowan.core.goods.ratings import PLASTIC_HOT_C, PLASTIC_HOT_PA
from rowan.core.reckon import Reckoning
from rowan.core.steps.roof.square import MARKED_FALL
from rowan.core.steps.run.draining import LEAST_FALL
from rowan.core.steps.run.figures import USUAL_L_H_M2
from rowan.core.steps.run.friction import series_rise
from rowan.core.studies.loop_kinds import objections
from rowan.core.studies.pipe_kinds import pipe_kinds
from rowan.core.studies.schools.matter import Matter, Way
from rowan.core.studies.trials import BARE, STRAPPED
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.units import LITRE, LITRE_H

STEEP_FALL = 0.176  # manifolds of tubes, about ten degrees: practice 18
# L/h for each m²: water, glycol, low flow into a layered store: practice 8
FLOWS_L_H_M2 = (
    ("water", *USUAL_L_H_M2[False]),
    ("glycol", *USUAL_L_H_M2[True]),
    ("low flow, a layered store", 15.0, 20.0),
)
WARM_EXIT_C = 60.0  # °C of the exit on which the sensors are compared


def layout_matters(design: Design, result: Reckoning) -> Iterator[Matter]:
    """The matters of what is laid and mounted."""
    if (design.sealed or design.drains) and not design.is_pool:
        yield _kind(design, result)
    if design.drains:
        yield _fall(design)
    if design.pumped:
        yield _flow(design, result)
        yield _sensor(design, result)
    yield _plastic(design, result)
    if design.charge.kind.value in ("sealed", "direct"):
        yield _pipe(design, result)
    if design.taps and not design.through_store:
        yield _tanks(design)


def _kind(design: Design, result: Reckoning) -> Matter:
    """Glycol or drainback, by what speaks against each here."""
    now = design.charge.kind.value
    against: Statement
    try:
        found = objections(design, result, "drainback")
        against = found[0].words if found else say("nothing speaks against it here")
        stopped = any(one.level == "stop" for one in found)
    except RowanError as error:
        against, stopped = say(str(error)), True
    loop = Quantity(result.charge.contents.total, "volume")
    return Matter(
        "kind",
        "charge",
        "Glycol or drainback",
        (
            Way(
                say("sealed, with glycol"),
                say("{l} of fluid to keep; pipes may run anywhere; it stands hot when nobody draws", l=loop),
                now == "sealed",
                ours=stopped or now == "sealed",
            ),
            Way(say("drainback, with water"), against, now == "drainback", ours=not stopped and now != "sealed"),
            Way(
                say("drainback, with glycol in it"),
                say("for a leg that may not empty: thicker, and it carries less heat; the fluid ages as in any loop"),
                now == "drainback" and design.charge.reservoir_share.value > 0,
            ),
        ),
        say(
            "Both in full: small ones are fine either way, a field large for its need wants to drain. No glycol in a drainback."
        ),
        "charge.kind",
    )


def _fall(design: Design) -> Matter:
    """What a header rises over the field's width."""
    item = design.collector.item.value
    width = max(design.row_counts) * item.width_m
    tubes = "tube" in item.kind
    ways = []
    for name, fall, ours in (
        ("1 in 48, for plates", MARKED_FALL, not tubes),
        ("about 10°, for manifolds of tubes", STEEP_FALL, tubes),
        ("none has worked", 0.0, False),
    ):
        rise = say(
            "the exit end stands {r} higher over {w}", r=Quantity(width * fall, "level"), w=Quantity(width, "length", 1)
        )
        level = say("less than {l} in the open is a fault here: what stays freezes", l=Quantity(LEAST_FALL, "share"))
        ways.append(Way(say(name), rise if fall else level, ours, ours))
    return Matter("fall", "run", "Fall of the header", tuple(ways), say("1 in 48 for plates, the maker's for tubes."))


def _flow(design: Design, result: Reckoning) -> Matter:
    """What the windows of the trade mean for this field."""
    area = design.area_m2
    own = result.run.flow / LITRE_H / area
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)
    ways = []
    for name, low, high in FLOWS_L_H_M2:
        middle = (low + high) / 2 * area * LITRE_H
        rise = series_rise(
            irradiance=REFERENCE_IRRADIANCE,
            efficiency=result.run.temperatures.efficiency,
            area=area,
            flow=middle * fluid.density,
            heat_capacity=fluid.heat_capacity,
        )
        ways.append(
            Way(
                say(
                    "{a} to {b}, {name}",
                    name=name,
                    a=Quantity(low * LITRE_H, "specific_flow"),
                    b=Quantity(high * LITRE_H, "specific_flow"),
                ),
                say(
                    "{q} for this field: {k} warmer at {g} of sun, {v} in the narrowest pipe",
                    q=Quantity(middle, "flow"),
                    k=Quantity(rise, "difference"),
                    g=Quantity(REFERENCE_IRRADIANCE, "irradiance"),
                    v=Quantity(result.run.warm.velocity(middle), "velocity"),
                ),
                low <= own <= high,
            )
        )
    item = design.collector.item.value
    maker = say(
        "{a} to {b} through each",
        a=Quantity(item.least_flow_l_h * LITRE_H, "flow"),
        b=Quantity(item.most_flow_l_h * LITRE_H, "flow"),
    )
    within = item.least_flow_l_h <= result.run.flow / LITRE_H / design.flow_paths <= item.most_flow_l_h
    ways.append(Way(say("as the collector's maker says"), maker, within, ours=True))
    why = say(
        "The maker's window first, then coil and store; less leaves heat on the roof, more only spends electricity."
    )
    return Matter("flow", "run", "Flow through the field", tuple(ways), why, "run.flow_l_h")


def _sensor(design: Design, result: Reckoning) -> Matter:
    felt, air = design.functions.strapped_share.value, result.site.annual_air
    at = {"t": Quantity(WARM_EXIT_C, "temperature"), "a": Quantity(air, "temperature")}

    def reads(share: float) -> Statement:
        """How much too cold it reads."""
        return say(
            "reads {k} too cold with {t} at the exit and {a} outside",
            k=Quantity(share * (WARM_EXIT_C - air), "difference"),
            **at,
        )

    return Matter(
        "sensor",
        "control",
        "Where the field's sensor sits",
        (
            Way(
                say("in the exit's pocket, pushed home"),
                say("reads what leaves, within its own error"),
                felt == 0,
                ours=True,
            ),
            Way(
                say("in a wet tee at the last exit"),
                say("quick, but tells the truth only while liquid is there: {dry}", dry=_dry(design)),
            ),
            Way(say("strapped on and lagged"), reads(STRAPPED), 0 < felt <= (STRAPPED + BARE) / 2),
            Way(say("strapped on bare"), reads(BARE), felt > (STRAPPED + BARE) / 2),
        ),
        say("The pocket: a sensor that reads cold starts the pump late and stops it early."),
        "functions.strapped_share",
    )


def _dry(design: Design) -> str:
    return "this loop is dry each night" if design.drains else "dry while the field stands in steam"


def _plastic(design: Design, result: Reckoning) -> Matter:
    dry, used = result.collector.stagnation, design.run.pipe.value.material == "plastic"
    stands = dry < PLASTIC_HOT_C
    words = (
        "this field comes to {t} at most, under the {l} at which such pipe still stands {p}"
        if stands
        else "this field comes to {t}; such pipe is at its end at {l}, where it stands {p}"
    )
    comes = say(
        words,
        t=Quantity(dry, "temperature"),
        l=Quantity(PLASTIC_HOT_C, "temperature"),
        p=Quantity(PLASTIC_HOT_PA, "pressure"),
    )
    return Matter(
        "plastic",
        "run",
        "Plastic pipe on the loop",
        (
            Way(say("never, not for an afternoon's trial"), say("metal throughout"), not used, ours=not stands),
            Way(say("where the collector cannot get hot"), comes, used, ours=stands),
        ),
        say("By the collector's own standstill against the pipe's rating at that pressure."),
        "run.pipe",
    )


def _pipe(design: Design, result: Reckoning) -> Matter:
    length = result.run.route.length
    kinds = pipe_kinds(design, result)
    cheapest = min(kinds, key=lambda kind: kind.cost(length))
    ways = tuple(
        Way(
            say(kind.name),
            say(
                "{c} for {l} with its hours, {d} of drop",
                c=Quantity(kind.cost(length), "money"),
                l=Quantity(length, "length", 1),
                d=Quantity(kind.drop, "pressure"),
            ),
            kind.chosen,
            kind is cheapest,
        )
        for kind in kinds
    )
    return Matter(
        "pipe",
        "run",
        "Kind of pipe",
        ways,
        say("By length, access and money; the cheapest here is marked."),
        "run.pipe",
    )


def _tanks(design: Design) -> Matter:
    backup, item = design.store.backup.value, design.store.item.value
    contents = Quantity(item.contents_l * LITRE, "tank")
    one = backup in ("coil", "element")
    return Matter(
        "tanks",
        "store",
        "One tank or two",
        (
            Way(
                say("one, sun low and heater high"),
                say(
                    "one stand and one coat to lose heat through; the heater keeps the upper part of {v} hot",
                    v=contents,
                ),
                one,
                ours=one,
            ),
            Way(
                say("two in series, or a heater after the store"),
                say("the sun has all {v}; a second coat to lose heat through, valves and reliefs for each", v=contents),
                not one,
                ours=not one,
            ),
            Way(
                say("one of still water, with coils"),
                say("unpressurised: no relief and no vessel; a coil for each duty, and a level to keep"),
                design.through_store,
            ),
        ),
        say("By space, by the heater that is there, and by size."),
        "store.backup",
    )
