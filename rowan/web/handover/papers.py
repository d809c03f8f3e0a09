"""The papers of the pack as PDF: each by itself, and all that were chosen in one file, in their order."""

from __future__ import annotations

import io
from collections.abc import Callable
from functools import partial
from typing import Any

from django.utils.safestring import mark_safe
from pypdf import PdfWriter

from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.commission.valves import TAGS
from rowan.core.terms.dates import day_said
from rowan.core.terms.language import spoken, tr
from rowan.core.terms.units import System
from rowan.web.benches.loop import loop_drawing
from rowan.web.handover.drawing import Read, gauge_year, handle, tag_drawing
from rowan.web.handover.pack import Pack
from rowan.web.house.models import DiaryEntry
from rowan.web.papers.run_record import record_pdf
from rowan.web.papers.settings_card import code_of, settings_card_pdf
from rowan.web.papers.sheets import Size, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan
from rowan.web.ui.svg import Drawing

# papers with a template of their own
OWN = ("how", "normal", "modes", "route", "safety", "whom")
# sensors that get a tag beside the valves
SENSOR_TAGS = (("S1", "field", "hot end"), ("S2", "store, foot", "pocket"), ("S3", "store, top", "pocket"))


def gauge_drawing(pack: Pack) -> Drawing | None:
    """The gauge through the year with what was read; None for a loop without a vessel of its own."""
    if not pack.months:
        return None
    result = pack.sheet.result
    stagnation = result.vessel_states.get("stagnation")
    return gauge_year(
        pack.months,
        pack.sheet.design.charge.relief_gauge_pa.value,
        stagnation.station if stagnation is not None else None,
        pack.heat,
        _reads(pack),
        pack.units,
    )


def _reads(pack: Pack) -> list[Read]:
    """The gauge as left, and the looks of the last year."""
    found = []
    left = pack.readings.get("left_p")
    if left is not None and left.value is not None:
        found.append(
            Read(
                left.at.month - 1 + left.at.day / 31,
                left.value,
                tr("as left, {at}", at=day_said(left.at, short=True).text()),
                True,
            )
        )
    for look in pack.plan.job.diary.filter(kind=DiaryEntry.Kind.LOOK)[:6]:
        if "gauge" in look.data:
            found.append(
                Read(
                    look.at.month - 1 + look.at.day / 31,
                    look.data["gauge"],
                    tr("look, {at}", at=day_said(look.at, short=True).text()),
                    False,
                )
            )
    return found


def mode_rows(pack: Pack, drawn: Callable[[Drawing], Any]) -> list[dict[str, Any]]:
    """Each mode with a handle for each valve."""
    words = pack.words()
    return [
        {
            "mode": mode,
            "handles": [(mode.state[name], drawn(handle(mode.state[name]))) for name, _, _ in words["valves"]],
        }
        for mode in words["modes"]
    ]


def tags(pack: Pack) -> list[Drawing]:
    """A tag for each valve and sensor."""
    words = pack.words()
    works = words["modes"][0].state
    stays = {"open": "stays open", "shut": "stays shut", "working": "by itself", "half": "half open"}
    found = [tag_drawing(TAGS[name], called, stays[works[name]]) for name, _, called in words["valves"]]
    sensors = SENSOR_TAGS if pack.sheet.design.pumped else ()
    return [*found, *(tag_drawing(*row) for row in sensors)]


def paper_pdf(plan: Plan, units: System, size: Size | None = None, *, key: str, address: str = "") -> bytes:
    """A paper of the pack. Raises PaperToolsMissingError where Pango is not installed, PaperComingError while it is drawn."""
    pack = Pack(plan, units)
    context = {
        **paper_context(plan, pack.sheet, size or usual_size(units)),
        **pack.words(),
        "pack": pack,
        "card": pack.card,
        "paper": next(paper for paper in pack.papers if paper.key == key),
        "loop": on_paper(loop_drawing(pack.sheet, "", lambda _: "")) if key in ("how", "safety") else "",
        "code": mark_safe(code_of(address)) if address else "",  # noqa: S308  made by segno from our own address
        "address": address,
        "stagnation": stagnation_of(pack.sheet.design.collector.item.value),
    }
    if key == "normal" and (drawing := gauge_drawing(pack)) is not None:
        context["gauge"] = on_paper(drawing)
    if key == "modes":
        context |= {"rows": mode_rows(pack, on_paper), "tags": [on_paper(tag) for tag in tags(pack)]}
    return pdf(f"handover/{key}.html", context)


def pack_pdf(
    plan: Plan, units: System, size: Size | None = None, *, address: str = "", card_address: str = ""
) -> bytes:
    """Every chosen paper in one file; raises as its papers do."""
    pack = Pack(plan, units)
    ways: list[Callable[[], bytes]] = []
    for paper in pack.chosen:
        if paper.key == "card":
            ways.append(partial(settings_card_pdf, plan, units, size, address=card_address))
        elif paper.key == "records":
            ways += [partial(record_pdf, plan, units, size, run=run) for run in pack.runs]
        else:
            ways.append(partial(paper_pdf, plan, units, size, key=paper.key, address=address))
    made = PdfWriter()
    for way in ways:
        made.append(io.BytesIO(way()))
    made.add_metadata({"/Title": tr("{title}, hand over", title=plan.job.title), "/Lang": spoken().key})
    found = io.BytesIO()
    made.write(found)
    return found.getvalue()
