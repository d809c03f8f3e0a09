"""A loop's health as pages ask for it: reckoned beside them, kept by what it is of."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import date, datetime, timedelta
from typing import Any

from django.conf import settings

from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.records.care.health import Health, health_of, verdict
from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.log import Log
from rowan.core.simulation.cache import Kept
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.weather.hours import Sky
from rowan.web.care.models import LoopHealth
from rowan.web.plans.models import Plan, WeatherYear
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.weather import sky_of_year
from rowan.web.studies.beside import NobodyThereError, ask
from rowan.web.studies.room import Progress, Room

KEPT = 12  # answers, some kilobytes each


def _made(
    design: Design, log: Log, zone_h: float, told: Callable[[float], None], sky: Sky | None = None
) -> Health | str:
    """An answer, or why there is none."""
    try:
        return health_of(design, reckon(design), log, zone_h=zone_h, sky=sky, told=told)
    except (LogError, RowanError) as error:
        return str(error)


ROOM = Room(_made, kept=KEPT, name="care")
_known = Kept(KEPT)


def health_key(plan: Plan, zone_h: float) -> str:
    """What an answer is kept by: the design, the files of the log and how they are read."""
    files = plan.logs.exclude(columns=b"").order_by("pk").values_list("digest", "mapping")
    said = repr(
        (reckoned(plan.head).design.model_dump_json(), sorted((digest, repr(m)) for digest, m in files), zone_h)
    )
    return hashlib.sha256(said.encode()).hexdigest()


def health_for(plan: Plan, log: Log, zone_h: float, *, begin: bool) -> Progress:
    """A plan's health by its log, or how far its reckoning is, which is begun where that is asked for."""
    key = health_key(plan, zone_h)
    found: Progress | None = _known.get(key)
    if found is None:
        found = _looked(key) or (_begun(key, plan, log, zone_h) if begin else Progress(0.0))
        if found.done:
            _known.keep(key, found)
    return found


def note_health(plan: Plan, zone_h: float, made: Health | str, last: datetime) -> None:
    """Keeps what an answer says in a line, for pages that show many loops."""
    key = health_key(plan, zone_h)
    if LoopHealth.objects.filter(plan=plan, key=key).exists():
        return
    if isinstance(made, str):
        values: dict[str, Any] = {"level": "", "words": tr("Not held against the plan: {made}", made=made)[:300]}
    else:
        named, (came, due, low, high) = made.named, made.expected.sums(made.begins)
        first = date(1970, 1, 1) + timedelta(days=made.expected.first_day)
        brought, promised, *_ = made.expected.sums()
        values = {
            "level": named.first.fault.level if named else "mind" if came < low else "pass",
            "words": verdict(made).text("metric"),
            "begins": first + timedelta(days=made.begins) if named and made.begins else None,
            "first": first,
            "brought": brought,
            "promised": promised,
            "came": came,
            "due": due,
            "low": low,
            "high": high,
        }
    LoopHealth.objects.update_or_create(plan=plan, defaults={"key": key, "last": last, **values})


def _looked(key: str) -> Progress | None:
    if not settings.STUDIES_BESIDE:
        return ROOM.look(key=key)
    try:
        found: Progress | None = ask("health", key=key)
    except NobodyThereError:
        return None
    return found


def sky_of_log(plan: Plan) -> Sky | None:
    """The weather year that somebody has said was that of the log; None where nobody has."""
    named = plan.logs.exclude(columns=b"").order_by("-at").values_list("mapping", flat=True).first()
    digest = (named or {}).get("sky")
    year = WeatherYear.objects.filter(firm=plan.job.firm, digest=digest).first() if digest else None
    return sky_of_year(year) if year is not None else None


def _begun(key: str, plan: Plan, log: Log, zone_h: float) -> Progress:
    of = {"design": reckoned(plan.head).design, "log": log, "zone_h": zone_h, "sky": sky_of_log(plan)}
    if not settings.STUDIES_BESIDE:
        return ROOM.start(key=key, **of)
    try:
        found: Progress = ask("health_begin", key=key, **of)
    except NobodyThereError:
        return Progress(0.0)  # it is being started: whoever asks again begins it
    return found
