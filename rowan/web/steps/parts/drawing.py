"""How the pipe is cut: each stock length to scale, its pieces named, what is left hatched."""

from __future__ import annotations

from collections import Counter

from rowan.core.steps.parts.cutting import Bar, Cutting
from rowan.core.terms.language import tr
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
    cutting, stock = sheet.result.parts.cutting, sheet.design.parts.pipe_piece_m.value
    names = {
        f"{leg.line} {leg.id}": ("bar-slate" if leg.line == "cold" else "bar-open", leg.name or leg.id)
        for leg in sheet.result.run.route.legs()
    }
    drawing = _bars(sheet, cutting, stock, names, ("cutting", "How the pipe is cut, to scale"))
    drawing.words((LEFT, 12), "white: hot line · lined: cold line · hatched: left over", "label")
    joined = ("1 coupling where a leg is longer than a length", "{n} couplings where a leg is longer than a length")
    _foot(drawing, sheet, cutting, tr("{used} of legs", used=shown(cutting.used, "length", sheet.units, 1)), joined)
    return drawing


def rails_drawing(sheet: Sheet) -> Drawing:
    """The rails as they are cut from the lengths they come in."""
    rails, stock = sheet.result.parts.rails, sheet.design.roof.rail_piece_m.value
    names = {piece.name: ("rail", piece.name) for bar in rails.bars for piece in bar.pieces}
    drawing = _bars(sheet, rails, stock, names, ("rails", "How the rails are cut, to scale"))
    _foot(
        drawing,
        sheet,
        rails,
        tr("{used} of rail", used=shown(rails.used, "length", sheet.units, 1)),
        ("1 splice, none over a foot", "{n} splices, none over a foot"),
    )
    return drawing


def _bars(
    sheet: Sheet, cutting: Cutting, stock: float, names: dict[str, tuple[str, str]], told: tuple[str, str]
) -> Drawing:
    """Stock lengths to scale; `names` are each piece's pattern and name, `told` the drawing's key and title."""
    units, rows = sheet.units, _grouped(cutting.bars)
    drawn = rows[:MOST_ROWS]
    drawing = Drawing(WIDTH, TOP + ROW * len(drawn) + 26, told[1], told[0], told[0])
    scale = (RIGHT - LEFT) / stock
    drawing.attributes["data-px-per-m"] = round(scale, 4)
    drawing.words((RIGHT, 12), tr("one length, {stock}", stock=shown(stock, "length", units)), "label", "end")
    for number, (bar, times) in enumerate(drawn):
        y = TOP + ROW * number
        drawing.words((LEFT - 6, y + 13), f"{times} ×", "fig-minor", "end")
        x = LEFT
        for piece in bar.pieces:
            pattern, name = names[piece.name]
            width = piece.length * scale
            drawing.rect(x, y, width, BAR, pattern, id=f"{told[0][:3]}-{number}-{round(x)}")
            length = shown_number(piece.length, "length", units)
            _fitting(drawing, (x, x + width), y, f"{length} {name}", length)
            x += width
        if RIGHT - x > LEAST_OFFCUT_PX:
            drawing.rect(x, y, RIGHT - x, BAR, "steep")
            _fitting(drawing, (x, RIGHT), y, shown_number(bar.offcut, "length", units))
    return drawing


def _fitting(drawing: Drawing, ends: tuple[float, float], y: float, *words: str) -> None:
    """The first of some words that has room between two places, in the middle of them."""
    for tried in words:
        if len(tried) * CHARACTER_PX < ends[1] - ends[0] - 4:
            drawing.words((sum(ends) / 2, y + 13), tried, "label-ink halo", "middle")
            return


def _foot(drawing: Drawing, sheet: Sheet, cutting: Cutting, used: str, joined: tuple[str, str]) -> None:
    """What is used of how many lengths, and what is joined, one or more of them."""
    rows = len(_grouped(cutting.bars))
    drawn = min(rows, MOST_ROWS)
    bars = len(cutting.bars)
    words = tr("{used} in 1 length", used=used) if bars == 1 else tr("{used} in {bars} lengths", used=used, bars=bars)
    if cutting.couplings:
        words += ", " + tr(joined[cutting.couplings > 1], n=cutting.couplings)
    more = tr("; {kinds} more kinds of cut not drawn", kinds=rows - drawn) if rows > drawn else ""
    drawing.words((LEFT, TOP + ROW * drawn + 12), words + more, "place")
