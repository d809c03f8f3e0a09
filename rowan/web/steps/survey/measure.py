"""The page on which a phone measures: pitch, bearing, horizon, fall; readings come from its sensors or are typed."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any, get_args

from rowan.core.design.design import Design
from rowan.core.design.inputs.sun import HorizonPoint
from rowan.core.design.lists import free_id
from rowan.core.records.phone import (
    MOST_SPREAD,
    WANTED_READINGS,
    Reading,
    What,
    bearing_by_shadow,
    bearing_of,
    declination_at,
    mean_bearing,
    slope_of,
)
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import spoken, tr
from rowan.core.terms.units import MINUS, fixed

NAMES: dict[What, str] = {
    "pitch": "pitch of the roof",
    "bearing": "where the roof looks",
    "horizon": "a point of the horizon",
    "fall": "a fall",
}
HOW: dict[What, str] = {
    "pitch": "Lay the phone flat on a straight batten, its long edge up the slope, camera bump over the edge. Then turn it end for end.",
    "bearing": "Hold it flat and level, its long edge along the eave or pointing where the roof looks. Then a step aside, away from gutters and cars.",
    "horizon": "Sight along its long edge at the hilltop, chimney or tree. Then turn it end for end, same edge up, and sight again.",
    "fall": "Lay it on the pipe or rail. Then turn it end for end.",
}
MOST_LETTERS = 400


class UnreadableError(RowanError):
    """A list of readings that is no list of numbers."""


def asked(data: Mapping[str, str]) -> What:
    """What is measured; the pitch where nothing is asked for."""
    return next((what for what in get_args(What) if what == data.get("what")), "pitch")


def numbers(text: str) -> list[float]:
    """Typed or taken readings: numbers apart by spaces, each with a comma or a point. Raises UnreadableError."""
    found = []
    for word in text[:MOST_LETTERS].replace(";", " ").split():
        try:
            found.append(float(word.replace(",", ".").replace("\N{MINUS SIGN}", "-").rstrip("°")))
        except ValueError as error:
            raise UnreadableError(tr("“{word}” is no number", word=word[:20])) from error
    return found


def measured(design: Design, what: What, data: Mapping[str, str]) -> tuple[Reading, list[Change]]:
    """What the readings say, and what it would change in the plan. Raises RowanError."""
    survey = design.survey
    if what in ("pitch", "fall"):
        found = slope_of(first=numbers(data.get("first", "")), turned=numbers(data.get("turned", "")), what=what)
        if what == "fall":
            return found, []
        return found, [Change("survey.roof_tilt_deg", round(abs(found.value), 1), "phone", _note(found))]
    declination = declination_of(design)
    if what == "horizon":
        found = slope_of(first=numbers(data.get("first", "")), turned=numbers(data.get("turned", "")), what="horizon")
        bearing = (mean_bearing(numbers(data.get("compass", "")) or [_missing()]) + declination) % 360
        point = HorizonPoint(
            id=free_id("p", [p.id for p in design.sun.horizon]),
            bearing_deg=round(bearing, 1),
            elevation_deg=round(min(max(found.value, 0.0), 85.0), 1),
            origin="phone",
            note=_note(found),
        )
        return found, [Change("sun.horizon", [*design.sun.horizon, point])]
    if data.get("by") == "shadow":
        found = _by_shadow(design, data)
    else:
        here, aside = numbers(data.get("first", "")), numbers(data.get("turned", ""))
        found = bearing_of(here=here, aside=aside, declination=declination)
    faces = found.value
    if data.get("edge") == "eave":
        # square to the eave there are two ways: the one nearer to what is known of the roof
        faces = min(
            ((faces + turn) % 360 for turn in (90, 270)),
            key=lambda b: abs((b - survey.roof_azimuth_deg.value + 180) % 360 - 180),
        )
    return found, [Change("survey.roof_azimuth_deg", round(faces, 1) % 360, "phone", _note(found))]


def _missing() -> float:
    raise UnreadableError("the compass was not read")


def _note(found: Reading) -> str:
    return f"phone, ±{max(found.within, 0.1):.1f}°"


def _by_shadow(design: Design, data: Mapping[str, str]) -> Reading:
    survey = design.survey
    turned = numbers(data.get("angle", ""))
    if len(turned) != 1:
        raise UnreadableError("one angle from the shadow is needed")
    try:
        at = datetime.fromisoformat(data.get("at", "")).replace(tzinfo=UTC)
    except ValueError as error:
        raise UnreadableError("date and time are needed, such as 2026-06-21T12:30") from error
    zone = numbers(data.get("zone", "0") or "0")
    at -= timedelta(hours=zone[0] if zone else 0.0)
    return bearing_by_shadow(
        latitude=survey.latitude_deg.value, longitude=survey.longitude_deg.value, at=at, turned=turned[0]
    )


def declination_of(design: Design) -> float:
    """Declination at the plan's place today [°]."""
    survey = design.survey
    return declination_at(
        latitude=survey.latitude_deg.value,
        longitude=survey.longitude_deg.value,
        altitude=survey.altitude_m.value,
        day=datetime.now(UTC).date(),
    )


def measure_context(design: Design, data: Mapping[str, str]) -> dict[str, Any]:
    """What the page shows: fields as they stand, and what they say once they say something."""
    what = asked(data)
    context: dict[str, Any] = {
        "what": what,
        "kinds": [(key, name, key == what) for key, name in NAMES.items()],
        "how": HOW[what],
        "typed": {
            key: data.get(key, "")[:MOST_LETTERS]
            for key in ("first", "turned", "compass", "at", "angle", "zone", "by", "edge")
        },
        "declination": signed(declination_of(design)),
        "most_spread": f"{MOST_SPREAD[what]:g}",
        "wanted": WANTED_READINGS,
        "second": "a step aside" if what == "bearing" else "turned end for end",
        "slope": what != "bearing",
    }
    if not any(data.get(key) for key in ("first", "turned", "angle")):
        return context
    try:
        found, changes = measured(design, what, data)
    except RowanError as error:
        return {**context, "problem": error.text("metric")}
    per_m = f"{abs(1000 * _tan(found.value)):.0f}" if what == "fall" else ""
    return {
        **context,
        "found": found,
        "value": fixed(found.value, 1),
        "within": fixed(max(found.within, 0.1), 1),
        "error": "" if found.error is None else signed(found.error),
        "per_m": per_m,
        "can_use": bool(changes),
    }


def signed(degrees: float) -> str:
    """An angle with its sign, as it is printed."""
    return f"{degrees:+.1f}".replace("-", MINUS).replace(".", spoken().decimal)


def _tan(degrees: float) -> float:
    from math import radians, tan

    return tan(radians(degrees))
