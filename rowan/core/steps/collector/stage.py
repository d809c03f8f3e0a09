"""The field: rating, stagnation, and the year's heat by the monthly correlation."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.goods.collector_rating import rating_of, stagnation_of
from rowan.core.goods.efficiency import (
    REFERENCE_IRRADIANCE,
    STANDARD_AIR_C,
    STANDARD_IRRADIANCE,
    InletRating,
    Rating,
    mean_to_inlet,
    stagnation_temperature,
)
from rowan.core.steps.collector.correlation import Field, Month, MonthFraction, exchanger_factor, month_fraction
from rowan.core.steps.collector.findings import flag_findings
from rowan.core.steps.duty.stage import DutyResult
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.site.stage import SiteResult
from rowan.core.steps.store.result import StoreResult
from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError, RowanError
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, Window, by_method, closed_form, refusal_statement, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH

HOT_WATER = ("household", "commercial")
BRAZED_C, BRAZE_STEP_C = 400.0, 10.0  # °C a brazed copper joint stands, and the step it is told in; rule of thumb
STEP = 0.02  # the field is shrunk by this much at a time until a month lies inside the correlation


@record
class CollectorResult:
    """Ratings, stagnation [°C], heat of the year [J] with its months, and the share of the duty [-]."""

    rating: Rating
    inlet: InletRating
    stagnation: float
    monthly_heat: tuple[float, ...]
    year_heat: float | None
    share: float | None
    bounded_months: tuple[int, ...]
    # why the monthly correlation, a check beside the year, says nothing here; None where it does
    unchecked: Statement | None
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


def _month(field: Field, month: Month, per_m2: float) -> tuple[MonthFraction, bool]:
    """The fraction of a month; outside the correlation that of the largest part of the field inside it, a lower bound."""
    area, bounded = field.area, False
    while True:
        try:
            part = Field(area, field.fr_ul, field.fr_tau_alpha, field.exchanger_factor, field.incidence_factor)
            return month_fraction(field=part, month=month, store_per_area=per_m2), bounded
        except OutOfRangeError as error:
            if not error.name.startswith(("X", "Y")) or area < STEP * field.area:
                raise
            area, bounded = area - STEP * field.area, True


def _year(
    design: Design, site: SiteResult, duty: DutyResult, run: RunResult, store: StoreResult, inlet: InletRating
) -> tuple[tuple[float, ...], tuple[int, ...]]:
    """Solar heat used by month [J] and the months that are lower bounds."""
    if design.duty.kind.value not in HOT_WATER or design.heats_house:
        raise ImpossibleInputError("it is made for hot water; the year says what this duty gets")
    factor = exchanger_factor(
        area=design.area_m2, fr_ul=inlet.fr_ul, capacity_rate=run.capacity_rate, coil_conductance=store.coil_conductance
    )
    heat, bounded = [], []
    for i in range(12):
        field = Field(design.area_m2, inlet.fr_ul, inlet.fr_tau_alpha, factor, float(site.months.incidence_factor[i]))
        month = Month(
            float(site.months.total[i]),
            site.monthly_air[i],
            DAYS_IN_MONTH[i],
            duty.monthly_heat[i],
            design.duty.tap_c.value,
            site.monthly_cold_main[i],
        )
        found, is_bound = _month(field, month, store.litres_per_m2)
        heat.append(found.fraction * duty.monthly_heat[i])
        if is_bound:
            bounded.append(i)
    return tuple(heat), tuple(bounded)


def reckon_collector(
    design: Design, site: SiteResult, duty: DutyResult, run: RunResult, store: StoreResult
) -> CollectorResult:
    """Field of a design, its stagnation and its year."""
    rating = rating_of(design.collector.item.value)
    inlet = mean_to_inlet(rating=rating, area=design.area_m2, flow=run.mass_flow, heat_capacity=run.heat_capacity)
    dry = stagnation_of(design.collector.item.value)
    refusal: RowanError | None = None
    try:
        monthly, bounded = _year(design, site, duty, run, store, inlet)
        year: float | None = sum(monthly)
    except (OutOfRangeError, ImpossibleInputError) as error:
        monthly, bounded, year, refusal = (), (), None, error
    share = None if year is None else year / duty.year_heat
    figures = (*_field_figures(design, rating), *_working_figures(design, run, rating))
    if year is not None:
        figures += _year_figures(design, year, duty, bounded)
    findings = (*_parts(design, dry), *_tilt(design), *flag_findings(design, site))
    why = "The monthly correlation, a check beside the year, refuses: {refusal}."
    unchecked = None if refusal is None else refusal_statement(refusal, why)
    return CollectorResult(rating, inlet, dry, monthly, year, share, bounded, unchecked, figures, findings)


def _field_figures(design: Design, rating: Rating) -> tuple[Figure, ...]:
    item, count = design.collector.item.value, design.collector.count.value
    return (
        closed_form(
            key="aperture",
            name="Aperture",
            basis=say("{count} × {item}", count=f"{count}", item=item.name),
            dimension_name="area",
            part="collector",
            sentence=say("The glass that light comes through; every rule by area means this one."),
            expression=Expression("n * a", {"n": Symbol(count, "n"), "a": Symbol(item.aperture_m2, "A", "each", "m²")}),
            letter="A",
            source=methods(3),
        ),
        _stagnation_figure(design, rating),
    )


def _stagnation_figure(design: Design, rating: Rating) -> Figure:
    """By the rating, or as the maker measured it."""
    measured = design.collector.item.value.stagnation_c
    basis = say(
        "{g}, air {t}",
        g=Quantity(STANDARD_IRRADIANCE, "irradiance"),
        t=Quantity(STANDARD_AIR_C, "temperature"),
    )
    words = say("With nothing carrying heat away the absorber warms until it loses what it takes in.")
    window = Window(
        None,
        min(design.run.joint_rating_c.value, design.run.pipe.value.rating_c),
        "rating of the joints near the field",
    )
    if measured is not None:
        return by_method(
            key="stagnation",
            name="Dry, in full sun",
            basis=basis,
            value=measured,
            dimension_name="temperature",
            part="collector",
            sentence=words,
            method=say("As its maker measured it; by its rating it would be {t}.", t=_by_rating(rating)),
            window=window,
            source=methods(3),
        )
    return closed_form(
        key="stagnation",
        name="Dry, in full sun",
        basis=basis,
        dimension_name="temperature",
        part="collector",
        sentence=words,
        expression=_stagnation_expression(rating),
        letter="T",
        letter_index="dry",
        result_unit="°C",
        window=window,
        source=methods(3),
    )


def _by_rating(rating: Rating) -> Quantity:
    return Quantity(stagnation_temperature(rating=rating), "temperature")


def _working_figures(design: Design, run: RunResult, rating: Rating) -> tuple[Figure, ...]:
    at = run.temperatures
    return (
        closed_form(
            key="working_efficiency",
            name="Turns to heat",
            basis=say(
                "loop at {t}, {g}", t=Quantity(at.mean, "temperature"), g=Quantity(REFERENCE_IRRADIANCE, "irradiance")
            ),
            dimension_name="share",
            part="collector",
            sentence=say("What the absorber gains, less what it loses for being warmer than the air of the year."),
            expression=Expression(
                "eta - a1 * dT / G - a2 * dT ** 2 / G",
                {
                    "eta": Symbol(rating.eta0, "η", "0"),
                    "a1": Symbol(rating.a1, "a", "1", "W/m²K"),
                    "a2": Symbol(rating.a2, "a", "2", "W/m²K²"),
                    "dT": Symbol(max(at.mean - _air(design), 0), "ΔT", "", "K"),
                    "G": Symbol(REFERENCE_IRRADIANCE, "G", "", "W/m²"),
                },
            ),
            letter="η",
            source=methods(3),
        ),
        closed_form(
            key="rise",
            name="Rise over the field",
            basis=say("at {g}", g=Quantity(REFERENCE_IRRADIANCE, "irradiance")),
            dimension_name="difference",
            part="collector",
            sentence=say("How much warmer the loop leaves the field than it came, at working flow in good sun."),
            expression=Expression(
                "G * eta * A / (m * c)",
                {
                    "G": Symbol(REFERENCE_IRRADIANCE, "G", "", "W/m²"),
                    "eta": Symbol(at.efficiency, "η"),
                    "A": Symbol(design.area_m2, "A", "", "m²"),
                    "m": Symbol(run.mass_flow, "ṁ", "", "kg/s"),
                    "c": Symbol(run.heat_capacity, "c", "p", "J/kg·K"),
                },
            ),
            letter="ΔT",
            source=methods(8),
        ),
    )


def _year_figures(design: Design, year: float, duty: DutyResult, bounded: tuple[int, ...]) -> tuple[Figure, ...]:
    """The year by the correlation; `bounded` months are lower bounds."""
    months = f", {len(bounded)} months at least" if bounded else ""
    return (
        by_method(
            key="solar_heat",
            name="The correlation says",
            basis=say("a year, to check the year run through{months}", months=months),
            value=year,
            dimension_name="energy",
            part="store",
            sentence=say(
                "What of the hot water's heat the sun brings by monthly means alone: a check by another way, no promise."
            ),
            method=say(
                "Monthly utilisation correlation, liquid systems, with store, exchanger and hot-water corrections.{case}",
                case=" Months beyond its range are taken with the part of the field inside it: a lower bound."
                if bounded
                else "",
            ),
            source=methods(6),
        ),
        closed_form(
            key="solar_share",
            name="Share of the hot water",
            basis=say("by the correlation, store loss left out"),
            dimension_name="share",
            part="store",
            sentence=say("Solar heat used over the heat of all hot water, store loss left out."),
            expression=Expression(
                "Q / L",
                {"Q": Symbol(year / KWH, "Q", "solar", "kWh"), "L": Symbol(duty.year_heat / KWH, "L", "", "kWh")},
            ),
            letter="f",
            source=methods(6),
        ),
        closed_form(
            key="solar_per_m2",
            name="Heat by area",
            basis=say("by the correlation, on the aperture"),
            dimension_name="irradiation",
            part="collector",
            sentence=say("The same heat shared over the aperture, to compare collectors of different size."),
            expression=Expression(
                "Q / A", {"Q": Symbol(year / KWH, "Q", "solar", "kWh"), "A": Symbol(design.area_m2, "A", "", "m²")}
            ),
            letter="q",
            result_unit="kWh/m²",
            scale=KWH,
            source=methods(6),
        ),
    )


def _air(design: Design) -> float:
    air = design.survey.normals.value.air_c
    return sum(air) / len(air)


def _stagnation_expression(rating: Rating) -> Expression:
    symbols = {
        "T": Symbol(STANDARD_AIR_C, "T", "air", "°C"),
        "eta": Symbol(rating.eta0, "η", "0"),
        "a1": Symbol(rating.a1, "a", "1", "W/m²K"),
        "a2": Symbol(rating.a2, "a", "2", "W/m²K²"),
        "G": Symbol(STANDARD_IRRADIANCE, "G", "", "W/m²"),
    }
    return Expression("T + 2 * eta * G / (a1 + sqrt(a1 ** 2 + 4 * a2 * eta * G))", symbols)


def _parts(design: Design, dry: float) -> list[Finding]:
    pipe, joint = design.run.pipe.value, design.run.joint_rating_c
    found = []
    if pipe.material == "plastic" and dry > pipe.rating_c:
        copper = pipe.model_copy(update={"material": "copper", "rating_c": 400.0, "name": "Copper of that size"})
        found.append(
            Finding(
                key="plastic_on_loop",
                level="stop",
                stage="run",
                part="hot_line",
                title=say("plastic pipe cannot stand this loop"),
                reason=say(
                    "The dry field reaches {t}; this pipe is rated {r}. It swells and splits, on a trial afternoon too.",
                    t=Quantity(dry, "temperature"),
                    r=Quantity(pipe.rating_c, "temperature"),
                ),
                quantity=Quantity(dry, "temperature"),
                limit=Quantity(pipe.rating_c, "temperature"),
                cures=(Cure(say("Lay copper"), (Change("run.pipe", copper),), "velocity"),),
                source="practice: the run",
            )
        )
    elif dry > min(joint.value, pipe.rating_c):
        found.append(
            Finding(
                key="part_rating",
                level="stop",
                stage="collector",
                part="collector",
                title=say("the joints will not stand stagnation"),
                reason=say(
                    "Dry in full sun the field reaches {t}; they are rated {r}. Braze them, or use fittings rated above it.",
                    t=Quantity(dry, "temperature"),
                    r=Quantity(joint.value, "temperature"),
                ),
                quantity=Quantity(dry, "temperature"),
                limit=Quantity(joint.value, "temperature"),
                cures=_brazed(design, dry),
                source=methods(3),
            )
        )
    return found


def _brazed(design: Design, dry: float) -> tuple[Cure, ...]:
    """Joints brazed, where copper pipe and braze stand what the field comes to dry [°C]."""
    better = math.ceil(dry / BRAZE_STEP_C) * BRAZE_STEP_C
    if better > BRAZED_C or design.run.pipe.value.rating_c < dry:
        return ()
    words = say("Braze them: good for {t}", t=Quantity(better, "temperature"))
    return (Cure(words, (Change("run.joint_rating_c", better),)),)


def _tilt(design: Design) -> list[Finding]:
    item, tilt = design.collector.item.value, design.tilt_deg
    if item.least_tilt_deg <= tilt <= item.most_tilt_deg:
        return []
    flat = tilt < item.least_tilt_deg
    limit = item.least_tilt_deg if flat else item.most_tilt_deg
    level: Level = "stop" if item.kind == "heat pipe" and flat else "fix"
    why = (
        "Flatter than that a heat pipe does not return its liquid."
        if level == "stop"
        else "The maker does not stand for it beyond."
    )
    return [
        Finding(
            key="tilt_outside",
            level=level,
            stage="collector",
            part="collector",
            title=say("this collector may not lie at this tilt"),
            reason=say(
                "The roof is at {t}; the data sheet allows {l}. {why}",
                why=why,
                t=Quantity(tilt, "angle"),
                l=Quantity(limit, "angle"),
            ),
            quantity=Quantity(tilt, "angle"),
            limit=Quantity(limit, "angle"),
            cures=(
                Cure(
                    say("Rack it at {l}", l=Quantity(limit, "angle")),
                    (Change("survey.roof_tilt_deg" if design.lies_on_covering else "roof.tilt_deg", limit),),
                    "year_solar",
                ),
            ),
            source="data sheet of the collector",
        )
    ]
