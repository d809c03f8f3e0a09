"""What can be wrong on a roof: the field beside it, a roof in doubt, a fixing the covering does not bear, a foot that pulls out."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.fixings import (
    FIXINGS,
    SHEAR_SHARE,
    SUITS,
    WANTED_RATED,
    WANTED_WITHDRAWAL,
    FixingKey,
    suits,
    usual_fixing,
)
from rowan.core.steps.roof.figures import ADDED_MOST
from rowan.core.steps.roof.place import COURSES_FREE, fixing_of, objects_of, placed, plane_of_roof, shape_of
from rowan.core.steps.roof.result import RoofResult
from rowan.core.steps.roof.square import central_third, marking_error, seen_crooked, square_check
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

PRACTICE = "practice: the roof"
OLD_A = 60.0  # years from which any covering is in doubt, rule of thumb
CROOKED_M = 0.005  # what the eye sees from the street, rule of thumb
ON_ROOF = ("flush", "rack")


def roof_findings(design: Design, roof: RoofResult) -> tuple[Finding, ...]:
    """All findings of the roof."""
    return (
        *_doubt(design),
        *_fixing(design, roof),
        *_fits(design, roof),
        *_objects(design, roof),
        *_unheld(design, roof),
        *_pulled(design, roof),
        *_slides(design, roof),
        *_marking(design, roof),
        *_added(design, roof),
        *_clearance(design, roof),
        *_street(design, roof),
        *_square(design, roof),
        *_rated(design, roof),
    )


def _length(value: float) -> Quantity:
    return Quantity(value, "length")


def _doubt(design: Design) -> list[Finding]:
    """A roof that has to be seen by its trade before anything is ordered."""
    roof, age = design.roof, design.roof.age_a.value
    if roof.way.value not in ON_ROOF:
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
                why + " The roofer looks, and an engineer where timber is soft or bent.",
                a=Quantity(age or 0.0, "years", 0),
            ),
            cures=(Cure(say(who), (change, *extra), note=say("written down with the roofer's name")),),
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
    if design.roof.way.value not in ON_ROOF or roof.verdict in ("usual", "allowed") or covering == "cement":
        return []
    mats = design.collector.item.value.kind == "unglazed"
    usual = FIXINGS[usual_fixing(covering, mats=mats)]
    dropped = roof.verdict == "dropped"
    return [
        Finding(
            key="fixing_dropped" if dropped else "fixing_discouraged",
            level="stop" if dropped else "mind",
            stage="roof",
            part="collector",
            title=say(f"{roof.fixing.name}: {'not on this covering' if dropped else 'not the first choice here'}"),
            reason=say(roof.verdict_reason[0].upper() + roof.verdict_reason[1:] + "."),
            cures=(Cure(say(f"Take the {usual.name}"), (Change("roof.fixing", usual.key),)),),
            source="defaults, roof",
        )
    ]


def _fits(design: Design, roof: RoofResult) -> list[Finding]:
    """The field must lie on the roof."""
    if design.roof.way.value not in ON_ROOF or all(row.within(roof.plane) for row in roof.rows):
        return []
    shape, field, apart = shape_of(design), roof.field, design.roof.row_gap_m.value
    tall = max(int((roof.plane.height + apart) / (shape.length + apart)), 0)
    most = roof.fits_across * tall
    fit = f"{most} of them fit, {roof.fits_across} side by side" if most else "not one of them fits"
    return [
        Finding(
            key="field_off_roof",
            level="stop",
            stage="roof",
            part="collector",
            title=say("the field does not fit on the roof"),
            reason=say(
                "It is {w} wide and {h} up the slope, the roof {pw} by {ph}: " + fit + ".",
                w=_length(field.width),
                h=_length(field.height),
                pw=_length(roof.plane.width),
                ph=_length(roof.plane.height),
            ),
            quantity=_length(field.width),
            limit=_length(roof.plane.width),
            cures=tuple(_fitting(design, roof, tall)),
            source=methods(12),
        )
    ]


FREE = (Change("roof.field_x_m", None), Change("roof.field_y_m", None))


def _fitting(design: Design, roof: RoofResult, tall: int) -> Iterator[Cure]:
    """What makes the field lie on the roof, clear of everything: another place, more rows, fewer collectors; each tried first."""
    count, across = design.collector.count.value, roof.fits_across
    if _clear(design, FREE):
        yield Cure(say("Put it where it fits"), FREE)
        return
    for rows in range(max(-(-count // max(across, 1)), 1), tall + 1):
        even = (Change("collector.rows", _rows_of(count, rows)), *FREE)
        if _clear(design, even):
            yield Cure(say("Lay it in {n} rows", n=str(rows)), even)
            return
    for fewer in range(min(across * tall, count - 1), 0, -1):
        rows = -(-fewer // across)
        less = (Change("collector.count", fewer), Change("collector.rows", _rows_of(fewer, rows)), *FREE)
        if _clear(design, less):
            yield Cure(say("Take {n} collectors", n=str(fewer)), less, "solar_share")
            return


def _clear(design: Design, changes: tuple[Change, ...]) -> bool:
    """Whether the field lies on the roof and over nothing once that is changed."""
    after = changed(design, changes)
    rows, things = placed(after, fixing_of(after)), objects_of(after)
    on_plane = all(row.within(plane_of_roof(after)) for row in rows)
    return on_plane and not any(row.meets(thing) for row in rows for thing in things)


def _rows_of(count: int, rows: int) -> str:
    """Collectors in rows as even as can be, as the input takes them."""
    each, more = divmod(count, rows)
    return " + ".join(str(each + (k < more)) for k in range(rows)) if rows > 1 else "1"


def _objects(design: Design, roof: RoofResult) -> list[Finding]:
    found = []
    for thing, box in zip(design.roof.objects, roof.objects, strict=True):
        if design.roof.way.value not in ON_ROOF or not any(row.meets(box) for row in roof.rows):
            continue
        found.append(
            Finding(
                key=f"on_object_{thing.id}",
                level="stop",
                stage="roof",
                part="collector",
                title=say(f"the field lies over the {thing.kind}"),
                reason=say(
                    "It stands {x} from the left and {y} up the slope.", x=_length(thing.x_m), y=_length(thing.y_m)
                ),
                cures=(Cure(say("Put it where it is clear"), FREE),) if _clear(design, FREE) else (),
                source=PRACTICE,
            )
        )
    return found


def _unheld(design: Design, roof: RoofResult) -> list[Finding]:
    if all(rail.feet for rail in roof.rails):
        return []
    spacing = design.roof.line_spacing_m.value
    options: list[tuple[FixingKey, float]] = [
        (key, FIXINGS[key].span)
        for key in SUITS[design.survey.covering.value]
        if suits(design.survey.covering.value, key)[0] in ("usual", "allowed") and FIXINGS[key].span > roof.span
    ]
    cures = tuple(
        Cure(say(f"Take the {FIXINGS[key].name}"), (Change("roof.fixing", key),))
        for key, span in options
        if span >= spacing
    )
    if design.roof.field_x_m.value is not None:
        cures = (Cure(say("Put it where few feet do"), (Change("roof.field_x_m", None),)), *cures)
    on_roof = all(row.within(roof.plane) for row in roof.rows)
    if not on_roof:
        return []  # said already, with its cure
    return [
        Finding(
            key="rail_unheld",
            level="stop",
            stage="roof",
            part="collector",
            title=say("no feet allow this rail"),
            reason=say(
                "Rafters or seams lie {s} apart; the rail may span {b} and reach {u} past its last foot. A stronger rail, a maker's longer span, or timber between the rafters.",
                s=_length(spacing),
                b=_length(roof.span),
                u=_length(roof.overhang),
            ),
            quantity=_length(spacing),
            limit=_length(roof.span),
            cures=cures,
            source=methods(12),
        )
    ]


def _pulled(design: Design, roof: RoofResult) -> list[Finding]:
    hardest = roof.hardest
    wanted = WANTED_WITHDRAWAL if roof.by_screws else WANTED_RATED
    if hardest is None or hardest.up <= 0 or round(roof.holds_up / hardest.up, 1) >= wanted:
        return []
    cures = []
    if design.roof.rails.value < 4:
        more = design.roof.rails.value + 1
        cures.append(Cure(say("{n} rails a row", n=str(more)), (Change("roof.rails", more),), "foot_safety"))
    covering = design.survey.covering.value
    stronger = [
        key
        for key in SUITS[covering]
        if suits(covering, key)[0] in ("usual", "allowed") and (FIXINGS[key].holds_up or 0.0) > roof.holds_up
    ]
    cures += [
        Cure(say(f"Take the {FIXINGS[key].name}"), (Change("roof.fixing", key),), "foot_safety") for key in stronger[:1]
    ]
    return [
        Finding(
            key="foot_pulls_out",
            level="stop",
            stage="roof",
            part="collector",
            title=say("a gust may pull the field off"),
            reason=say(
                "The hardest pulled foot, in the {z} zone, is lifted with {f}; it holds {h}, {s} are wanted. On every line there is a foot already: more rails, another fixing, or an engineer. For planning: the local code and an engineer decide.",
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


def _slides(design: Design, roof: RoofResult) -> list[Finding]:
    worst = max((foot.along for foot in roof.feet), default=0.0)
    pressed = max((foot.down for foot in roof.feet), default=0.0)
    along, down = SHEAR_SHARE * roof.holds_down / WANTED_RATED, roof.holds_down / WANTED_RATED
    if worst <= along and pressed <= down:
        return []
    slides = worst / along > pressed / down
    more = design.roof.rails.value + 1
    cures = (Cure(say("{n} rails a row", n=str(more)), (Change("roof.rails", more),)),) if more <= 4 else ()
    return [
        Finding(
            key="foot_overloaded",
            level="fix",
            stage="roof",
            part="collector",
            title=say("snow pushes more than a foot bears"),
            reason=say(
                (
                    "Down the slope a foot gets {f}, {l} is what it holds. "
                    if slides
                    else "A foot is pressed with {f}, {l} is what it holds. "
                )
                + "For planning: the local code and an engineer decide.",
                f=Quantity(worst if slides else pressed, "force"),
                l=Quantity(along if slides else down, "force"),
            ),
            quantity=Quantity(worst if slides else pressed, "force"),
            limit=Quantity(along if slides else down, "force"),
            cures=cures,
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


def _added(design: Design, roof: RoofResult) -> list[Finding]:
    if design.roof.way.value not in ON_ROOF or round(roof.added_share, 3) <= ADDED_MOST:
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


def _clearance(design: Design, roof: RoofResult) -> list[Finding]:
    inputs, plane = design.roof, roof.plane
    if inputs.way.value not in ON_ROOF or not all(row.within(plane) for row in roof.rows):
        return []
    side = min(roof.field.x, plane.width - roof.field.right)
    above, wanted = plane.height - roof.field.top, COURSES_FREE * inputs.course_m.value
    short_side = round(side, 2) < round(inputs.side_clear_m.value, 2)
    short_above = inputs.way.value == "flush" and round(above, 2) < round(wanted, 2)
    if not short_side and not short_above:
        return []
    has, wants = (side, inputs.side_clear_m.value) if short_side else (above, wanted)
    where = "at its side" if short_side else "above it"
    return [
        Finding(
            key="field_clearance",
            level="mind",
            stage="roof",
            part="collector",
            title=say(f"little room is left {where}"),
            reason=say(
                "{h} are free, {w} are wanted "
                + (
                    "for connections and for feet to stand on."
                    if short_side
                    else "for two courses: flashing and water need them."
                ),
                h=_length(has),
                w=_length(wants),
            ),
            quantity=_length(has),
            limit=_length(wants),
            source=PRACTICE,
        )
    ]


def _street(design: Design, roof: RoofResult) -> list[Finding]:
    inputs = design.roof
    seen = seen_crooked(drop=inputs.eave_drop_m.value, eave=roof.plane.width, row=roof.field.width)
    if inputs.way.value not in ON_ROOF or inputs.street.value != "open" or seen < CROOKED_M:
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
                "The diagonals differ by {d}. Move the upper rail {m} to the "
                + way
                + ", measure both again, then tighten.",
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


def _rated(design: Design, roof: RoofResult) -> list[Finding]:
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
                title=say(f"the collector is rated for less {what}"),
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
