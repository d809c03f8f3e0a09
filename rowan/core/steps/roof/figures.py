"""The roof's figures with their why: what a foot holds, what pulls, pushes and slides, how the rails lie. Source: methods 12."""

from __future__ import annotations

from itertools import pairwise

from rowan.core.design.design import Design
from rowan.core.goods.fixings import SHEAR_SHARE, WANTED_RATED
from rowan.core.steps.roof.ballast import FRICTION, ballast_needed
from rowan.core.steps.roof.built_in import built_in_figures
from rowan.core.steps.roof.loads import DEAD_SHARE, LIFT, WIND_PA, snow_force, snow_shape
from rowan.core.steps.roof.place import LEAST_RAILS_SHARE, MOST_RAILS_SHARE, rails_apart, shape_of
from rowan.core.steps.roof.result import Foot, RoofResult
from rowan.core.steps.roof.square import SQUARE_RAD, central_third, diagonal, marking_error
from rowan.core.steps.site.rows import LEAST_SUN_DEG, MOST_LOSS, loss_at, pitch_by_loss, rows_behind, rule_of
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, Window, by_method, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.weather.rows import Rows

PLANNING = "For planning: the local code and an engineer decide."
ADDED_MOST = 0.05  # of what a roof carries now; more is an engineer's, practice of the trade


def roof_figures(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    """All figures of the roof; those of its feet only where there are any."""
    rest = (*_wind(design, roof), *_weight(design, roof), *_rows(design, roof), *built_in_figures(design, roof))
    if not roof.feet:
        return rest
    feet = _feet(design, roof)
    # ballast is judged as a whole
    held = feet[:1] if roof.fixing.key == "ballast" else feet
    return (*held, *_rails(roof), _apart(design), *rest, *_marks(design, roof))


def _pulled(design: Design, roof: RoofResult, hardest: Foot) -> Expression:
    """The lift of one foot: wind on the row less six tenths of its weight, by its share."""
    rail = next(rail for rail in roof.rails if hardest in rail.feet)
    row, item = roof.rows[rail.row], design.collector.item.value
    count = roof.counts[rail.row]
    rails = Symbol(float(design.roof.rails.value), "n", "rails")
    if design.stands_behind:
        # it stands on its own feet: the rear ones are pulled more than their part
        text = "s / L * (w * v ** 2 * c * A * e - k * m * g / rails) / 1000"
        own = {"e": Symbol(rail.wind, "e", "tilting"), "rails": rails}
    else:
        text = "s / L * (w * v ** 2 * c * A - k * m * g * cos(tilt)) / rails / 1000"
        own = {"tilt": Symbol(design.tilt_deg, "β", "", "°"), "rails": rails}
    return Expression(
        text,
        {
            "s": Symbol(hardest.share, "s", "", "m", "what this foot carries of the row"),
            "L": Symbol(row.width, "L", "row", "m"),
            "w": Symbol(WIND_PA, "ρ/2", "", "kg/m³"),
            "v": Symbol(roof.gust, "v", "gust", "m/s"),
            "c": Symbol(LIFT[design.roof.way.value][hardest.zone], "c", hardest.zone),
            "A": Symbol(item.gross_m2 * count, "A", "", "m²"),
            "k": Symbol(DEAD_SHARE, "k", "weight"),
            "m": Symbol(item.dry_mass_kg * count, "m", "", "kg"),
            "g": Symbol(GRAVITY, "g", "", "m/s²"),
            **own,
        },
    )


def _feet(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    hardest = roof.hardest
    assert hardest is not None  # noqa: S101  there are feet
    return (*_held(roof), _hardest(design, roof, hardest), _safety(roof, hardest))


def _held(roof: RoofResult) -> tuple[Figure, ...]:
    return (
        closed_form(
            key="roof_feet",
            name="Feet",
            basis=say("on {n} rails", n=str(len(roof.rails))),
            dimension_name="count",
            sentence=say("As few as the rail's span, its overhang and the lift on each foot allow."),
            expression=Expression("n", {"n": Symbol(float(len(roof.feet)), "n")}),
            letter="n",
            source=methods(12),
            part="collector",
        ),
        by_method(
            key="foot_holds",
            name="Each foot holds",
            basis=say("upward, by {case}", case="its screws" if roof.by_screws else "its data sheet"),
            value=roof.holds_up,
            dimension_name="force",
            sentence=Statement(
                "{name}: {notes}.",
                {"name": roof.fixing.name, "notes": roof.fixing.notes or "as its maker says"},
                capital=True,
            ),
            method=say(
                "The less of its rating and of what its screws hold in this timber. {planning}", planning=PLANNING
            ),
            source=methods(12),
            part="collector",
        ),
    )


def _hardest(design: Design, roof: RoofResult, hardest: Foot) -> Figure:
    wanted = roof.wanted
    return (
        closed_form(
            key="foot_pull",
            name="Hardest pulled foot",
            basis=say("{z} zone, gust {v}", z=hardest.zone, v=Quantity(roof.gust, "gust")),
            dimension_name="force",
            sentence=say(
                "Gusts, not weight, are what fixings fail by: wind lifts the row, six tenths of its weight hold it, and this foot has the largest share. {planning}",
                planning=PLANNING,
            ),
            expression=_pulled(design, roof, hardest),
            letter="F",
            letter_index="up",
            result_unit="kN",
            scale=1000,
            source=methods(12),
            part="collector",
            window=Window(None, roof.holds_up / wanted, f"defaults, roof: {wanted:g} times below what it holds"),
        )
        if hardest.up > 0
        else by_method(
            key="foot_pull",
            name="Hardest pulled foot",
            basis=say("gust {v}", v=Quantity(roof.gust, "gust")),
            value=0.0,
            dimension_name="force",
            sentence=say("The row's weight is more than this gust lifts. {planning}", planning=PLANNING),
            method=say("Lift less six tenths of the weight, by each foot's share."),
            source=methods(12),
            part="collector",
        )
    )


def _safety(roof: RoofResult, hardest: Foot) -> Figure:
    wanted, up = roof.wanted, max(hardest.up, 1.0)
    return closed_form(
        key="foot_safety",
        name="Safety",
        basis=say("held over pulled"),
        dimension_name="ratio",
        decimals=1,
        sentence=say("How many times the hardest pulled foot could be pulled. {planning}", planning=PLANNING),
        expression=Expression("H / F", {"H": Symbol(roof.holds_up, "H", "", "N"), "F": Symbol(up, "F", "up", "N")}),
        letter="S",
        source=methods(12),
        part="collector",
        window=Window(wanted, None, "defaults, roof"),
    )


def _rails(roof: RoofResult) -> tuple[Figure, ...]:
    widest = max(b.x - a.x for rail in roof.rails for a, b in pairwise(rail.feet))
    past = max(max(rail.feet[0].x - rail.start, rail.end - rail.feet[-1].x) for rail in roof.rails if rail.feet)
    width, height = roof.grid
    found = [
        closed_form(
            key="rail_span",
            name="Span of the rail",
            basis=say("widest, foot to foot"),
            dimension_name="length",
            sentence=say(
                "Between two feet the rail bends under snow and is lifted by wind; its maker says how far it may reach."
            ),
            expression=Expression("b", {"b": Symbol(widest, "b", "", "m")}),
            letter="b",
            result_unit="m",
            source=methods(12),
            part="collector",
            window=Window(None, roof.span, "defaults, roof: the fixing's, or the maker's"),
        ),
        closed_form(
            key="rail_end",
            name="Rail end",
            basis=say("beyond the last foot"),
            dimension_name="length",
            sentence=say("A rail may reach past its last foot by less than a third of what it may span."),
            expression=Expression("u", {"u": Symbol(past, "u", "", "m")}),
            letter="u",
            result_unit="m",
            source=methods(12),
            part="collector",
            window=Window(None, roof.overhang, "methods 12, and the fixing's own"),
        ),
    ]
    if width > 0 and height > 0:
        found.append(
            closed_form(
                key="diagonals",
                name="Diagonals",
                basis=say("both the same, within {d}", d=Quantity(_within(width, height), "growth")),
                dimension_name="length",
                decimals=3,
                sentence=say(
                    "Rail end to rail end, crosswise, of the lowest row. Equal diagonals are a right angle, whatever the roof does."
                ),
                expression=Expression(
                    "sqrt(w ** 2 + h ** 2)", {"w": Symbol(width, "w", "", "m"), "h": Symbol(height, "h", "", "m")}
                ),
                letter="d",
                result_unit="m",
                source=methods(12),
                part="collector",
            )
        )
    return tuple(found)


def _apart(design: Design) -> Figure:
    length = shape_of(design).length
    return closed_form(
        key="rails_apart",
        name="Rails apart",
        basis=say("along the collector"),
        dimension_name="length",
        sentence=say(
            "Where its maker has tried it: too close and the ends flap, too far and the middle sags under snow."
        ),
        expression=Expression("a", {"a": Symbol(rails_apart(design), "a", "", "m")}),
        letter="a",
        result_unit="m",
        source=methods(12),
        part="collector",
        window=Window(LEAST_RAILS_SHARE * length, MOST_RAILS_SHARE * length, "defaults, roof: the maker's counts"),
    )


def _within(width: float, height: float) -> float:
    """By how much the two diagonals of a grid may differ [m]."""
    return 2 * SQUARE_RAD * width * height / diagonal(width=width, height=height)


def _wind(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    return (
        closed_form(
            key="gust_pressure",
            name="Gust presses",
            basis=say("{v} at the field", v=Quantity(roof.gust, "gust")),
            dimension_name="roof_load",
            sentence=say("What a gust presses, and at edges and corners sucks, on each square metre."),
            expression=Expression(
                "w * v ** 2 / 1000",
                {"w": Symbol(WIND_PA, "ρ/2", "", "kg/m³"), "v": Symbol(roof.gust, "v", "gust", "m/s")},
            ),
            letter="q",
            result_unit="kN/m²",
            scale=1000,
            source=methods(12),
            part="collector",
        ),
    )


def _weight(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    inputs, item = design.roof, design.collector.item.value
    area = item.gross_m2 * design.collector.count.value
    shape = snow_shape(tilt=design.tilt_deg, slides=inputs.snow_slides.value)
    snow = snow_force(
        ground_snow=inputs.snow_pa.value, tilt=design.tilt_deg, area=area, slides=inputs.snow_slides.value
    )
    found = [
        closed_form(
            key="snow_on_field",
            name="Snow on the field",
            basis=say("{s} of the ground's snow", s=Quantity(shape, "share")),
            dimension_name="force",
            sentence=say(
                "Its weight; what slides off piles up below, where nobody should stand. {planning}", planning=PLANNING
            ),
            expression=Expression(
                "s * mu * A * cos(tilt) / 1000",
                {
                    "s": Symbol(inputs.snow_pa.value, "s", "ground", "N/m²"),
                    "mu": Symbol(shape, "μ"),
                    "A": Symbol(area, "A", "", "m²"),
                    "tilt": Symbol(design.tilt_deg, "β", "", "°"),
                },
            ),
            letter="S",
            result_unit="kN",
            scale=1000,
            source=methods(12),
            part="collector",
        )
        if snow > 0
        else by_method(
            key="snow_on_field",
            name="Snow on the field",
            basis=say("none stays on it"),
            value=0.0,
            dimension_name="force",
            sentence=say("So steep, or in such a place, no snow lies on the collectors. {planning}", planning=PLANNING),
            method=say("Ground snow times its shape on this tilt."),
            source=methods(12),
            part="collector",
        )
    ]
    if design.on_roof:
        found.append(_added(roof))
    if roof.feet:
        found.append(_along(design, roof))
    return tuple(found)


def _added(roof: RoofResult) -> Figure:
    return by_method(
        key="roof_added",
        name="Added to the roof",
        basis=say("of what it carries now"),
        value=roof.added_share,
        dimension_name="share_fine",
        sentence=say("Weight of the full field over that of covering, timber and snow. {planning}", planning=PLANNING),
        method=say("Collectors full, rails, over the usual weight of such a roof and its snow."),
        source=methods(12),
        part="collector",
        window=Window(None, ADDED_MOST, "practice: more than a twentieth is an engineer's"),
    )


def _along(design: Design, roof: RoofResult) -> Figure:
    worst = max(foot.along for foot in roof.feet)
    return by_method(
        key="foot_slide",
        name="Slides on a foot",
        basis=say("down the slope, with its snow"),
        value=worst,
        dimension_name="force",
        sentence=say(
            "The share of snow and weight that pushes down the slope; posts give way sideways long before they pull out. {planning}",
            planning=PLANNING,
        ),
        method=say("Snow and full weight times the sine of the tilt, by each foot's share."),
        source=methods(12),
        part="collector",
        window=Window(
            None, SHEAR_SHARE * roof.holds_down / WANTED_RATED, "defaults, roof: six tenths of what it holds down"
        ),
    )


def _rows(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    """How far rows stand behind each other, and what they still take; what ballast it would need."""
    rows, enough = rows_behind(design), pitch_by_loss(design)
    behind = () if rows is None or enough is None else (_pitch(design, rows, enough), _taken(design, rows, enough))
    return (*behind, *((_ballast(design, roof),) if roof.fixing.key == "ballast" else ()))


def _pitch(design: Design, rows: Rows, enough: float) -> Figure:
    rule = rule_of(design)
    low = ", lower than the rule can use: {f} taken" if rule.floor_used else ""
    return by_method(
        key="row_pitch",
        name="From row to row",
        basis=say(
            "the sun {h} high at 9 on the shortest day{low}",
            low=low,
            h=Quantity(rule.sun_height, "angle"),
            f=Quantity(LEAST_SUN_DEG, "angle"),
        ),
        value=rows.pitch,
        dimension_name="length",
        sentence=say("So far apart no row shades the next from nine to three on the shortest day."),
        method=say("Length, tilt and the sun's height and bearing; {p} by the rule.", p=Quantity(rule.pitch, "length")),
        source=methods(12),
        part="collector",
        window=Window(enough, None, "methods 12: under three in a hundred of the year lost"),
    )


def _taken(design: Design, rows: Rows, enough: float) -> Figure:
    return by_method(
        key="row_loss",
        name="Rows take",
        basis=say("of the year's sun, from each other"),
        value=loss_at(design, rows.pitch),
        dimension_name="share_fine",
        sentence=say(
            "What the rows behind lose to those before them: beam by the shaded part, the sky by the mean masking angle."
        ),
        method=say("The mean day of each month; {p} would do for three in a hundred.", p=Quantity(enough, "length")),
        source=methods(12),
        part="collector",
        window=Window(None, MOST_LOSS, "methods 12"),
    )


def _ballast(design: Design, roof: RoofResult) -> Figure:
    return by_method(
        key="ballast",
        name="Ballast needed",
        basis=say("{h} is there", h=Quantity(design.roof.ballast_kg.value * len(roof.feet), "mass")),
        value=ballast_needed(design, roof),
        dimension_name="mass",
        sentence=say(
            "Against lift, and so heavy that what is left of it does not slide on a wet membrane. {planning}",
            planning=PLANNING,
        ),
        method=say("Lift, and push by {f} of friction, less the field's own weight.", f=Quantity(FRICTION, "ratio", 1)),
        source=methods(12),
        part="collector",
    )


def _marks(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    inputs = design.roof
    if not roof.fixing.timber or inputs.carrier.value == "slab":
        return ()
    width = inputs.line_width_m.value
    return (
        closed_form(
            key="marking",
            name="Marking may miss by",
            basis=say(
                "tape, chalk, pilot{case}", case="" if inputs.found.value == "seen" else ", and finding the rafter"
            ),
            dimension_name="growth",
            sentence=say(
                "The screw has to sit in the central third of the timber: beside it, it pulls out and lets water in."
            ),
            expression=Expression("e * 1000", {"e": Symbol(marking_error(inputs.found.value), "e", "", "m")}),
            letter="e",
            result_unit="mm",
            scale=1e-3,
            source=methods(12),
            part="collector",
            window=Window(None, central_third(width=width), "methods 12: a sixth of the timber each way"),
        ),
    )
