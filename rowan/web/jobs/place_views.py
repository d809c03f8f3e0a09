"""The firm's places: by twelve means, or by a weather file with its own station."""

from __future__ import annotations

import re
from pathlib import PurePath

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, System, typed_to_si
from rowan.core.weather.files import LARGEST_BYTES, WeatherFileError, read_weather
from rowan.core.weather.station import apart
from rowan.web.accounts.models import Firm
from rowan.web.plans.models import FirmPlace, WeatherYear
from rowan.web.plans.places import PlaceWish, remove_place, save_place
from rowan.web.plans.selectors import actor, firm_of
from rowan.web.plans.weather import keep_weather
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE

FIELDS = ("name", "latitude", "longitude", "altitude", "coldest", "ghi", "air")


def _means(text: str, dimension: str, units: System, scale: float) -> list[float]:
    """Twelve numbers as typed or pasted, in the reader's unit; between them spaces, semicolons, tabs or lines. Raises RowanError."""
    return [typed_to_si(part, dimension, units) / scale for part in re.split(r"[;\s]+", text.strip()) if part]


def _year(request: HttpRequest, firm: Firm) -> WeatherYear | None:
    """The year of a file that was sent, or one that the firm has; None for twelve means. Raises WeatherFileError."""
    file = request.FILES.get("file")
    if file is not None:
        name = PurePath(file.name or "weather file").name[:60]
        if (file.size or 0) > LARGEST_BYTES:
            raise WeatherFileError(
                tr(
                    "{name} has {size} MB; a year of hours has one or two",
                    name=name,
                    size=f"{(file.size or 0) / 1e6:.0f}",
                )
            )
        return keep_weather(firm=firm, found=read_weather(name, file.read()))
    number = request.POST.get("year", "")
    if number.isdecimal() and len(number) < 10:
        return get_object_or_404(firm.weather_years, pk=int(number))
    return None


def _wish(request: HttpRequest, firm: Firm) -> PlaceWish:
    """What the form says. Raises RowanError."""
    post, units = request.POST, units_of(request)

    def read(name: str, dimension: str) -> float:
        return typed_to_si(post.get(name, "").strip()[:30], dimension, units)

    year = _year(request, firm)
    return PlaceWish(
        name=post.get("name", "").replace("\x00", ""),
        latitude=float(read("latitude", "ratio")),
        longitude=float(read("longitude", "ratio")),
        altitude=read("altitude", "length"),
        coldest=read("coldest", "temperature"),
        ghi=() if year is not None else _means(post.get("ghi", ""), "irradiation", units, KWH),
        air=() if year is not None else _means(post.get("air", ""), "temperature", units, 1.0),
        year=year,
    )


@takes_forms
def places(request: HttpRequest) -> HttpResponse:
    """Where the firm works; a further place at the foot."""
    firm, problem = firm_of(request), ""
    if request.method == "POST":
        try:
            save_place(firm=firm, person=actor(request), wish=_wish(request, firm))
            return redirect("jobs:places")
        except (RowanError, WebError) as error:
            words = words_of(error, units_of(request))
            problem = tr("Not kept: {words}.", words=words)
    context = {
        "rows": [
            {"place": place, "apart": _apart(place)} for place in firm.places.select_related("year").defer("year__rows")
        ],
        "years": firm.weather_years.defer("rows"),
        "problem": problem,
        "typed": {name: request.POST.get(name, "") for name in FIELDS},
    }
    return render(request, "jobs/places.html", context, status=UNPROCESSABLE if problem else 200)


def _apart(place: FirmPlace) -> object:
    """How far a place is from the station of its year; None where its means were typed."""
    if place.year is None:
        return None
    return apart(
        latitude=place.latitude,
        longitude=place.longitude,
        altitude=place.altitude,
        to_latitude=place.year.latitude,
        to_longitude=place.year.longitude,
        to_altitude=place.year.altitude,
    )


@forms_only
def remove(request: HttpRequest, number: str) -> HttpResponse:
    """Off the list."""
    remove_place(place=get_object_or_404(firm_of(request).places, pk=int(number)), person=actor(request))
    return redirect("jobs:places")
