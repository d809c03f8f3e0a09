"""Whether the field lies on its roof, clear of everything, and whether its rails find lines to stand on. Source: methods 12."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.fixings import (
    FIXINGS,
    FixingKey,
    fixings_for,
)
from rowan.core.steps.roof.place import (
    COURSES_FREE,
    feet_of,
    fixing_of,
    laid,
    limits_of,
    objects_of,
    placed,
    plane_of_roof,
    stands_of,
    strips_of,
)
from rowan.core.steps.roof.result import PRACTICE, RoofResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods


def _length(value: float) -> Quantity:
    return Quantity(value, "length")


def fitting_fits(design: Design, roof: RoofResult) -> list[Finding]:
    """The field must lie on the roof."""
    if not design.on_roof or all(row.within(roof.plane) for row in roof.rows):
        return []
    field, (deep, step) = roof.field, laid(design)
    tall = max(int((roof.plane.height - deep) / step + 1 + 1e-9), 0) if roof.plane.height >= deep else 0
    most = roof.fits_across * tall
    fit = say("{most} of them fit, {across} side by side", most=f"{most}", across=f"{roof.fits_across}")
    return [
        Finding(
            key="field_off_roof",
            level="stop",
            stage="roof",
            part="collector",
            title=say("the field does not fit on the roof"),
            reason=say(
                "It is {w} wide and {h} up the slope, the roof {pw} by {ph}: {fit}.",
                fit=fit if most else "not one of them fits",
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
    return lies_clear(changed(design, changes))


def lies_clear(design: Design) -> bool:
    """Whether the field of the first plane lies on it and over nothing."""
    rows, plane = placed(design, fixing_of(design)), plane_of_roof(design)
    things = objects_of(design)
    return all(row.within(plane) for row in rows) and not any(thing.meets(row) for row in rows for thing in things)


def _rows_of(count: int, rows: int) -> str:
    """Collectors in rows as even as can be, as the input takes them."""
    each, more = divmod(count, rows)
    return " + ".join(str(each + (k < more)) for k in range(rows)) if rows > 1 else "1"


def fitting_objects(design: Design, roof: RoofResult) -> list[Finding]:
    """What on the roof a collector would lie on."""
    found = []
    for thing, box in zip(design.roof.objects, roof.objects, strict=True):
        if not design.on_roof or not any(box.meets(row) for row in roof.rows):
            continue
        found.append(
            Finding(
                key=f"on_object_{thing.id}",
                level="stop",
                stage="roof",
                part="collector",
                title=say("the field lies over the {kind}", kind=thing.kind),
                reason=say(
                    "It stands {x} from the left and {y} up the slope.", x=_length(thing.x_m), y=_length(thing.y_m)
                ),
                cures=(Cure(say("Put it where it is clear"), FREE),) if _clear(design, FREE) else (),
                source=PRACTICE,
            )
        )
    return found


def fitting_shade(design: Design, roof: RoofResult) -> list[Finding]:
    """Collectors in the strip that something on the roof shades."""
    found = []
    for thing, box, strip in zip(design.roof.objects, roof.objects, roof.strips, strict=True):
        if strip is None or not design.on_roof or any(box.meets(row) for row in roof.rows):
            continue
        hit = [str(k) for k, collector in enumerate(roof.collectors, 1) if strip.meets(collector)]
        if not hit:
            continue
        which = f"collector {hit[0]} lies" if len(hit) == 1 else f"collectors {', '.join(hit)} lie"
        found.append(
            Finding(
                key=f"in_shade_{thing.id}",
                level="mind",
                stage="roof",
                part="collector",
                title=say("{which} in the {kind}'s shade", which=which, kind=thing.kind),
                reason=say(
                    "It stands {s} over the roof; from nine to three at the equinox its shade passes {w} by {h} of it. The year counts it only where it also stands on the Sun bench.",
                    s=_length(stands_of(thing)),
                    w=_length(strip.width),
                    h=_length(strip.height),
                ),
                cures=(Cure(say("Put it where it is in the sun"), FREE),) if _sunny(design) else (),
                source="rule of thumb: nine to three at the equinox",
            )
        )
    return found


def _sunny(design: Design) -> bool:
    """Whether the field has a place clear of everything and of its shade."""
    after = changed(design, FREE)
    rows, strips = placed(after, fixing_of(after)), strips_of(after)
    return _clear(design, FREE) and not any(s.meets(row) for row in rows for s in strips if s is not None)


def fitting_unheld(design: Design, roof: RoofResult) -> list[Finding]:
    """A rail without a foot: no line to fix it to is within reach."""
    if all(rail.feet for rail in roof.rails):
        return []
    spacing = design.roof.line_spacing_m.value
    options: list[tuple[FixingKey, float]] = [
        (key, FIXINGS[key].span)
        for key, (verdict, _) in fixings_for(design.survey.covering.value, way=design.roof.way.value).items()
        if verdict in ("usual", "allowed") and FIXINGS[key].span > roof.span
    ]
    offered = [Cure(say("Put it where few feet do"), (Change("roof.field_x_m", None),))]
    offered += [Cure(say("Take the {key}", key=FIXINGS[key].name), (Change("roof.fixing", key),)) for key, _ in options]
    cures = tuple(cure for cure in offered if _carried(design, cure.changes))
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


def _carried(design: Design, changes: tuple[Change, ...]) -> bool:
    """Whether every row's rails find lines to stand on once that is changed."""
    after = changed(design, changes)
    fixing = fixing_of(after)
    limits = limits_of(after, fixing)
    return all(feet_of(after, row.x, row.right, limits=limits) for row in placed(after, fixing))


def fitting_clearance(design: Design, roof: RoofResult) -> list[Finding]:
    """What is kept free at the ridge, the eave and the sides."""
    inputs, plane = design.roof, roof.plane
    if not design.on_roof or not all(row.within(plane) for row in roof.rows):
        return []
    side = min(roof.field.x, plane.width - roof.field.right)
    above, wanted = plane.height - roof.field.top, COURSES_FREE * inputs.course_m.value
    short_side = round(side, 2) < round(inputs.side_clear_m.value, 2)
    short_above = design.lies_on_covering and round(above, 2) < round(wanted, 2)
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
            title=say("little room is left {where}", where=where),
            reason=say(
                "{h} are free, {w} are wanted {case}",
                case="for connections and for feet to stand on."
                if short_side
                else "for two courses: flashing and water need them.",
                h=_length(has),
                w=_length(wants),
            ),
            quantity=_length(has),
            limit=_length(wants),
            source=PRACTICE,
        )
    ]
