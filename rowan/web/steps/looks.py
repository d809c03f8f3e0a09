"""What somebody looks at on a bench, kept in the session for the pages that follow: a day, a leg, a sky, a rival pair."""

from __future__ import annotations

from typing import get_args

from django.http import HttpRequest

from rowan.core.simulation.day import KINDS
from rowan.core.terms.calendar import DAYS
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.units import typed_to_si
from rowan.core.weather.sun import Season
from rowan.web.benches.bench import Look
from rowan.web.plans.models import Plan
from rowan.web.ui.context import units_of
from rowan.web.ui.sentences import sentence

DAY, LEG, SKY, RIVAL, SEASON = "day", "leg", "sky", "rival", "season"
LONGEST_LEG = 20
MOST_K = 40.0


def look_of(request: HttpRequest, plan: Plan) -> Look:
    """What is asked for in the address, else what was looked at last."""
    wrong, typed = _typed_rival(request, plan)
    rival = _rival(request, plan)
    return Look(_day(request), _leg(request), _sky(request), rival, wrong, typed, _season(request))


def keep_rival(request: HttpRequest, plan: Plan, pair: tuple[float, float]) -> None:
    """Keeps the pair that races against a plan's [K]."""
    request.session[RIVAL] = [plan.pk, *pair]


def _day(request: HttpRequest) -> int | None:
    asked = request.GET.get(DAY, "")
    if asked.isdecimal() and len(asked) <= 3 and int(asked) < DAYS:
        request.session[DAY] = int(asked)
    day = request.session.get(DAY)
    return day if isinstance(day, int) else None


def _leg(request: HttpRequest) -> str:
    """The leg whose own inputs somebody opened; asked for again it closes."""
    asked = request.GET.get(LEG)
    if asked is not None and len(asked) <= LONGEST_LEG and request.session.get(LEG) != asked:
        request.session[LEG] = asked
    leg = request.session.get(LEG)
    return leg if isinstance(leg, str) else ""


def _sky(request: HttpRequest) -> str:
    asked = request.GET.get(SKY, "")
    if asked in KINDS:
        request.session[SKY] = asked
    sky = request.session.get(SKY)
    return sky if isinstance(sky, str) else ""


def _season(request: HttpRequest) -> str:
    """Of which half of the year the planes are compared."""
    asked = request.GET.get(SEASON, "")
    if asked in get_args(Season):
        request.session[SEASON] = asked
    season = request.session.get(SEASON)
    return season if isinstance(season, str) and season in get_args(Season) else "year"


def _rival(request: HttpRequest, plan: Plan) -> tuple[float, float] | None:
    kept = request.session.get(RIVAL)
    if isinstance(kept, list) and len(kept) == 3 and kept[0] == plan.pk:
        return float(kept[1]), float(kept[2])
    return None


def _typed_rival(request: HttpRequest, plan: Plan) -> tuple[str, tuple[str, str] | None]:
    """Takes a typed rival into the session, or says what is wrong with it."""
    texts = request.GET.get("b_start", "").strip()[:20], request.GET.get("b_stop", "").strip()[:20]
    if not any(texts):
        return "", None
    try:
        start, stop = (typed_to_si(text, "difference", units_of(request)) for text in texts)
    except TypedNumberError as error:
        return sentence(str(error)), texts
    if not 0 <= stop < start <= MOST_K:
        return "The stop difference must lie below the start difference, and neither below nothing.", texts
    keep_rival(request, plan, (start, stop))
    return "", None
