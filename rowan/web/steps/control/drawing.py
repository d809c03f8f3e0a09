"""Field over store against the sun: what a standing field reaches, what a running one keeps; the limits on a thermometer."""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.steps.control.stage import STORE_BOTTOM_C
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, number_and_unit, shown, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.benches.handles import handle
from rowan.web.ui.fit import measured_at, width_of
from rowan.web.ui.svg import Drawing

WIDTH = 656
APART_PX = 6.0  # between words beside each other on a scale
NAME_PX = 12.0  # letters of a rung's name
LEFT, RIGHT, TOP, FOOT = 44.0, 560.0, 26.0, 296.0
CROWDED_PX = 20.0


def differences(sheet: Sheet) -> Drawing:
    """Start and stop as two rungs, moved by hand, over the lines of a standing and of a running field."""
    drawing = Drawing(WIDTH, 340, "Difference of field over store against the sun", "differences", "differences")
    control, units = sheet.design.control, sheet.units
    result = sheet.result
    start, stop, floor = control.start_k.value, control.stop_k.value, result.differences.floor
    most_k = max(14.0, start * 1.35, stop * 1.35)
    most_sun = max(600.0, result.differences.band.hold_irradiance * 1.25)

    def x(sun: float) -> float:
        return LEFT + (RIGHT - LEFT) * min(max(sun, 0), most_sun) / most_sun

    def y(kelvin: float) -> float:
        return FOOT - (FOOT - TOP) * min(max(kelvin, 0), most_k) / most_k

    _axes(drawing, sheet, most_k, most_sun)
    loop = result.differences.loop
    band = result.differences.band
    if band.cycles:
        drawing.rect(
            x(band.start_irradiance), TOP, x(band.hold_irradiance) - x(band.start_irradiance), FOOT - TOP, "hunt"
        )
        middle = (x(band.start_irradiance) + x(band.hold_irradiance)) / 2
        drawing.words((middle, TOP + 18), "here it hunts", "place halo", "middle")
    # straight lines from where the field is as warm as the store's foot, as far as the drawing reaches
    begins = (x(loop.level_irradiance), y(0))
    standing, running = (_reach(line, most_k, most_sun) for line in (loop.standing_irradiance, loop.running_irradiance))
    standing_end, running_end = ((x(sun), y(kelvin)) for sun, kelvin in (standing, running))
    drawing.path((begins, standing_end), "curve-chosen")
    drawing.path((begins, running_end), "loop-curve")
    drawing.words((standing_end[0] + 6, TOP + 36), "field, pump off", "label-ink halo")
    drawing.words((running_end[0] - 4, running_end[1] - 8), "field, pump on", "label-ink halo", "end")
    drawing.rect(LEFT, y(floor), RIGHT - LEFT, FOOT - y(floor), "beyond")
    drawing.line((LEFT, y(floor)), (RIGHT, y(floor)), "planned")
    drawing.words(
        (LEFT + 6, y(floor) - 5),
        tr("least stop {floor}: below it the loop only loses", floor=shown(floor, "difference", units)),
        "label halo",
    )
    for sun, kelvin, name, cls in (
        (band.start_irradiance, start, "starts", "leaf-dot"),
        (band.hold_irradiance, stop, "holds", "ring-dot"),
    ):
        drawing.line((x(sun), y(kelvin)), (x(sun), FOOT), "pointing")
        drawing.circle((x(sun), y(kelvin)), 5.5, cls)
        drawing.words(
            (x(sun), FOOT + 30),
            tr("{name} {sun}", name=name, sun=shown(sun, "irradiance", units)),
            "label-ink halo",
            "middle",
        )
    per_px = most_k / (FOOT - TOP)
    # close to each other the upper one's words stand over its rung and the lower one's under it, whichever is which
    over, under = (-9.0, 15.0) if abs(y(start) - y(stop)) < CROWDED_PX else (5.0, 5.0)
    down = (over, under) if start >= stop else (under, over)
    _rung(drawing, sheet, ("control.start_k", start, "start"), y(start), per_px, down[0])
    _rung(drawing, sheet, ("control.stop_k", stop, "stop"), y(stop), per_px, down[1])
    return drawing


def _reach(irradiance: Callable[[float], float], most_k: float, most_sun: float) -> tuple[float, float]:
    """Where a line (irradiance over difference, both linear) leaves the drawing: irradiance [W/m²], difference [K]."""
    least, most = irradiance(0.0), irradiance(most_k)
    if most <= most_sun:
        return most, most_k
    return most_sun, max(0.0, most_k * (most_sun - least) / (most - least))


def _axes(drawing: Drawing, sheet: Sheet, most_k: float, most_sun: float) -> None:
    units = sheet.units
    unit = dimension("difference").unit(units)
    step = 2.0 if most_k / unit.factor <= 20 else 5.0
    level = 0.0
    while level * unit.factor <= most_k:
        y = FOOT - (FOOT - TOP) * level * unit.factor / most_k
        drawing.line((LEFT, y), (RIGHT, y), "grid" if level else "rule-ink")
        drawing.words((LEFT - 7, y + 4), f"{level:g}", "axis", "end")
        level += step
    drawing.words(
        (LEFT - 24, TOP - 10),
        tr("{unit_label}, field over store foot", unit_label=unit_label("difference", units)),
        "label",
    )
    light = dimension("irradiance").unit(units)
    step = 100.0 if units == "metric" else 50.0
    level = 0.0
    while level * light.factor <= most_sun:
        x = LEFT + (RIGHT - LEFT) * level * light.factor / most_sun
        drawing.line((x, TOP), (x, FOOT), "grid" if level else "rule-ink")
        drawing.words((x, FOOT + 15), f"{level:g}", "axis", "middle")
        level += step
    drawing.words((RIGHT + 22, FOOT + 15), unit_label("irradiance", units), "axis")
    note = tr(
        "store foot at {foot}, air {air}",
        foot=shown(STORE_BOTTOM_C, "temperature", units),
        air=shown(sheet.result.site.annual_air, "temperature", units),
    )
    drawing.words((RIGHT, TOP - 10), note, "label", "end")


def _rung(drawing: Drawing, sheet: Sheet, rung: tuple[str, float, str], y: float, per_px: float, down: float) -> None:
    """A difference as a rung that is moved by hand; its words stand so far under it [px]."""
    path, value, name = rung
    words_y = y + down
    group = drawing.add("g", **handle(sheet, path, axis="y", per_px=-per_px))
    group.rect(LEFT, y - 9, RIGHT - LEFT + 92, 18, "grip")
    group.line((LEFT, y), (RIGHT + 8, y), "rung-fill" if name == "start" else "rung-cold")
    number, unit = number_and_unit(shown(value, "difference", sheet.units))
    group.words((RIGHT + 14, words_y), name, "label-ink halo")
    group.figure((RIGHT + 20 + width_of(tr(name), NAME_PX), words_y + 1), number, unit, "fig-big halo")


def limits(sheet: Sheet) -> Drawing:
    """The temperatures that switch and those that parts stand, on one scale."""
    drawing = Drawing(WIDTH, 118, "The limits in order", "limits", "limits")
    design, units = sheet.design, sheet.units
    dry = sheet.result.collector.stagnation
    joints = min(design.run.joint_rating_c.value, design.run.pipe.value.rating_c)
    top = max(joints, dry, design.control.cut_out_c.value) * 1.06

    def x(temperature: float) -> float:
        return 16 + (WIDTH - 40) * max(temperature, 0) / top

    drawing.line((16, 60), (WIDTH - 10, 60), "rule-ink")
    unit = dimension("temperature").unit(units)
    step = 20 if units == "metric" else 50
    tick = 0 if units == "metric" else 50
    while unit.to_si(tick) <= top:
        at = x(unit.to_si(tick))
        drawing.line((at, 57), (at, 63), "thin")
        tick += step
    rows = (
        (design.control.least_collector_c.value, "least field", "above"),
        (design.store.maximum_c.value, "store limit", "above"),
        (design.control.cut_out_c.value, "cut-out", "above"),
        (dry, "field, dry in sun", "below"),
        (joints, "joints stand", "above"),
        (sheet.result.run.temperatures.mean, "working", "below"),
    )
    label = unit_label("temperature", units)
    for side, (foot, figure_y, name_y) in {"above": (42, 36, 20), "below": (78, 92, 107)}.items():
        here = sorted((value, name) for value, name, where in rows if where == side)
        numbers = [shown_number(value, "temperature", units) for value, _ in here]
        widths = [
            max(width_of(f"{number} {label}", measured_at("fig-key")), width_of(tr(name), measured_at("label")))
            for number, (_, name) in zip(numbers, here, strict=True)
        ]
        middles = _in_a_row([x(value) for value, _ in here], widths, WIDTH - 4)
        for (value, name), number, middle in zip(here, numbers, middles, strict=True):
            drawing.line((x(value), 60), (x(value), foot), "stroke")
            drawing.figure((middle, figure_y), number, label, "fig-key halo", "middle")
            drawing.words((middle, name_y), name, "label halo", "middle")
    return drawing


def _in_a_row(wanted: list[float], widths: list[float], frame: float) -> list[float]:
    """Middles of words beside each other [px], each where it is wanted or as near as those before it and the frame's right side leave."""
    found, taken = list[float](), 0.0
    for middle, wide in zip(wanted, widths, strict=True):
        found.append(max(middle, taken + wide / 2))
        taken = found[-1] + wide / 2 + APART_PX
    taken = frame
    for number in reversed(range(len(found))):
        found[number] = min(found[number], taken - widths[number] / 2)
        taken = found[number] - widths[number] / 2 - APART_PX
    return found
