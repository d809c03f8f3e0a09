"""The map of pairs: what each start and stop lacks behind the best, with the plan's pair, the rival and the advice on it."""

from __future__ import annotations

from rowan.core.simulation.day import Kind
from rowan.core.steps.control.differences import MOST_STARTS_A_DAY
from rowan.core.studies.pairs import PairMap
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, dimension, fixed, number_text, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 356
LEFT, RIGHT, TOP, FOOT = 44.0, 470.0, 26.0, 296.0
LEAST_START, MOST_START, MOST_STOP = 2.5, 20.5, 10.5
SHADES_KWH = (0.03, 0.1, 0.25, 0.6)
# what people set without trying, by what they call it
HABITS = (("narrow", 5.0, 2.0), ("habit", 8.0, 4.0), ("wide", 12.0, 6.0))
KEY_X = 492.0
# how far B goes by hand [K]
RIVAL_STEP_K, LEAST_RIVAL_K, MOST_RIVAL_K, MOST_RIVAL_STOP_K = 0.5, 3.0, 20.0, 10.0


def across(start: float) -> float:
    """Where a start difference stands."""
    return LEFT + (RIGHT - LEFT) * (start - LEAST_START) / (MOST_START - LEAST_START)


def up(stop: float) -> float:
    """Where a stop difference stands."""
    return FOOT - (FOOT - TOP) * stop / MOST_STOP


def _shade(lack: float) -> str:
    return f"band-{6 - sum(lack / KWH > limit for limit in SHADES_KWH)}"


def map_drawing(sheet: Sheet, found: PairMap, kind: Kind | None, rival: tuple[float, float]) -> Drawing:
    """Start across, stop up, shaded by what a pair lacks; hatched where the pump starts too often without need."""
    drawing = Drawing(WIDTH, HEIGHT, "Net heat over start and stop", "pair-map", "pair-map")
    values = dict(zip(found.pairs, found.lacks(kind), strict=True))
    stops = sorted({stop for _, stop in found.pairs})
    for number, (pair, lack) in enumerate(values.items()):
        _cell(drawing, pair, lack, stops, often=found.needless(number) > MOST_STARTS_A_DAY)
    _axes(drawing, sheet)
    _lines(drawing, sheet)
    for name, start, stop in HABITS:
        at = (across(start), up(stop))
        drawing.path(
            ((at[0], at[1] - 5), (at[0] + 5, at[1]), (at[0], at[1] + 5), (at[0] - 5, at[1])), "diamond", close=True
        )
        drawing.words((at[0] + 8, at[1] - 5), name, "place halo")
    advised = (across(found.advice.start), up(found.advice.stop))
    drawing.circle(advised, 12.5, "leaf-line")
    drawing.words((advised[0], advised[1] + 26), "advised", "label-leaf halo", "middle")
    control = sheet.design.control
    disc(drawing, (control.start_k.value, control.stop_k.value), "A", sheet)
    disc(drawing, rival, "B", sheet)
    _key(drawing)
    return drawing


def _cell(drawing: Drawing, pair: tuple[float, float], lack: float, stops: list[float], *, often: bool) -> None:
    start, stop = pair
    at = stops.index(stop)
    low = 0.5 if at == 0 else (stops[at - 1] + stop) / 2
    high = MOST_STOP if at == len(stops) - 1 else (stop + stops[at + 1]) / 2
    x, wide = across(start - 0.5), across(start + 0.5) - across(start - 0.5)
    drawing.rect(x, up(high), wide, up(low) - up(high), _shade(lack))
    if often:
        drawing.rect(x, up(high), wide, up(low) - up(high), "often")


def _axes(drawing: Drawing, sheet: Sheet) -> None:
    units = sheet.units
    unit = dimension("difference").unit(units)
    step = 2.0 if units == "metric" else 4.0
    level = step
    while level * unit.factor <= MOST_START:
        if level * unit.factor >= LEAST_START:
            drawing.words((across(level * unit.factor), FOOT + 16), number_text(level, 0), "axis", "middle")
        if level * unit.factor <= MOST_STOP:
            drawing.words((LEFT - 8, up(level * unit.factor) + 4), number_text(level, 0), "axis", "end")
        level += step
    drawing.line((LEFT, TOP), (LEFT, FOOT), "rule-ink")
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    label = unit_label("difference", units)
    drawing.words((RIGHT, FOOT + 32), tr("start difference, {label}", label=label), "label", "end")
    drawing.words((LEFT - 34, TOP - 10), tr("stop difference, {label}", label=label), "label")
    drawing.words((LEFT + 16, TOP + 26), "start and stop meet:", "place halo")
    drawing.words((LEFT + 16, TOP + 41), "the pump chatters", "place halo")


def _lines(drawing: Drawing, sheet: Sheet) -> None:
    """The loss floor, and the largest stop at which the sun that starts also holds."""
    control = sheet.result.differences
    if control.floor < MOST_STOP:
        drawing.line((LEFT, up(control.floor)), (RIGHT, up(control.floor)), "planned")
        drawing.words((RIGHT - 4, up(control.floor) - 4), "least stop: below it, loss", "label halo", "end")
    share = control.largest_stop / max(sheet.design.control.start_k.value, 1e-9)
    end = min(MOST_START, MOST_STOP / max(share, 1e-9))
    drawing.line((across(LEAST_START), up(share * LEAST_START)), (across(end), up(share * end)), "static")
    drawing.words((across(end) - 4, up(share * end) - 5), "never hunts below", "label-slate halo", "end")


def disc(drawing: Drawing, pair: tuple[float, float], letter: str, sheet: Sheet) -> None:
    """A lettered disc on a pair; B is moved by hand and by the arrow keys."""
    start, stop = pair
    at = (across(min(max(start, LEAST_START), MOST_START)), up(min(max(stop, 0.0), MOST_STOP)))
    if letter == "A":
        drawing.circle(at, 10, "disc-a")
        drawing.words((at[0], at[1] + 4.5), letter, "tab", "middle")
        return
    unit = dimension("difference").unit(sheet.units)
    group = drawing.add(
        "g",
        id="rival",
        cls="handle",
        role="slider",
        tabindex=0,
        aria_label="rival pair B: start by left and right, stop by up and down",
        aria_valuenow=start,
        aria_valuemin=LEAST_RIVAL_K,
        aria_valuemax=MOST_RIVAL_K,
        aria_valuetext=pair_words(pair, sheet),
        data_step=RIVAL_STEP_K,
        data_least=LEAST_RIVAL_K,
        data_most=MOST_RIVAL_K,
        data_most_stop=MOST_RIVAL_STOP_K,
        data_start=start,
        data_stop=stop,
        data_per_start=(RIGHT - LEFT) / (MOST_START - LEAST_START),
        data_per_stop=(FOOT - TOP) / MOST_STOP,
        data_factor=unit.factor,
        data_unit=unit.label,
    )
    group.circle(at, 18, "grip")
    group.circle(at, 10, "disc-b")
    group.words((at[0], at[1] + 4.5), letter, "key", "middle")


def pair_words(pair: tuple[float, float], sheet: Sheet) -> str:
    """A pair in words."""
    unit = dimension("difference").unit(sheet.units)
    return tr(
        "start {start} {label}, stop {stop} {label}",
        start=fixed(pair[0] / unit.factor, 1),
        label=unit.label,
        stop=fixed(pair[1] / unit.factor, 1),
    )


def _key(drawing: Drawing) -> None:
    drawing.words((KEY_X, TOP + 8), "behind the best, kWh", "label")
    bounds = ("0", *(f"{limit:g}" for limit in SHADES_KWH))
    for number, bound in enumerate(bounds):
        y = TOP + 20 + 24 * number
        drawing.rect(KEY_X, y, 26, 16, f"band-{6 - number}")
        words = (
            tr("up to {energy}", energy=f"{SHADES_KWH[number]:g}")
            if number < len(SHADES_KWH)
            else tr("over {bound}", bound=bound)
        )
        drawing.words((KEY_X + 34, y + 12), words, "label-ink")
    y = TOP + 20 + 24 * len(bounds)
    drawing.rect(KEY_X, y, 26, 16, "often")
    drawing.words(
        (KEY_X + 34, y + 12),
        tr("over {most} starts a day", most=MOST_STARTS_A_DAY),
        "label-ink",
    )
    drawing.words((KEY_X + 34, y + 27), "that no cloud asks for", "label")
    drawing.words((KEY_X, y + 56), "drag B, or use the arrow keys", "place screen")


def why_words(sheet: Sheet, found: PairMap) -> Statement:
    """Why the advised pair, in two sentences."""
    advice, control = found.advice, sheet.design.control
    first = "{a} and {b} is never more than {r} behind the best pair of a clear, a broken and a dull day, and starts {n} times under broken cloud."
    quantities: dict[str, Quantity | str] = {
        "a": Quantity(advice.start, "difference"),
        "b": Quantity(advice.stop, "difference"),
        "r": Quantity(advice.regret, "energy", 2),
        "n": f"{found.starts(advice.start, advice.stop):.0f}",
    }
    own = control.start_k.value, control.stop_k.value
    lack, starts = advice.regret_of(*own), found.starts(*own)
    if lack is None or starts is None:
        return say(first, **quantities)
    if lack <= advice.regret + 1.0:
        return say("{first} The plan's pair is as good.", first=first, **quantities)
    quantities |= {"l": Quantity(lack, "energy", 2), "m": f"{starts:.0f}"}
    return say("{first} The plan's lacks {l} on its worst day, with {m} starts.", first=first, **quantities)
