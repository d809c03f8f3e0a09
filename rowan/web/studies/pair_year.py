"""A year of pairs: what starts and stops some kelvins apart bring in the plan's whole year, and how often they start."""

from __future__ import annotations

from rowan.core.simulation.plan_day import with_pair
from rowan.core.simulation.year import Year
from rowan.core.studies.pairs import LEAST_APART_K, weights_of
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, dimension, number_text, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.lines import waiting_drawing
from rowan.web.studies.work import Variant
from rowan.web.ui.svg import Drawing

STARTS_K, STOPS_K = (4.0, 6.0, 8.0, 10.0, 12.0, 15.0, 18.0), (1.0, 2.0, 3.0, 4.0, 6.0)
WIDTH, LEFT, TOP, CELL_W, CELL_H = 656, 60.0, 40.0, 74.0, 40.0
HEIGHT = TOP + CELL_H * (len(STOPS_K) + 1) + 52
SHADES_KWH = (5.0, 20.0, 50.0, 120.0)


def pairs(sheet: Sheet) -> tuple[tuple[float, float], ...]:
    """The plan's own pair, then the grid."""
    control = sheet.design.control
    own = control.start_k.value, control.stop_k.value
    grid = tuple((a, b) for a in STARTS_K for b in STOPS_K if a - b >= LEAST_APART_K and (a, b) != own)
    return (own, *grid)


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """A year for each pair."""
    return tuple(
        Variant(f"{start:g} / {stop:g}", sheet.design if n == 0 else with_pair(sheet.design, start, stop))
        for n, (start, stop) in enumerate(pairs(sheet))
    )


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A table drawn as a map: what each pair's year lacks behind the best, and its starts a day."""
    plan = outcomes[0]
    if plan is None or plan.year is None:
        return Told(None, waiting_drawing(sheet, plan, "A year of pairs"))
    weights = weights_of(sheet.design)

    def score(year: Year) -> float:
        """A year's worth [kWh]."""
        worth = weights.score(heat=year.saved, electric=year.total("electric"), starts=year.total("starts"))
        return worth / KWH

    found = {
        pair: outcome.year
        for pair, outcome in zip(pairs(sheet), outcomes, strict=True)
        if outcome is not None and outcome.year is not None
    }
    best = max(score(year) for year in found.values())
    drawing = Drawing(WIDTH, HEIGHT, "A year of pairs", "pair-year", "pair-year")
    unit = dimension("difference").unit(sheet.units)
    for i, start in enumerate(STARTS_K):
        x = LEFT + CELL_W * i
        drawing.words(
            (x + CELL_W / 2, TOP + CELL_H * len(STOPS_K) + 16), f"{start / unit.factor:.3g}", "axis", "middle"
        )
        for k, stop in enumerate(reversed(STOPS_K)):
            y = TOP + CELL_H * k
            year = found.get((start, stop))
            if start - stop < LEAST_APART_K:
                drawing.words((x + CELL_W / 2, y + 25), "meet", "place", "middle")
            elif year is None:
                drawing.words((x + CELL_W / 2, y + 25), "…", "place", "middle")
            else:
                _cell(drawing, (x, y), best - score(year), year, own=(start, stop) == pairs(sheet)[0])
    for k, stop in enumerate(reversed(STOPS_K)):
        drawing.words((LEFT - 8, TOP + CELL_H * k + 25), f"{stop / unit.factor:.3g}", "axis", "end")
    label = unit_label("difference", sheet.units)
    foot = TOP + CELL_H * len(STOPS_K)
    drawing.words(
        (LEFT + CELL_W * len(STARTS_K), foot + 32), tr("start difference, {label}", label=label), "label", "end"
    )
    drawing.words((LEFT - 50, TOP - 12), tr("stop difference, {label}", label=label), "label")
    drawing.words((LEFT, foot + 50), "large: kWh behind the best pair of the year; small: starts a day", "label")
    _least(drawing, sheet)
    verdict = _verdict(sheet, {pair: score(year) for pair, year in found.items()}, found, len(outcomes))
    return Told(verdict, drawing, () if verdict is None else (_why_not_lower(sheet),))


def _least(drawing: Drawing, sheet: Sheet) -> None:
    """The line under which the loop only loses, between the rows it parts."""
    over = sum(stop >= sheet.result.differences.floor - 1e-9 for stop in STOPS_K)
    y = TOP + CELL_H * over - 1
    if over < len(STOPS_K):
        drawing.line((LEFT, y), (LEFT + CELL_W * len(STARTS_K), y), "planned")
        drawing.words((LEFT + CELL_W * len(STARTS_K) + 6, y + 4), "least stop", "label")


def _why_not_lower(sheet: Sheet) -> Statement:
    """Why a stop under the least is not advised, though it may look better here."""
    return say(
        "Stops under the least of {f} may look better here: the sensors of this year are right. Yours may be wrong by {e}, and then the pump runs on for nothing.",
        f=Quantity(sheet.result.differences.floor, "difference"),
        e=Quantity(sheet.design.control.sensor_error_k.value, "difference"),
    )


def _cell(drawing: Drawing, at: tuple[float, float], lack: float, year: Year, *, own: bool) -> None:
    x, y = at
    shade = 6 - sum(lack > limit for limit in SHADES_KWH)
    drawing.rect(x, y, CELL_W - 2, CELL_H - 2, f"band-{shade}")
    if own:
        drawing.rect(x + 1, y + 1, CELL_W - 4, CELL_H - 4, "leaf-line")
        drawing.words((x + 6, y + 14), "A", "key-small")
    words = "best" if lack < 0.05 else number_text(lack, 0)
    drawing.words((x + CELL_W / 2, y + 18), words, "fig-key", "middle")
    drawing.words((x + CELL_W / 2, y + 32), number_text(year.starts_per_day, 1), "label-ink", "middle")


def _verdict(
    sheet: Sheet, worths: dict[tuple[float, float], float], found: dict[tuple[float, float], Year], wanted: int
) -> Statement | None:
    """The best pair of the year that does not stop under the least, against the plan's; nothing until all are there."""
    if len(found) < wanted:
        return None
    own, floor = pairs(sheet)[0], sheet.result.differences.floor
    allowed = [pair for pair in worths if pair[1] >= floor - 1e-9] or list(worths)
    best = max(allowed, key=lambda pair: (worths[pair], -pair[0]))
    quantities = {
        "a": Quantity(best[0], "difference"),
        "b": Quantity(best[1], "difference"),
        "l": Quantity(max(worths[best] - worths[own], 0.0) * KWH, "energy"),
        "n": Quantity(found[best].starts_per_day, "count", 1),
        "m": Quantity(found[own].starts_per_day, "count", 1),
    }
    if best == own or worths[own] >= worths[best]:
        return say("Over the year no pair that may be set does better than the plan's: {m} starts a day.", **quantities)
    return say(
        "Over the year {a} and {b} is worth {l} more than the plan's pair: {n} starts a day, not {m}.", **quantities
    )


PAIR_YEAR = RunKind("pairs", "A year of pairs", variants, tell, "Run a year of each pair, about 15 s")
