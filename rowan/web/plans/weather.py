"""Weather years of a firm: taken from files, kept by their content, found again by the plans that name them."""

from __future__ import annotations

import zlib

import numpy as np
from django.db import transaction

from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Origin
from rowan.core.goods.items import Normals, WeatherItem
from rowan.core.goods.places import PLACES
from rowan.core.goods.places import Place as Climate
from rowan.core.simulation.cache import Kept
from rowan.core.studies.choices import place_changes
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.finding import Change
from rowan.core.weather.files import COLUMNS, WeatherFile
from rowan.core.weather.hours import Place, Sky, Weather
from rowan.core.weather.station import Apart, apart
from rowan.web.accounts.models import Firm
from rowan.web.plans.models import FirmPlace, WeatherYear

_kept = Kept(8)


@transaction.atomic
def keep_weather(*, firm: Firm, found: WeatherFile) -> WeatherYear:
    """A weather year of the firm; the same rows are kept once."""
    sky = found.sky
    rows = np.stack([getattr(sky.weather, name) for name in COLUMNS]).astype("<f4")
    year, _ = WeatherYear.objects.get_or_create(
        firm=firm,
        digest=sky.digest,
        defaults={
            "name": sky.name,
            "kind": found.kind,
            "latitude": sky.place.latitude,
            "longitude": sky.place.longitude,
            "altitude": sky.place.altitude,
            "utc_offset": sky.place.utc_offset,
            "rows": zlib.compress(rows.tobytes()),
            "means": {"ghi": found.ghi_kwh_m2_day, "air": found.air_c, "coldest": found.coldest_c},
            "mended": list(found.mended),
        },
    )
    return year


def sky_of_year(year: WeatherYear) -> Sky:
    """The rows of a kept year."""
    sky = _kept.get(year.digest)
    if sky is None:
        rows = np.frombuffer(zlib.decompress(bytes(year.rows)), dtype="<f4").reshape(len(COLUMNS), HOURS).astype(float)
        place = Place(year.latitude, year.longitude, year.altitude, year.utc_offset)
        weather = Weather(ghi=rows[0], dni=rows[1], dhi=rows[2], air=rows[3])
        sky = _kept.keep(year.digest, Sky(place, weather, year.name, year.digest))
    return sky  # type: ignore[no-any-return]


def measured_sky(design: Design, firm_id: int) -> Sky | None:
    """The weather year a design names, if the firm has it; None for the made one."""
    item = design.survey.weather.value
    if item is None:
        return None
    year = WeatherYear.objects.filter(firm_id=firm_id, digest=item.digest).first()
    return None if year is None else sky_of_year(year)


def changes_to_year(year: WeatherYear) -> list[Change]:
    """What taking a weather year into a plan changes: place, normals, and the year itself. The design minimum stays."""
    origin: Origin = "data sheet"
    item = WeatherItem(name=year.name, digest=year.digest)
    normals = Normals(ghi_kwh_m2_day=list(year.means["ghi"]), air_c=list(year.means["air"]))
    return [
        Change("survey.place", year.name[:80], origin),
        Change("survey.latitude_deg", round(year.latitude, 4), origin),
        Change("survey.longitude_deg", round(year.longitude, 4), origin),
        Change("survey.altitude_m", round(max(-400.0, min(5000.0, year.altitude)), 1), origin),
        Change("survey.normals", normals, origin),
        Change("survey.weather", item, origin),
    ]


def places_of(firm: Firm | None) -> dict[str, Climate]:
    """Places that may be chosen, by name: the firm's own first, then Rowan's."""
    own = {} if firm is None else {place.name: climate_of(place) for place in firm.places.all()}
    return {**own, **{name: place for name, place in PLACES.items() if name not in own}}


def climate_of(place: FirmPlace) -> Climate:
    """A firm's place as the core knows one."""
    return Climate(
        place.name, place.latitude, place.longitude, place.altitude, place.coldest, place.hardness,
        tuple(place.ghi), tuple(place.air),
    )  # fmt: skip


def weather_of_place(firm: Firm | None, name: str) -> list[Change]:
    """The weather year that a firm's place brings into a plan; nothing for a place without one."""
    found = None if firm is None else firm.places.exclude(year=None).filter(name=name).select_related("year").first()
    if found is None or found.year is None:
        return []
    return [Change("survey.weather", WeatherItem(name=found.year.name, digest=found.year.digest), "data sheet")]


def station_of(year: WeatherYear, design: Design) -> Apart:
    """How far a plan's place is from where its year was measured."""
    survey = design.survey
    return apart(
        latitude=survey.latitude_deg.value,
        longitude=survey.longitude_deg.value,
        altitude=survey.altitude_m.value,
        to_latitude=year.latitude,
        to_longitude=year.longitude,
        to_altitude=year.altitude,
    )


def changes_to_place(design: Design, name: str, firm: Firm | None = None) -> list[Change]:
    """What taking a place changes; empty for one that nobody knows."""
    place = places_of(firm).get(name)
    if place is None:
        return []
    return [Change("survey.place", name, "agreed"), *place_changes(design, place), *weather_of_place(firm, name)]
