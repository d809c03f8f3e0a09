"""How the pipe is cut: each stock length to scale, its pieces named, what is left hatched."""

from __future__ import annotations

from collections import Counter

from rowan.core.steps.parts.cutting import Bar
from rowan.core.terms.units import shown, shown_number
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

WIDTH = 656
LEFT, RIGHT = 30.0, 648.0
ROW, BAR, TOP = 30.0, 17.0, 30.0
MOST_ROWS = 16
CHARACTER_PX = 6.1
LEAST_OFFCUT_PX = 3.0


def _grouped(bars: tuple[Bar, ...]) -> list[tuple[Bar, int]]:
    """Bars with how often each is cut alike, in order."""
    return list(Counter(bars).items())


def cutting_drawing(sheet: Sheet) -> Drawing:
    """The stock lengths as bars; a leg's piece is patterned by its line."""
    cutting, units = sheet.result.parts.cutting, sheet.units
    rows = _grouped(cutting.bars)
    drawn = rows[:MOST_ROWS]
    drawing = Drawing(WIDTH, TOP + ROW * len(drawn) + 26, "How the pipe is cut, to scale", "cutting", "cutting")
    stock = sheet.design.parts.pipe_piece_m.value
    scale = (RIGHT - LEFT) / stock
    drawing.attributes["data-px-per-m"] = round(scale, 4)
    names = {f"{leg.line} {leg.id}": (leg.line, leg.name or leg.id) for leg in sheet.result.run.route.legs()}
    drawing.words((LEFT, 12), "white: hot line · lined: cold line · hatched: left over", "label")
    drawing.words((RIGHT, 12), f"one length, {shown(stock, 'length', units)}", "label", "end")
    for number, (bar, times) in enumerate(drawn):
        y = TOP + ROW * number
        drawing.words((LEFT - 6, y + 13), f"{times} ×", "fig-minor", "end")
        x = LEFT
        for piece in bar.pieces:
            line, name = names[piece.name]
            width = piece.length * scale
            drawing.rect(x, y, width, BAR, "bar-slate" if line == "cold" else "bar-open", id=f"cut-{number}-{round(x)}")
            length = shown_number(piece.length, "length", units)
            for words in (f"{length} {name}", length):
                if len(words) * CHARACTER_PX < width - 4:
                    drawing.words((x + width / 2, y + 13), words, "label-ink halo", "middle")
                    break
            x += width
        if RIGHT - x > LEAST_OFFCUT_PX:
            drawing.rect(x, y, RIGHT - x, BAR, "steep")
            left = shown_number(bar.offcut, "length", units)
            if len(left) * CHARACTER_PX < RIGHT - x - 4:
                drawing.words(((x + RIGHT) / 2, y + 13), left, "label-ink halo", "middle")
    foot = TOP + ROW * len(drawn) + 12
    more = len(rows) - len(drawn)
    words = f"{shown(cutting.used, 'length', units, 1)} of legs in {len(cutting.bars)} {'length' if len(cutting.bars) == 1 else 'lengths'}"
    if cutting.couplings:
        words += (
            f", {cutting.couplings} coupling{'' if cutting.couplings == 1 else 's'} where a leg is longer than a length"
        )
    drawing.words((LEFT, foot), words + (f"; {more} more kinds of cut not drawn" if more > 0 else ""), "place")
    return drawing
