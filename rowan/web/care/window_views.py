"""A stretch of a loop's log as numbers, for the drawing that is pushed and widened."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import Http404, HttpRequest, JsonResponse

from rowan.core.records.logs.channels import BY_KEY
from rowan.core.records.logs.stamps import HOUR_S
from rowan.core.records.logs.window import window_of
from rowan.core.terms.units import dimension
from rowan.web.care import log_services as services
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.selectors import plan_of
from rowan.web.ui.context import units_of

# what is drawn, in this order; the kinds of numbers as pages show them
DRAWN = (
    "field_c",
    "hot_c",
    "cold_c",
    "high_c",
    "low_c",
    "air_c",
    "pump_share",
    "gauge_pa",
    "flow_m3_s",
    "sun_w_m2",
    "level_m",
)
KINDS = {
    "temperature": "temperature",
    "pressure": "pressure",
    "share": "share",
    "flow": "flow",
    "sun": "irradiance",
    "length": "level",
}
LEAST_SPAN_S = 600  # a window is at least ten minutes wide


def window(request: HttpRequest, job: int, letter: str) -> JsonResponse:
    """The numbers of a stretch; of the whole log without one. 404 for a plan without a log."""
    plan = plan_of(request, job, letter)
    log, units = services.log_of(plan), units_of(request)
    if log is None:
        raise Http404
    first, last = (
        _moment(request.GET.get(name, ""), default) for name, default in (("from", log.at[0]), ("to", log.at[-1]))
    )
    first = min(max(first, int(log.at[0])), int(log.at[-1]) - LEAST_SPAN_S)
    last = max(min(last, int(log.at[-1])), first + LEAST_SPAN_S)
    found = window_of(log, first, last)
    # by the place's own clock, which the drawing takes for universal time
    ahead = round(services.zone_in(plan, reckoned(plan.head).design.survey.longitude_deg.value) * HOUR_S)
    series: list[dict[str, Any]] = []
    for key in DRAWN:
        if key not in found.columns:
            continue
        kind = KINDS[BY_KEY[key].kind]
        unit = dimension(kind).unit(units)
        values = found.columns[key]
        shown = [None if np.isnan(value) else round(unit.from_si(float(value)), 4) for value in values]
        series.append(
            {
                "key": key,
                "name": BY_KEY[key].label,
                "kind": kind,
                "unit": unit.label,
                "decimals": unit.decimals,
                "values": shown,
            }
        )
    return JsonResponse(
        {
            "at": [int(at) + ahead for at in found.at],
            "series": series,
            "rows": found.rows,
            "every": found.is_every_row,
            "whole": [int(log.at[0]) + ahead, int(log.at[-1]) + ahead],
            "ahead": ahead,
        }
    )


def _moment(text: str, default: int) -> int:
    return int(text) if text.lstrip("-").isdecimal() and len(text) < 13 else int(default)
