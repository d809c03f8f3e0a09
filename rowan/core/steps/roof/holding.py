"""Whether the feet hold the field: lift, slide, ballast, what the roof and the collector itself are made for. Source: methods 12."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.goods.fixings import (
    FIXINGS,
    SHEAR_SHARE,
    WANTED_RATED,
    fixings_for,
)
from rowan.core.steps.roof.ballast import STEEPEST_DEG, ballast_needed
from rowan.core.steps.roof.figures import ADDED_MOST, PLANNING
from rowan.core.steps.roof.result import PRACTICE, RoofResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

MOST_RAILS = 4  # a row takes, as the input does


def holding_pulled(design: Design, roof: RoofResult) -> list[Finding]:
    """A pulled foot that its fixing does not hold as many times as wanted."""
    hardest = roof.hardest
    wanted = roof.wanted
    if (
        hardest is None
        or hardest.up <= 0
        or roof.fixing.key == "ballast"
        or round(roof.holds_up / hardest.up, 1) >= wanted
    ):
        return []
    cures = []
    enough = _rails_enough(design, wanted * hardest.up / max(roof.holds_up, 1.0))
    if enough is not None:
        cures.append(Cure(say("{n} rails a row", n=str(enough)), (Change("roof.rails", enough),), "foot_safety"))
    covering = design.survey.covering.value
    stronger = [
        key
        for key, (verdict, _) in fixings_for(covering, way=design.roof.way.value).items()
        if key != roof.fixing.key
        and verdict in ("usual", "allowed")
        and (FIXINGS[key].holds_up or 0.0) >= max(wanted * hardest.up, roof.holds_up)
    ]
    cures += [
        Cure(say("Take the {key}", key=FIXINGS[key].name), (Change("roof.fixing", key),), "foot_safety")
        for key in stronger[:1]
    ]
    return [
        Finding(
            key="foot_pulls_out",
            level="stop",
            stage="roof",
            part="collector",
            title=say("a gust may pull the field off"),
            reason=say(
                "The hardest pulled foot, in the {z} zone, is lifted with {f}; it holds {h}, {s} are wanted. On every line there is a foot already: more rails, another fixing, or an engineer. {planning}",
                planning=PLANNING,
                z=hardest.zone,
                f=Quantity(hardest.up, "force"),
                h=Quantity(roof.holds_up, "force"),
                s=Quantity(wanted * hardest.up, "force"),
            ),
            quantity=Quantity(hardest.up, "force"),
            limit=Quantity(roof.holds_up / wanted, "force"),
            cures=tuple(cures),
            source=methods(12),
        )
    ]


def _rails_enough(design: Design, over: float) -> int | None:
    """How many rails a row would bring a foot's load, so many times too large, to what it holds; None where none do.

    A row that stands is overturned: its rear rail keeps its pull however many lie between.
    """
    wanted = math.ceil(design.roof.rails.value * over - 1e-9)
    return wanted if design.roof.rails.value < wanted <= MOST_RAILS and not design.stands_behind else None


def holding_slides(design: Design, roof: RoofResult) -> list[Finding]:
    """A foot that snow slides or presses beyond what it bears."""
    worst = max((foot.along for foot in roof.feet), default=0.0)
    pressed = max((foot.down for foot in roof.feet), default=0.0)
    along, down = SHEAR_SHARE * roof.holds_down / WANTED_RATED, roof.holds_down / WANTED_RATED
    if worst <= along and pressed <= down:
        return []
    slides = worst / along > pressed / down
    enough = _rails_enough(design, max(worst / along, pressed / down))
    cures = () if enough is None else (Cure(say("{n} rails a row", n=str(enough)), (Change("roof.rails", enough),)),)
    return [
        Finding(
            key="foot_overloaded",
            level="fix",
            stage="roof",
            part="collector",
            title=say("snow pushes more than a foot bears"),
            reason=say(
                "{case}{planning}",
                case="Down the slope a foot gets {f}, {l} is what it holds. "
                if slides
                else "A foot is pressed with {f}, {l} is what it holds. ",
                planning=PLANNING,
                f=Quantity(worst if slides else pressed, "force"),
                l=Quantity(along if slides else down, "force"),
            ),
            quantity=Quantity(worst if slides else pressed, "force"),
            limit=Quantity(along if slides else down, "force"),
            cures=cures,
            source=methods(12),
        )
    ]


def holding_added(design: Design, roof: RoofResult) -> list[Finding]:
    """What the field adds to the roof, where an engineer says whether it carries that."""
    if not design.on_roof or round(roof.added_share, 3) <= ADDED_MOST:
        return []
    return [
        Finding(
            key="roof_added",
            level="mind",
            stage="roof",
            part="collector",
            title=say("an engineer says whether the roof carries it"),
            reason=say(
                "The field adds {a} to what the roof carries now; over {l} is an engineer's to say, whatever it is made of.",
                a=Quantity(roof.added_share, "share_fine"),
                l=Quantity(ADDED_MOST, "share"),
            ),
            quantity=Quantity(roof.added_share, "share_fine"),
            limit=Quantity(ADDED_MOST, "share_fine"),
            source=PRACTICE,
        )
    ]


def holding_ballast(design: Design, roof: RoofResult) -> list[Finding]:
    """Ballast that lift or a slope takes away."""
    if roof.fixing.key != "ballast":
        return []
    needed, has = ballast_needed(design, roof), design.roof.ballast_kg.value * len(roof.feet)
    steep = design.survey.roof_tilt_deg.value > STEEPEST_DEG
    if has >= needed and not steep:
        return []
    words = "{n} of ballast are needed against lift and sliding, {h} are there. The roof has to carry it, and an engineer says whether it does."
    if steep:
        words = "Ballast slides off a roof of {a}; up to {s} it may stand. " + words
    return [
        Finding(
            key="ballast_short",
            level="stop",
            stage="roof",
            part="collector",
            title=say("ballast alone does not hold this field"),
            reason=say(
                words,
                n=Quantity(needed, "mass"),
                h=Quantity(has, "mass"),
                a=Quantity(design.survey.roof_tilt_deg.value, "angle"),
                s=Quantity(STEEPEST_DEG, "angle"),
            ),
            quantity=Quantity(has, "mass"),
            limit=Quantity(needed, "mass"),
            cures=(
                Cure(
                    say("Anchor it in the concrete"), (Change("roof.fixing", "anchor"), Change("roof.carrier", "slab"))
                ),
            ),
            source="defaults, roof",
        )
    ]


def holding_rated(design: Design, roof: RoofResult) -> list[Finding]:
    """Gust or snow beyond what the collector itself is rated for."""
    item, found = design.collector.item.value, []
    for key, value, rated, unit, what in (
        ("collector_gust", roof.gust, item.rated_gust_m_s, "gust", "gust"),
        ("collector_snow", design.roof.snow_pa.value, item.rated_snow_pa, "roof_load", "snow"),
    ):
        if rated is None or value <= rated:
            continue
        found.append(
            Finding(
                key=key,
                level="fix",
                stage="roof",
                part="collector",
                title=say("the collector is rated for less {what}", what=what),
                reason=say(
                    "Here {v} come; its data sheet says {r}. Another collector, or its maker says otherwise.",
                    v=Quantity(value, unit),
                    r=Quantity(rated, unit),
                ),
                quantity=Quantity(value, unit),
                limit=Quantity(rated, unit),
                source="data sheet",
            )
        )
    return found
