"""Schools of the controller: differences, speed, limits, frost, hygiene, nights."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.goods.items import PumpItem
from rowan.core.reckon import Reckoning
from rowan.core.simulation.plan_day import Lens, made_ready, usual_day
from rowan.core.simulation.simulate import sky_of
from rowan.core.steps.charge.result import DrainbackCharge
from rowan.core.steps.duty.demand import heat_needed
from rowan.core.steps.store.heat import HOT_STORE_C, SCALD_C
from rowan.core.steps.store.sizing import USUAL_L_M2
from rowan.core.studies.pairs import Tried, try_pairs
from rowan.core.studies.schools.matter import Matter, Way
from rowan.core.terms.calendar import DAYS
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.units import LITRE
from rowan.core.weather.hours import Sky

# start and stop [K] as the schools have them: wide with an early stop, narrow, close for a pump on a battery; practice 11
PAIRS_K = (("wide, with an early stop", 10.0, 5.0), ("narrow", 6.0, 2.0), ("close, for a battery", 4.0, 3.0))
LIMITS_C = (60.0, 80.0)  # °C: without a tempering valve, and with one
FROST_C = (2.0, 4.0, 5.0)  # °C: insulated tubes, racked plates, the upper of two levels
HYGIENES = ((7, 60.0), (2, 60.0), (7, 70.0))  # every so many days to so many °C


def setting_matters(design: Design, result: Reckoning, measured: Sky | None = None) -> Iterator[Matter]:
    """The matters of a loop with a pump and a controller, and of the store's heat."""
    if design.pumped and not design.run.pump.value.on_panel and not design.functions.timer.value:
        yield from _differences(design, result, measured)
        yield _speed(design, result)
    if design.pumped and not design.own_store:
        yield _limit(design, result)
    if design.charge.kind.value == "direct" and not design.is_pool:
        yield _frost(design, measured)
    if design.taps and not design.own_store:
        yield _hygiene(design)
    if design.pumped and not design.own_store:
        yield _night(design, result)


def _differences(design: Design, result: Reckoning, measured: Sky | None) -> Iterator[Matter]:
    """The pairs of the schools through a broken day of this plan; nothing where no day can be run."""
    pairs = [(start, stop) for _, start, stop in PAIRS_K]
    try:
        made = made_ready(design, result, Lens("broken", usual_day(design)), measured=measured)
        tried = try_pairs(made, pairs)
    except RowanError:
        return
    own = (design.control.start_k.value, design.control.stop_k.value)
    nearest = min(pairs, key=lambda pair: abs(pair[0] - own[0]) + abs(pair[1] - own[1]))
    ways = tuple(
        Way(
            say(
                "{name}: {a} and {b}",
                name=name,
                a=Quantity(start, "difference", 0),
                b=Quantity(stop, "difference", 0),
            ),
            _day(one),
            (start, stop) == nearest,
        )
        for (name, start, stop), one in zip(PAIRS_K, tried, strict=True)
    )
    why = say("No school: it is tried on this loop, clear, broken and dull, and the installer picks.")
    yield Matter("differences", "control", "Start and stop differences", ways, why, "control.start_k")


def _warming(volume: float, cold: float, hot: float) -> float:
    """Heat of a volume [m³] from one temperature to another [J, °C]."""
    return heat_needed(volume=volume, tap_temperature=hot, cold_temperature=cold)


def _day(one: Tried) -> Statement:
    return say(
        "on a broken day {q} into the store in {n} starts, {e} for the pump",
        q=Quantity(one.heat, "energy", 1),
        n=Quantity(one.starts, "count"),
        e=Quantity(one.electric, "small_energy"),
    )


def _speed(design: Design, result: Reckoning) -> Matter:
    pump, run = design.run.pump.value, result.run.pump
    fixed = design.functions.speed.value == "one"

    def at(speed: int) -> Statement:
        """Flow and power of a speed."""
        point = run.points[speed - 1]
        if point is None:
            return say("it does not start this loop")
        return say(
            "{q} at {w}", q=Quantity(point.flow, "flow"), w=Quantity(pump.speeds[speed - 1].power_w, "electric_power")
        )

    why = {
        "induction": say("A plain motor may be chopped by the controller, on its top setting."),
        "electronic": say("An electronic pump takes a signal and steady mains; chopped mains destroy it."),
        "magnet": say("A small magnet pump runs at the speed its supply gives."),
    }[pump.kind]
    return Matter(
        "speed",
        "control",
        "Speed of the pump",
        (
            Way(say("one that gives the flow"), at(run.speed), fixed, ours=not _modulates(pump)),
            Way(
                say("top setting, modulated down to {s}", s=Quantity(design.functions.speed_floor.value, "share")),
                at(len(pump.speeds)),
                not fixed,
                ours=_modulates(pump),
            ),
        ),
        why,
        "functions.speed",
    )


def _modulates(pump: PumpItem) -> bool:
    return pump.kind == "electronic" and pump.variable


def _limit(design: Design, result: Reckoning) -> Matter:
    """What more a hotter store holds, in days of this household."""
    valve, now = design.store.tempering_valve.value, design.store.maximum_c.value
    contents, day = design.store.item.value.contents_l * LITRE, result.duty.year_heat / DAYS
    nearest = min(LIMITS_C, key=lambda limit: abs(limit - now))
    ends = result.charge.draining.lift.siphon_ends_c if isinstance(result.charge, DrainbackCharge) else None
    lets_go = ends is not None and ends < LIMITS_C[1]
    ways = []
    for limit in LIMITS_C:
        held = _warming(contents, design.duty.tap_c.value, limit)
        hot = say("burns at the tap without a tempering valve; ") if limit > SCALD_C and not valve else say("")
        ways.append(
            Way(
                say("{t}", t=Quantity(limit, "temperature")),
                say(
                    "{hot}full it holds {q} over the taps' warmth, {d} days' need",
                    hot=hot,
                    q=Quantity(held, "energy", 1),
                    d=Quantity(held / day if day > 0 else 0.0, "count", 1),
                ),
                limit == nearest,
                ours=limit == (LIMITS_C[1] if valve and not lets_go else LIMITS_C[0]),
            )
        )
    why = say(
        "Low, because the siphon lets go in hotter water."
        if lets_go
        else "Higher with a tempering valve, which is there."
        if valve
        else "Low, because nothing tempers what comes out."
    )
    return Matter("limit", "store", "How hot the store may get", tuple(ways), why, "store.maximum_c")


def _frost(design: Design, measured: Sky | None) -> Matter:
    """The hours in which the pump would warm the field, by the air alone."""
    air = sky_of(design, 0, measured).weather.air
    on, at = design.control.frost.value, design.control.frost_c.value
    nearest = min(FROST_C, key=lambda c: abs(c - at))
    names = ("{t}, insulated tubes", "{t}, plates on a rack", "{t} and a lower level")
    ways = [
        Way(
            say(name, t=Quantity(c, "temperature")),
            say("the air is at or under it {h} a year", h=Quantity(3600.0 * float((air <= c).sum()), "hours")),
            on and c == nearest,
            ours=c == FROST_C[1],
        )
        for name, c in zip(names, FROST_C, strict=True)
    ]
    ways.append(Way(say("none"), say("the first frost bursts the field"), not on))
    why = say(
        "Plates under a clear sky freeze before the air does. Where frost is long or power fails, warm water is no protection: "
        "glycol or a loop that drains."
    )
    return Matter("frost", "control", "Frost: warm water from the store", tuple(ways), why, "control.frost_c")


def _hygiene(design: Design) -> Matter:
    store, functions = design.store, design.functions
    contents, warm = store.item.value.contents_l * LITRE, design.duty.tap_c.value
    interval = store.hygiene.value == "weekly"
    ways = [
        Way(
            say("left to the backup"),
            say("held at {t}: proved or not by the year", t=Quantity(store.backup_c.value, "temperature")),
            store.hygiene.value == "backup",
            ours=store.backup_c.value >= HOT_STORE_C,
        )
    ]
    for days, hot in HYGIENES:
        once = _warming(contents, warm, hot)
        ways.append(
            Way(
                say("to {t} every {n} days", t=Quantity(hot, "temperature"), n=Quantity(float(days), "count")),
                say(
                    "from {w} {q} each time, {y} a year where the sun has not done it",
                    w=Quantity(warm, "temperature"),
                    q=Quantity(once, "energy", 1),
                    y=Quantity(once * DAYS / days, "energy"),
                ),
                interval and functions.hygiene_days.value == days and functions.hygiene_c.value == hot,
                ours=store.backup_c.value < HOT_STORE_C and (days, hot) == HYGIENES[0],
            )
        )
    why = say(
        "Off where the backup provably does it, else the whole volume at {t}.", t=Quantity(HOT_STORE_C, "temperature")
    )
    return Matter("hygiene", "store", "Germs in the store", tuple(ways), why, "store.hygiene")


def _night(design: Design, result: Reckoning) -> Matter:
    night, down = design.functions.night.value, design.functions.night_c.value
    contents, hot = design.store.item.value.contents_l * LITRE, design.store.maximum_c.value
    thrown = _warming(contents, min(down, hot), hot)
    ratio = result.store.litres_per_m2 * LITRE
    large = result.store.litres_per_m2 < USUAL_L_M2[0]
    gone = say("throws {q} of a full store back on the roof, each night it runs", q=Quantity(thrown, "energy", 1))
    size = say(
        "{r} of store: {case}",
        case="a large field for it" if large else "this field is not large for it",
        r=Quantity(ratio, "volume_per_area"),
    )
    return Matter(
        "night",
        "control",
        "Cooling a hot store at night",
        (
            Way(say("never"), say("the store stays full while nobody draws, and the field stands"), night == "off"),
            Way(say("while the house is away"), gone, night == "away", ours=True),
            Way(say("on arrays that are too large"), size, night == "always"),
        ),
        say("On holiday only: every other night it throws paid heat away."),
        "functions.night",
    )
