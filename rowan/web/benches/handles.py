"""The attributes of something that is dragged, nudged by arrow keys and typed."""

from __future__ import annotations

from typing import Any

from rowan.core.design.changes import locate
from rowan.core.terms.units import dimension, shown
from rowan.web.benches.bench import Sheet


def handle(
    sheet: Sheet,
    path: str,
    *,
    axis: str,
    per_px: float,
    low: float | None = None,
    high: float | None = None,
    **more: Any,
) -> dict[str, Any]:
    """Attributes of a handle for an input: `per_px` is the stored value a pixel means along `axis` (x, y or turn)."""
    found = locate(sheet.design, path)
    spec = found.spec
    unit = dimension(spec.dimension).unit(sheet.units)

    def user(stored: float) -> float:
        return round(unit.from_si(spec.si(stored)), 3)

    least, most = (spec.low if low is None else low) or 0.0, (spec.high if high is None else high) or 0.0
    return {
        "id": more.pop("id", "drag-" + path.replace(".", "-")),
        "cls": more.pop("cls", "handle"),
        "role": "slider",
        "tabindex": 0,
        "aria_label": more.pop("label", spec.label),
        "aria_valuenow": user(found.value),
        "aria_valuemin": user(least),
        "aria_valuemax": user(most),
        "aria_valuetext": shown(found.si, spec.dimension, sheet.units),
        "data_drag": axis,
        "data_path": path,
        "data_value": found.value,
        "data_low": least,
        "data_high": most,
        "data_step": spec.step or 1,
        "data_per_px": per_px,
        # shown = stored × factor + offset: what a value under the hand is called before the server has reckoned with it
        "data_factor": spec.scale / unit.factor,
        "data_offset": -unit.offset / unit.factor,
        "data_decimals": unit.decimals,
        "data_unit": unit.label,
        **more,
    }
