"""How the lines are laid: joined or not, lagged, jacketed, booted, buried; what is wrong with it. Source: practice 6 and 7."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.design.inputs.run import Leg
from rowan.core.design.legs import new_leg_id
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.run.findings import BUBBLE_VELOCITY
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.run.route import ProfileLeg
from rowan.core.steps.run.sketch import line_taped, sketch_of
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding

LEAST_DEPTH_M, LEAST_BURIED_LAGGING_M = 0.45, 0.012  # m; practice, the run
HOT_BOOT_C = 175.0  # °C that an ordinary boot does not stand
MOST_LAGGING_M = 0.1  # m, as the input allows
THIN_SHARE = 0.6  # of the bore, below which lagging is thin, rule of thumb
PRACTICE = "practice: the run"
PUSH_FIT_C = 95.0  # °C that a push-fit ring stands, rule of thumb; the maker's figure wins
DECK_M, DECK_MOST_M = 0.25, 0.45  # m under the roof deck, out of reach of nails; rule of thumb, practice 7


def laying_findings(design: Design, run: RunResult) -> tuple[Finding, ...]:
    """What is wrong with how the lines are laid."""
    return (
        *_open_lines(design, run),
        *_under_deck(design, run),
        *_screw_down(design),
        *_push_fit(design),
        *_lagging(design, run),
        *_jacket(design, run),
        *_boot(design, run),
        *_buried(design, run),
        *_separator(design, run),
    )


def _open_lines(design: Design, run: RunResult) -> list[Finding]:
    """Lines without a fitted leg that end beside where they should join."""
    found = []
    for line, gap, to in (("cold", run.route.cold_open, "the field"), ("hot", run.route.hot_open, "the store's coil")):
        if not gap:
            continue
        legs: list[Leg] = list(getattr(design.run, line))
        fitted = Leg(id=new_leg_id(legs), name="upright", length_m=round(abs(gap), 3), fitted=True)
        last = (run.route.cold if line == "cold" else run.route.hot)[-1]
        found.append(
            Finding(
                key=f"open_{line}",
                level="stop",
                stage="run",
                part=f"{line}_line",
                title=say("the {line} line never reaches {end}", line=line, end=to),
                reason=say(
                    "By its legs it ends {g} {case} it. A leg is missing, or one was measured wrong; friction, contents and pressures hold only for a line that joins.",
                    case="above" if gap > 0 else "below",
                    g=Quantity(abs(gap), "length"),
                ),
                quantity=Quantity(abs(gap), "length"),
                limit=Quantity(0.0, "length"),
                cures=(
                    Cure(
                        say("Add an upright leg of {g}", g=Quantity(abs(gap), "length")),
                        (Change(f"run.{line}", [*legs, fitted]),),
                    ),
                ),
                source=PRACTICE,
                place=f"{line}.{last.id}",
            )
        )
    return found


def _lagging(design: Design, run: RunResult) -> list[Finding]:
    bare = [leg for leg in run.route.legs() if leg.insulation < THIN_SHARE * leg.pipe.bore_m and leg.length > 0]
    if not bare:
        return []
    thinnest = min(bare, key=lambda leg: leg.insulation / leg.pipe.bore_m)
    # for the widest of them, so that no leg is left with less than it has
    wanted = min(math.ceil(max(leg.pipe.bore_m for leg in bare) * 1000) / 1000, MOST_LAGGING_M)
    own = [leg for leg in bare if _leg(design, leg).insulation_m is not None]
    changes = [Change(f"run.{leg.line}.{leg.id}.insulation_m", wanted) for leg in own]
    if len(own) < len(bare):
        changes.append(Change("run.insulation_m", wanted))
    return [
        Finding(
            key="thin_lagging",
            level="mind",
            stage="run",
            part=f"{thinnest.line}_line",
            title=say("the lagging is thin for this pipe"),
            reason=say(
                "{t} on a bore of {d}, over {l}. About as thick as the bore is the trade's rule; what is saved here is paid every sunny hour.",
                t=Quantity(thinnest.insulation, "pipe_size"),
                d=Quantity(thinnest.pipe.bore_m, "pipe_size"),
                l=Quantity(sum(leg.length for leg in bare), "length", 1),
            ),
            quantity=Quantity(thinnest.insulation, "pipe_size"),
            limit=Quantity(THIN_SHARE * thinnest.pipe.bore_m, "pipe_size"),
            cures=(Cure(say("Lag it with {t}", t=Quantity(wanted, "pipe_size")), tuple(changes), "loss_hot"),),
            source=PRACTICE,
            place=f"{thinnest.line}.{thinnest.id}",
        )
    ]


def _under_deck(design: Design, run: RunResult) -> list[Finding]:
    """Pipe in the attic so near under the deck that a later roofer's nail finds it."""
    apart = design.run.under_deck_m.value
    if apart is None or apart >= DECK_M - 1e-9 or all(leg.place != "attic" for leg in run.route.legs()):
        return []
    return [
        Finding(
            key="under_deck",
            level="fix",
            stage="run",
            part="hot_line",
            title=say("a roofer's nail can reach the pipe"),
            reason=say(
                "It runs {d} under the roof deck; {l} is kept where nothing else is required, up to {m}. Local code first.",
                d=Quantity(apart, "length"),
                l=Quantity(DECK_M, "length"),
                m=Quantity(DECK_MOST_M, "length"),
            ),
            quantity=Quantity(apart, "length"),
            limit=Quantity(DECK_M, "length"),
            cures=(Cure(say("Lay it {l} below", l=Quantity(DECK_M, "length")), (Change("run.under_deck_m", DECK_M),)),),
            source=PRACTICE,
        )
    ]


def _screw_down(design: Design) -> list[Finding]:
    """A screw-down valve holds water and air in a line that must run empty."""
    if not design.drains or design.run.shut_offs.value != "screw":
        return []
    return [
        Finding(
            key="screw_down",
            level="fix",
            stage="run",
            part="cold_line",
            title=say("a screw-down valve does not let a line run empty"),
            reason=say(
                "Its seat is a little dam: water stands behind it, air does not pass, and it freezes there first."
            ),
            cures=(Cure(say("Ball valves of full bore"), (Change("run.shut_offs", "ball"),)),),
            source=PRACTICE,
        )
    ]


def _push_fit(design: Design) -> list[Finding]:
    """Push-fit joints in a loop that may stand hotter than their rings."""
    dry = stagnation_of(design.collector.item.value)
    if design.run.joints.value != "push" or dry <= PUSH_FIT_C:
        return []
    return [
        Finding(
            key="push_fit_hot",
            level="stop",
            stage="run",
            part="hot_line",
            title=say("push-fit joints do not stand this field"),
            reason=say(
                "Dry it comes to {d}; their rings stand {r}, and let go under pressure. Push-fit belongs behind the tempering valve.",
                d=Quantity(dry, "temperature"),
                r=Quantity(PUSH_FIT_C, "temperature"),
            ),
            quantity=Quantity(dry, "temperature"),
            limit=Quantity(PUSH_FIT_C, "temperature"),
            cures=(Cure(say("Braze them, or compression"), (Change("run.joints", "metal"),)),),
            source=PRACTICE,
        )
    ]


def _leg(design: Design, leg: ProfileLeg) -> Leg:
    legs = design.run.cold if leg.line == "cold" else design.run.hot
    return next(entry for entry in legs if entry.id == leg.id)


def _jacket(design: Design, run: RunResult) -> list[Finding]:
    outside = [leg for leg in run.route.legs() if leg.place in ("roof", "outside") and leg.insulation > 0]
    kind = design.run.jacket.value
    if kind == "jacket" or not outside:
        return []
    return [
        Finding(
            key="lagging_bare" if kind == "none" else "lagging_painted",
            level="fix" if kind == "none" else "mind",
            stage="run",
            part=f"{outside[0].line}_line",
            title=say(
                "the lagging stands in the sun without a jacket"
                if kind == "none"
                else "paint keeps the sun off for some years only"
            ),
            reason=say(
                "{l} of it lie outdoors. Sunlight eats foam and birds take it; the lagging is gone before the pipe has done a third of its life."
                if kind == "none"
                else "{l} of lagging lie outdoors. Look at it yearly; a jacket goes on once.",
                l=Quantity(sum(leg.length for leg in outside), "length", 1),
            ),
            cures=(
                Cure(say("Put it under a jacket"), (Change("run.jacket", "jacket"),), note=say("priced by length")),
            ),
            source=PRACTICE,
            place=f"{outside[0].line}.{outside[0].id}",
        )
    ]


def _boot(design: Design, run: RunResult) -> list[Finding]:
    on_roof = any(leg.place == "roof" for leg in run.route.hot)
    if not on_roof or design.run.hot_boot.value != "ordinary":
        return []
    return [
        Finding(
            key="boot_hot",
            level="fix",
            stage="run",
            part="hot_line",
            title=say("an ordinary boot does not stand the hot line"),
            reason=say(
                "The hot line sees up to {t} where it passes the roof. Solder a metal boot on, or lag and jacket the pipe and boot the jacket.",
                t=Quantity(HOT_BOOT_C, "temperature"),
            ),
            cures=(
                Cure(say("A soldered metal boot"), (Change("run.hot_boot", "metal"),), note=say("1 part other")),
                Cure(say("Boot the jacket"), (Change("run.hot_boot", "jacket"),)),
            ),
            source="practice: roof and mounting",
        )
    ]


def _buried(design: Design, run: RunResult) -> list[Finding]:
    found: list[Finding] = []
    for leg in run.route.legs():
        if leg.depth is None:
            continue
        entry = _leg(design, leg)
        found += _buried_leg(leg, entry)
    return [*found, *_not_taped(design, run), *_tapes_apart(design)]


def _not_taped(design: Design, run: RunResult) -> list[Finding]:
    """Buried legs without a sketch. Both lines share a trench: one of them taped will do."""
    buried = [leg for leg in run.route.legs() if leg.depth is not None]
    taped = line_taped(design.run.cold) or line_taped(design.run.hot)
    if not buried or (taped and design.run.points_apart_m.value is not None):
        return []
    return [
        Finding(
            key="buried_not_taped",
            level="mind",
            stage="run",
            part=f"{buried[0].line}_line",
            title=say("nobody will find the buried pipe again"),
            reason=say(
                "{l} lie in the ground without offsets. Before the trench is closed tape each bend and end from two fixed points; the inspector and the next digger want the sketch.",
                l=Quantity(sum(leg.length for leg in buried), "length", 1),
            ),
            source=PRACTICE,
            place=f"{buried[0].line}.{buried[0].id}",
        )
    ]


def _tapes_apart(design: Design) -> list[Finding]:
    sketch = sketch_of(design)
    if sketch is None or not sketch.wrong:
        return []
    spot = sketch.wrong[0]
    return [
        Finding(
            key="tapes_do_not_meet",
            level="fix",
            stage="run",
            part=f"{spot.line}_line",
            title=say("two tapes do not meet in one place"),
            reason=say(
                "The end of {spot} is {a} from A and {b} from B, and A and B stand {d} apart: one of the three is wrong.",
                spot=spot.name or spot.leg,
                a=Quantity(spot.from_a, "length"),
                b=Quantity(spot.from_b, "length"),
                d=Quantity(sketch.apart, "length"),
            ),
            source=PRACTICE,
            place=f"{spot.line}.{spot.leg}",
        )
    ]


def _buried_leg(leg: ProfileLeg, entry: Leg) -> list[Finding]:
    return [*_shallow(leg), *_bare_in_ground(leg), *_duct(leg, entry)]


def _named(leg: ProfileLeg) -> tuple[str, str, str]:
    """Path, name and place of a leg."""
    return f"run.{leg.line}.{leg.id}", f"{leg.line} line, {leg.name or leg.id}", f"{leg.line}.{leg.id}"


def _shallow(leg: ProfileLeg) -> list[Finding]:
    base, name, place = _named(leg)
    depth = leg.depth or 0.0
    if depth < LEAST_DEPTH_M:
        return [
            Finding(
                key=f"shallow_{leg.line}_{leg.id}",
                level="fix",
                stage="run",
                part=f"{leg.line}_line",
                title=say("a spade will find the pipe: {name}", name=name),
                reason=say(
                    "It lies {d} deep; at least {l}, or what the local code asks, and below the frost where it carries water.",
                    d=Quantity(depth, "length"),
                    l=Quantity(LEAST_DEPTH_M, "length"),
                ),
                quantity=Quantity(depth, "length"),
                limit=Quantity(LEAST_DEPTH_M, "length"),
                cures=(
                    Cure(
                        say("Dig to {l}", l=Quantity(LEAST_DEPTH_M, "length")),
                        (Change(f"{base}.depth_m", LEAST_DEPTH_M),),
                    ),
                ),
                source=PRACTICE,
                place=place,
            )
        ]
    return []


def _bare_in_ground(leg: ProfileLeg) -> list[Finding]:
    base, name, place = _named(leg)
    if leg.insulation < LEAST_BURIED_LAGGING_M:
        return [
            Finding(
                key=f"bare_buried_{leg.line}_{leg.id}",
                level="fix",
                stage="run",
                part=f"{leg.line}_line",
                title=say("two thinly lagged lines in one trench heat each other: {name}", name=name),
                reason=say(
                    "{t} of foam is too little in the ground; each line wants at least {l} of closed cells of its own.",
                    t=Quantity(leg.insulation, "pipe_size"),
                    l=Quantity(LEAST_BURIED_LAGGING_M, "pipe_size"),
                ),
                quantity=Quantity(leg.insulation, "pipe_size"),
                limit=Quantity(LEAST_BURIED_LAGGING_M, "pipe_size"),
                cures=(
                    Cure(
                        say("Lag it with {l}", l=Quantity(0.019, "pipe_size")),
                        (Change(f"{base}.insulation_m", 0.019),),
                        "loss_hot",
                    ),
                ),
                source=PRACTICE,
                place=place,
            )
        ]
    return []


def _duct(leg: ProfileLeg, entry: Leg) -> list[Finding]:
    base, name, place = _named(leg)
    if not entry.duct or not entry.ends_sealed:
        open_ends = entry.duct
        return [
            Finding(
                key=f"duct_{leg.line}_{leg.id}",
                level="fix" if open_ends else "mind",
                stage="run",
                part=f"{leg.line}_line",
                title=say(
                    "{case}{name}",
                    case="the duct fills with water: " if open_ends else "the pipe lies in the soil itself: ",
                    name=name,
                ),
                reason=say(
                    "Open duct ends let rain and mice in, and wet lagging is no lagging. Turn them up in gravel and seal them."
                    if open_ends
                    else "Pulled through a drain pipe it stays dry, and can be drawn out again without digging."
                ),
                cures=(
                    Cure(say("Seal both ends"), (Change(f"{base}.ends_sealed", True),))
                    if open_ends
                    else Cure(
                        say("Pull it through a duct"), (Change(f"{base}.duct", True),), note=say("priced by length")
                    ),
                ),
                source=PRACTICE,
                place=place,
            )
        ]
    return []


def _separator(design: Design, run: RunResult) -> list[Finding]:
    if not design.run.separator.value:
        return []
    if design.drains:
        return [
            Finding(
                key="separator_drainback",
                level="fix",
                stage="run",
                part="hot_line",
                title=say("a separator lets air out of a loop that lives with it"),
                reason=say("A loop that drains needs its air; what separates it belongs to sealed loops."),
                cures=(Cure(say("Leave it out"), (Change("run.separator", False),)),),
                source=PRACTICE,
            )
        ]
    velocity = run.flow / min(leg.pipe.bore_area_m2 for leg in run.route.hot)
    if velocity >= BUBBLE_VELOCITY:
        return []
    return [
        Finding(
            key="separator_slow",
            level="mind",
            stage="run",
            part="hot_line",
            title=say("bubbles will not come down to the separator"),
            reason=say(
                "The hot line runs at {v}; a separator low in it works from {l} downward. Purge at that speed, and keep a vent on top.",
                v=Quantity(velocity, "velocity"),
                l=Quantity(BUBBLE_VELOCITY, "velocity"),
            ),
            quantity=Quantity(velocity, "velocity"),
            limit=Quantity(BUBBLE_VELOCITY, "velocity"),
            cures=(Cure(say("Leave it out"), (Change("run.separator", False),)),),
            source=PRACTICE,
        )
    ]
