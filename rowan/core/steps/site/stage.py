"""The site: climate, sun on the roof plane, cold main."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from rowan.core.design.design import Design
from rowan.core.design.planes import beside_part, first_part, parts
from rowan.core.steps.site.rows import rows_behind
from rowan.core.steps.site.shade import shade_figures, shade_findings
from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.limits import ANY_ANGLE, LATITUDE, takes
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH
from rowan.core.weather.cold_main import cold_main
from rowan.core.weather.horizon import OPEN_SKY, Horizon, Screen, obstacle_block
from rowan.core.weather.rows import Rows, behind_in_days
from rowan.core.weather.shading import Shading, shading
from rowan.core.weather.sun import (
    MEAN_DAYS,
    TROPIC_DEG,
    BestPlane,
    PlaneMonths,
    best_plane,
    mean_months,
    plane_months,
    under,
)

MOST_FROM_EQUATOR_DEG = 90.0  # ° from the equator's side; beyond it a roof looks away from the sun


@record
class Sunlight:
    """What is said of the sun on the collectors' plane."""

    figures: tuple[Figure, ...]


@record
class SiteResult:
    """What later stages need of the place. Irradiation [J/m²], temperatures [°C]."""

    months: PlaneMonths
    best: BestPlane
    horizontal_year: float
    plane_year: float
    relative_yield: float
    from_equator_deg: float
    annual_air: float
    monthly_air: tuple[float, ...]
    monthly_cold_main: tuple[float, ...]
    horizon: Horizon
    shading: Shading
    sunlight: Sunlight
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


def ghi_joules(design: Design) -> tuple[float, ...]:
    """Daily global horizontal irradiation of each month [J/m²]."""
    return tuple(x * KWH for x in design.survey.normals.value.ghi_kwh_m2_day)


def horizon_of(design: Design, *, grown: bool = False) -> Horizon:
    """What stands round a design's collectors: the far horizon, and each obstacle as a block; `grown`, as in year 25."""
    screens = tuple(
        Screen(
            obstacle_block(
                bearing=o.bearing_deg,
                distance=o.distance_m,
                width=o.width_m,
                height=o.grown_m if grown and o.grown_m is not None else o.height_m,
            ),
            o.summer,
            o.winter,
        )
        for o in design.sun.obstacles
    )
    points = tuple((p.bearing_deg, p.elevation_deg) for p in design.sun.horizon)
    return Horizon(points, screens, design.survey.latitude_deg.value < 0)


@takes(azimuth=ANY_ANGLE, latitude=LATITUDE)
def from_equator(*, azimuth: float, latitude: float) -> float:
    """Angle between a roof's bearing and the equator's [°], 0 to 180. Both from north."""
    equator = 180.0 if latitude >= 0 else 0.0
    return abs((azimuth - equator + 180) % 360 - 180)


@record
class Plane:
    """The collectors' plane with their incidence factors."""

    tilt: float
    azimuth: float
    b0: float
    k_d: float


@lru_cache(maxsize=64)  # most changes leave the sun alone, and each reckoning asks for the plane free and as it stands
def _on_plane(
    plane: Plane, *, latitude: float, ghi: tuple[float, ...], horizon: Horizon, rows: Rows | None
) -> PlaneMonths:
    """Irradiation of a plane on the mean days of a place under a horizon, with rows that stand behind each other."""
    days = under(latitude=latitude, ghi=ghi, horizon=horizon)
    seen = days if rows is None else behind_in_days(days, rows)
    found = plane_months(days=seen, tilt=plane.tilt, azimuth=plane.azimuth, b0=plane.b0, k_d=plane.k_d)
    return found if rows is None else replace(found, diffuse=found.diffuse * rows.sky_kept)


def _months(design: Design, horizon: Horizon, *, rows: bool = False) -> PlaneMonths:
    """What a design's collectors get on the mean days: on one plane, or on two by how many lie on each."""
    item = design.collector.item.value
    found, counts = [], []
    for part in parts(design):
        plane = Plane(
            tilt=part.tilt_deg,
            azimuth=part.survey.roof_azimuth_deg.value,
            b0=item.b0 if item.kind == "flat" else 0.0,
            k_d=item.k_d,
        )
        found.append(
            _on_plane(
                plane,
                latitude=design.survey.latitude_deg.value,
                ghi=ghi_joules(design),
                horizon=horizon,
                rows=rows_behind(part) if rows else None,
            )
        )
        counts.append(part.collector.count.value)
    return found[0] if len(found) == 1 else mean_months(planes=found, counts=counts)


def irradiation(design: Design) -> float:
    """What falls on a design's planes in a year under its horizon, its rows as if each stood free [J/m²]."""
    return _months(design, horizon_of(design)).year


def reckon_site(design: Design) -> SiteResult:
    """Climate and sun of a design."""
    survey = design.survey
    latitude, ghi = survey.latitude_deg.value, ghi_joules(design)
    horizon = horizon_of(design)
    free = _months(design, OPEN_SKY)
    months = _months(design, horizon, rows=True)
    shade, later = shading(unshaded=free, shaded=months), None
    if any(o.grown_m is not None for o in design.sun.obstacles):
        later = shading(unshaded=free, shaded=_months(design, horizon_of(design, grown=True), rows=True))
    best = best_plane(latitude=latitude, ghi=ghi, horizon=horizon)
    air = tuple(survey.normals.value.air_c)
    main = tuple(cold_main(monthly_air=air, day=float(day), latitude=latitude) for day in MEAN_DAYS)
    horizontal = sum(g * n for g, n in zip(ghi, DAYS_IN_MONTH, strict=True))
    away = from_equator(azimuth=survey.roof_azimuth_deg.value, latitude=latitude)
    yields = _yields(months.year, best)
    sunlight = Sunlight(
        (
            *_sun_figures(yields, months.year, best, one=design.plane_beside is None),
            *shade_figures(shade, later),
            *_turn_figures(design, yields, away),
        )
    )
    figures = _climate_figures(horizontal, main)
    findings = (*_findings(design, months, best), *shade_findings(design, shade, later))
    return SiteResult(
        months,
        best,
        horizontal,
        months.year,
        months.year / best.year,
        away,
        sum(air) / 12,
        air,
        main,
        horizon,
        shade,
        sunlight,
        figures,
        findings,
    )


def _yields(plane: float, best: BestPlane) -> dict[str, Symbol]:
    return {
        "plane": Symbol(plane / KWH, "H", "roof", "kWh/m²"),
        "best": Symbol(best.year / KWH, "H", "best", "kWh/m²"),
    }


def _sun_figures(yields: dict[str, Symbol], plane: float, best: BestPlane, *, one: bool) -> tuple[Figure, ...]:
    return (
        by_method(
            key="plane_irradiation",
            better=1,
            name="Sun on the roof",
            basis=say("a year, on the collectors' plane" if one else "a year, on both planes by their collectors"),
            value=plane,
            dimension_name="irradiation",
            part="collector",
            sentence=say("What falls on the plane of the collectors in a year, by the mean day of each month."),
            method=say(
                "Monthly normals, Erbs' diffuse share, Hay-Davies sky, {n} steps a day, under the horizon.",
                n=Quantity(48, "count"),
            ),
            source=methods(2),
        ),
        closed_form(
            key="orientation",
            name="Against the best plane",
            basis=say("best: {t} tilt toward {a}", t=Quantity(best.tilt, "angle"), a=Quantity(best.azimuth, "angle")),
            dimension_name="share",
            sentence=say("The year on this roof, as a share of the year on the best plane at this place."),
            expression=Expression("plane / best", yields),
            letter="s",
            source=methods(2),
            part="collector",
        ),
    )


def _turn_figures(design: Design, yields: dict[str, Symbol], away: float) -> tuple[Figure, ...]:
    latitude = design.survey.latitude_deg.value
    equator = "south" if latitude >= 0 else "north"
    inside_tropics = abs(latitude) <= TROPIC_DEG
    return (
        closed_form(
            key="area_factor",
            name="Area that buys it back",
            basis=say("times the area at the best plane"),
            dimension_name="ratio",
            decimals=2,
            sentence=say(
                "What is lost to bearing and pitch is bought back by this much more collector, not by the loss itself."
            ),
            expression=Expression("best / plane", yields),
            letter="k",
            source=methods(2),
        ),
        closed_form(
            key="from_equator",
            name=f"Turned from {equator}",
            basis=say("up to 15° costs little"),
            dimension_name="angle",
            sentence=say(
                "Collectors face the equator; what they are turned away from it moves the yield into morning or evening."
            ),
            expression=Expression("away", {"away": Symbol(away, "γ", "roof", "°")}),
            letter="γ",
            window=None
            if inside_tropics
            else Window(None, MOST_FROM_EQUATOR_DEG, "Rowan's rule: more than 90° is to be mended"),
            source=methods(2),
            part="collector",
        ),
    )


def _climate_figures(horizontal: float, main: tuple[float, ...]) -> tuple[Figure, ...]:
    return (
        by_method(
            key="horizontal_irradiation",
            name="Sun on the flat",
            basis=say("a year, from the normals"),
            value=horizontal,
            dimension_name="irradiation",
            sentence=say("The twelve monthly means of the place, added over the days of the year."),
            method=say("Sum of the normals × days."),
            source=methods(1),
        ),
        by_method(
            key="cold_main",
            name="Cold main",
            basis=say("coldest month; warmest {w}", w=Quantity(max(main), "temperature", 1)),
            value=min(main),
            dimension_name="temperature",
            decimals=1,
            sentence=say("Ground and pipes lag behind the air, so cold water is coldest in late winter."),
            method=say("Yearly wave about the mean air temperature, at the mean day of each month."),
            source=methods(1),
        ),
    )


def _findings(design: Design, months: PlaneMonths, best: BestPlane) -> tuple[Finding, ...]:
    """A plane that looks away from the sun: the first, and the other one where collectors lie on it."""
    other, plane = beside_part(design), design.plane_beside
    if other is None or plane is None:
        return tuple(_faces_away(design, months.year / best.year))
    found = _faces_away(first_part(design), irradiation(first_part(design)) / best.year)
    first_only = Cure(
        say("Lay all on the first plane"), (Change(f"roof.planes.{plane.id}.count", 0),), "plane_irradiation"
    )
    for finding in _faces_away(other, irradiation(other) / best.year):
        title = say("the other plane faces away from the sun")
        found.append(replace(finding, key="other_faces_away", title=title, cures=(first_only,)))
    return tuple(found)


def _faces_away(design: Design, share: float) -> list[Finding]:
    latitude = design.survey.latitude_deg.value
    away = from_equator(azimuth=design.survey.roof_azimuth_deg.value, latitude=latitude)
    found: list[Finding] = []
    if away > MOST_FROM_EQUATOR_DEG and abs(latitude) > TROPIC_DEG:
        equator = 180.0 if latitude >= 0 else 0.0
        azimuth = design.survey.roof_azimuth_deg.value
        sign = 1 if (azimuth - equator + 180) % 360 - 180 > 0 else -1
        turned = (equator + sign * MOST_FROM_EQUATOR_DEG) % 360
        found.append(
            Finding(
                key="faces_away",
                level="fix",
                stage="survey",
                part="collector",
                title=say("the roof faces away from the sun"),
                reason=say(
                    "It is turned {a} from the equator and gets {s} of the best plane. Beyond {l} winter sun never reaches it.",
                    a=Quantity(away, "angle"),
                    s=Quantity(share, "share"),
                    l=Quantity(MOST_FROM_EQUATOR_DEG, "angle"),
                ),
                quantity=Quantity(away, "angle"),
                limit=Quantity(MOST_FROM_EQUATOR_DEG, "angle"),
                cures=(
                    Cure(
                        say("Use the opposite slope"),
                        (Change("survey.roof_azimuth_deg", (azimuth + 180) % 360),),
                        "plane_irradiation",
                    ),
                    Cure(
                        say("Turn the rack to {b}", b=Quantity(turned, "angle")),
                        (Change("survey.roof_azimuth_deg", turned),),
                        "plane_irradiation",
                    ),
                ),
                source=methods(2),
            )
        )
    return found
