"""What can be wrong on a roof: the field beside it, a roof in doubt, a fixing the covering does not bear, a foot that pulls out."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.goods.fixings import (
    FIXINGS,
    usual_fixing,
)
from rowan.core.steps.roof.built_in import built_in_findings
from rowan.core.steps.roof.fitting import (
    fitting_clearance,
    fitting_fits,
    fitting_objects,
    fitting_shade,
    fitting_unheld,
)
from rowan.core.steps.roof.holding import holding_added, holding_ballast, holding_pulled, holding_rated, holding_slides
from rowan.core.steps.roof.place import LEAST_RAILS_SHARE, MOST_RAILS_SHARE, rails_apart, shape_of
from rowan.core.steps.roof.result import PRACTICE, RoofResult
from rowan.core.steps.roof.square import central_third, marking_error, seen_crooked, square_check
from rowan.core.steps.roof.standing import standing_edge, standing_rows
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

LEAST_BATTEN_M = (0.03, 0.05)  # m, depth and width of a batten a hook may clamp to, defaults: roof
OLD_A = 60.0  # years from which any covering is in doubt, rule of thumb
# years that coverings last, and a field; rules of thumb
LIFE_A = {
    "slate": 100.0, "tile": 70.0, "shingle": 30.0, "metal": 60.0, "sheet": 45.0, "membrane": 30.0, "cement": 50.0,
}  # fmt: skip
CROOKED_M = 0.005  # what the eye sees from the street, rule of thumb


def roof_findings(design: Design, roof: RoofResult) -> tuple[Finding, ...]:
    """All findings of the roof."""
    return (
        *_doubt(design),
        *_fixing(design, roof),
        *_battens(design, roof),
        *built_in_findings(design),
        *_outlived(design),
        *fitting_fits(design, roof),
        *fitting_objects(design, roof),
        *fitting_shade(design, roof),
        *fitting_unheld(design, roof),
        *holding_pulled(design, roof),
        *holding_slides(design, roof),
        *_marking(design, roof),
        *_rails(design),
        *holding_added(design, roof),
        *fitting_clearance(design, roof),
        *_street(design, roof),
        *_square(design, roof),
        *holding_rated(design, roof),
        *holding_ballast(design, roof),
        *standing_rows(design),
        *standing_edge(design),
    )


def _length(value: float) -> Quantity:
    return Quantity(value, "length")


def _doubt(design: Design) -> list[Finding]:
    """A roof that has to be seen by its trade before anything is ordered."""
    roof, age = design.roof, design.roof.age_a.value
    if not design.on_roof:
        return []
    why, change = "", Change("roof.state", "sound")
    if design.survey.covering.value == "cement":
        return [_cement()]
    if roof.state.value == "doubtful":
        why = "The roof is in doubt. A field stands on it for decades, and what is under it is then out of reach."
    elif not roof.access.value:
        why, change = (
            "Nobody can stand on it: whoever mounts a field there falls through or off.",
            Change("roof.access", True),
        )
    elif age is not None and age > OLD_A:
        why = "Its covering is {a} old; it would be re-laid under the field."
    if not why:
        return []
    who = "A roofer has looked: it is sound" if roof.access.value else "A roofer has made a way to work on it"
    extra = () if age is None or age <= OLD_A else (Change("roof.age_a", None),)
    return [
        Finding(
            key="roof_in_doubt",
            level="stop",
            stage="roof",
            part="collector",
            title=say("this roof wants its roofer first: order nothing"),
            reason=say(
                "{why} The roofer looks, and an engineer where timber is soft or bent.",
                why=why,
                a=Quantity(age or 0.0, "years", 0),
            ),
            cures=(Cure(say(who), (change, *extra), note=say("written down with the roofer's name")),),
            source=PRACTICE,
        )
    ]


def _outlived(design: Design) -> list[Finding]:
    """A covering that will be laid anew while the field is on it."""
    age = design.roof.age_a.value
    life, stays = LIFE_A[design.survey.covering.value], design.money.life_years.value
    if not design.on_roof or age is None or age > OLD_A or age + stays <= life:
        return []
    return [
        Finding(
            key="roof_outlived",
            level="mind",
            stage="roof",
            part="collector",
            title=say("the covering is laid anew before the field is old"),
            reason=say(
                "It is {a} old and lasts some {l}; the field stays {f}. Cover it first, or leave feet that stay, unions, and slack by which the collectors lift off.",
                a=Quantity(age, "years", 0),
                l=Quantity(life, "years", 0),
                f=Quantity(stays, "years", 0),
            ),
            quantity=Quantity(age + stays, "years"),
            limit=Quantity(life, "years"),
            cures=(Cure(say("Cover it anew first"), (Change("roof.age_a", 0.0),)),),
            source=PRACTICE,
        )
    ]


def _cement() -> Finding:
    return Finding(
        key="roof_in_doubt",
        level="stop",
        stage="roof",
        part="collector",
        title=say("old fibre-cement: nothing is drilled, nobody stands on it"),
        reason=say(
            "Sheets of that age break under a person and their dust harms the lungs. Whoever is licensed for it takes them off; else the field stands on the ground."
        ),
        cures=(
            Cure(say("Stand the field on the ground"), (Change("roof.way", "ground"), Change("roof.fixing", "usual"))),
            Cure(
                say("Re-roofed with trapezoid sheet first"),
                (Change("survey.covering", "sheet"), Change("roof.fixing", "usual")),
            ),
        ),
        source=PRACTICE,
    )


def _fixing(design: Design, roof: RoofResult) -> list[Finding]:
    covering = design.survey.covering.value
    if roof.verdict in ("usual", "allowed") or (design.on_roof and covering == "cement"):
        return []
    mats, way = design.collector.item.value.kind == "unglazed", design.roof.way.value
    usual = FIXINGS[usual_fixing(covering, way=way, mats=mats)]
    if usual.key == roof.fixing.key:
        return []  # the roof takes none of its kind, which is told with its cure
    dropped = roof.verdict == "dropped"
    return [
        Finding(
            key="fixing_dropped" if dropped else "fixing_discouraged",
            level="stop" if dropped else "mind",
            stage="roof",
            part="collector",
            title=say(
                "{fixing}: {case}", fixing=roof.fixing.name, case="not here" if dropped else "not the first choice here"
            ),
            reason=Statement("{why}.", {"why": roof.verdict_reason}, capital=True),
            cures=(Cure(say("Take the {usual}", usual=usual.name), (Change("roof.fixing", usual.key),)),),
            source="defaults, roof",
        )
    ]


def _battens(design: Design, roof: RoofResult) -> list[Finding]:
    """A hook that is clamped to a batten holds only by it."""
    inputs = design.roof
    if not design.on_roof or roof.fixing.key != "batten":
        return []
    weak = inputs.batten_depth_m.value < LEAST_BATTEN_M[0] or inputs.batten_width_m.value < LEAST_BATTEN_M[1]
    in_edge = any(foot.zone != "field" for foot in roof.feet)
    if not weak and not in_edge:
        return []
    usual = FIXINGS[usual_fixing(design.survey.covering.value)]
    why = (
        "These battens are {d} by {w}; {a} by {b} is the least. "
        if weak
        else "Feet stand in the edge zone, where wind pulls most. "
    )
    return [
        Finding(
            key="battens_weak",
            level="stop",
            stage="roof",
            part="collector",
            title=say("no hook is clamped to these battens"),
            reason=say(
                "{why}A clamped hook holds by its batten and its nails alone.",
                why=why,
                d=Quantity(inputs.batten_depth_m.value, "pipe_size"),
                w=Quantity(inputs.batten_width_m.value, "pipe_size"),
                a=Quantity(LEAST_BATTEN_M[0], "pipe_size"),
                b=Quantity(LEAST_BATTEN_M[1], "pipe_size"),
            ),
            cures=(Cure(say("Take the {usual}", usual=usual.name), (Change("roof.fixing", usual.key),)),),
            source=methods(12),
        )
    ]


def _rails(design: Design) -> list[Finding]:
    """Rails closer or further apart than a collector is tried on."""
    apart, length = rails_apart(design), shape_of(design).length
    low, high = LEAST_RAILS_SHARE * length, MOST_RAILS_SHARE * length
    if round(low, 2) <= round(apart, 2) <= round(high, 2):
        return []
    return [
        Finding(
            key="rails_window",
            level="fix",
            stage="roof",
            part="collector",
            title=say("the rails lie where the collector was not tried"),
            reason=say(
                "They are {a} apart; {l} to {h} is usual for one of {c}, and its maker's own figure counts.",
                a=Quantity(apart, "length"),
                l=Quantity(low, "length"),
                h=Quantity(high, "length"),
                c=Quantity(length, "length"),
            ),
            quantity=Quantity(apart, "length"),
            limit=Quantity(low if apart < low else high, "length"),
            cures=(Cure(say("Three fifths of its length"), (Change("roof.rails_apart_m", None),)),),
            source=methods(12),
        )
    ]


def _marking(design: Design, roof: RoofResult) -> list[Finding]:
    found, width = design.roof.found.value, design.roof.line_width_m.value
    timber = roof.fixing.timber and design.roof.carrier.value != "slab" and roof.feet
    error, third = marking_error(found), central_third(width=width)
    if not timber or error <= third:
        return []
    better = next((way for way in ("edges", "seen") if marking_error(way) <= third and way != found), None)
    words = {"edges": "Feel for both edges and halve", "seen": "Find them from below"}
    return [
        Finding(
            key="marking_error",
            level="fix",
            stage="roof",
            part="collector",
            title=say("the screw may miss the middle of the rafter"),
            reason=say(
                "Tape, chalk, pilot and the finding of the rafter may miss by {e}; in a timber of {w} the central third is {t} each way.",
                e=Quantity(error, "growth"),
                w=Quantity(width, "pipe_size"),
                t=Quantity(third, "growth"),
            ),
            quantity=Quantity(error, "growth"),
            limit=Quantity(third, "growth"),
            cures=(Cure(say(words[better]), (Change("roof.found", better),)),) if better else (),
            source=methods(12),
        )
    ]


def _street(design: Design, roof: RoofResult) -> list[Finding]:
    inputs = design.roof
    seen = seen_crooked(drop=inputs.eave_drop_m.value, eave=roof.plane.width, row=roof.field.width)
    if not design.lies_on_covering or inputs.street.value != "open" or seen < CROOKED_M:
        return []
    return [
        Finding(
            key="eave_not_level",
            level="mind",
            stage="roof",
            part="collector",
            title=say("the eave is not level"),
            reason=say(
                "It drops {d} over {w}. Level rails will look {s} crooked from the street. Go down, look, agree, then tighten.",
                d=Quantity(abs(inputs.eave_drop_m.value), "growth", 0),
                w=_length(roof.plane.width),
                s=Quantity(seen, "growth", 0),
            ),
            quantity=Quantity(seen, "growth"),
            limit=Quantity(CROOKED_M, "growth"),
            cures=(
                Cure(
                    say("Split it: drop {d}", d=Quantity(seen / 2, "growth", 0)),
                    (Change("roof.street", "split", "agreed"),),
                ),
                Cure(say("Stay level"), (Change("roof.street", "level", "agreed"),)),
            ),
            source=PRACTICE,
        )
    ]


def _square(design: Design, roof: RoofResult) -> list[Finding]:
    one, two = design.roof.diagonal_1_m.value, design.roof.diagonal_2_m.value
    width, height = roof.grid
    if one is None or two is None or width <= 0 or height <= 0:
        return []
    check = square_check(diagonal_1=one, diagonal_2=two, width=width, height=height)
    if check.square:
        return []
    way = "right" if check.move > 0 else "left"
    return [
        Finding(
            key="out_of_square",
            level="fix",
            stage="roof",
            part="collector",
            title=say("the rails are not square"),
            reason=say(
                "The diagonals differ by {d}. Move the upper rail {m} to the {way}, measure both again, then tighten.",
                way=way,
                d=Quantity(abs(one - two), "growth", 0),
                m=Quantity(abs(check.move), "growth", 0),
            ),
            quantity=Quantity(abs(one - two), "growth"),
            cures=(
                Cure(
                    say("Moved, measured again: equal"),
                    (Change("roof.diagonal_1_m", None), Change("roof.diagonal_2_m", None)),
                ),
            ),
            source=methods(12),
        )
    ]
