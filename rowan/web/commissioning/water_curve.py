"""A test with water as it went: the gauge between one re-pumping and the next, by the millilitres that went in.

Drawn straight between what was read: how it fell meanwhile nobody saw.
"""

from __future__ import annotations

from rowan.core.records.run import RunState
from rowan.core.terms.units import System, shown, shown_number, unit_label
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 320, 190
LEFT, RIGHT, TOP, FOOT = 46.0, 306.0, 26.0, 158.0
# minutes at which it was re-pumped, and what was read then
REPUMPED = ((10.0, "test_ml10"), (20.0, "test_ml20"), (50.0, "test_ml50"))
DEEPER = 1.15  # than the deepest fall the axis goes
LEAST_SPAN_PA = 5e3  # Pa the axis spans at least: half a mark of a usual gauge


def water_curve(state: RunState, units: System) -> Drawing | None:
    """The curve of a water test; None where none was read to its end."""
    read = state.symbols
    if any(key not in read for key in ("test_p1", "per_kelvin", *(key for _, key in REPUMPED))):
        return None
    stiff = read["plan_contents"] * read["plan_stiffness"]
    falls = [(minute, read[key], read[key] / stiff) for minute, key in REPUMPED]
    top, deepest = read["test_p1"], max(max(fall for _, _, fall in falls), LEAST_SPAN_PA)

    def at(minute: float, pressure: float) -> tuple[float, float]:
        return (
            LEFT + (RIGHT - LEFT) * minute / REPUMPED[-1][0],
            TOP + (FOOT - TOP) * (top - pressure) / (deepest * DEEPER),
        )

    drawing = Drawing(WIDTH, HEIGHT, "The test, between re-pumpings", "test-curve", "test-curve")
    drawing.line((LEFT, TOP - 10), (LEFT, FOOT), "rule-ink")
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    drawing.line(at(0, top), at(REPUMPED[-1][0], top), "planned")
    drawing.words((LEFT - 6, TOP + 4), shown_number(top, "pressure", units), "axis", "end")
    drawing.words((LEFT - 6, FOOT + 4), shown_number(top - deepest * DEEPER, "pressure", units), "axis", "end")
    drawing.words((LEFT - 6, TOP - 12), unit_label("pressure", units), "axis", "end")
    for minute in (0, *(minute for minute, _, _ in falls)):
        drawing.words((at(minute, top)[0], FOOT + 16), f"{minute:g}", "axis", "middle")
    drawing.words((RIGHT, FOOT + 30), "min", "label", "end")
    before = 0.0
    for minute, cup, fall in falls:
        low = top - fall
        drawing.line(at(before, top), at(minute, low), "curve")
        drawing.line(at(minute, low), at(minute, top), "branch")
        drawing.circle(at(minute, low), 3.4, "part-body")
        x, y = at(minute, low)
        drawing.words((x - 6, y + 14), shown(cup, "drops", units), "key-small halo", "end")
        before = minute
    return drawing
