"""What goes with a choice, whoever chooses: another collector, store, pump or kind of loop; and other sizes.

The table of candidates and the input in the sentence would otherwise answer one question in two ways.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Any

from rowan.core.design.changes import changed, locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Origin
from rowan.core.design.routes import plain_lines, planned_length, siphon_lines, usual_bends
from rowan.core.fluid import MOST_SHARE, boiling_point, strength
from rowan.core.goods.catalogue import PIPES
from rowan.core.goods.items import (
    CollectorItem,
    ControllerItem,
    FixingItem,
    FluidItem,
    Normals,
    PipeItem,
    PumpItem,
    StoreItem,
)
from rowan.core.goods.places import PLACES, Place
from rowan.core.reckon import reckon
from rowan.core.steps.control.conflicts import NEAR_STORE_K, UNDER_BOILING_K
from rowan.core.steps.run.buoyancy_findings import MOST_RISE_K
from rowan.core.steps.run.findings import LEAST_VELOCITY
from rowan.core.steps.run.stage import solved_run
from rowan.core.steps.site.stage import reckon_site
from rowan.core.steps.store.tank import scaled_store
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.limits import POSITIVE, takes
from rowan.core.terms.strict import Strict
from rowan.core.terms.units import LITRE_H
from rowan.core.weather.air import FROST_GUARDED_BELOW_C, atmosphere

# goods that a plan holds no sheet of: which input each line of theirs sets
SHEET_SETS: dict[type[Strict], dict[str, str]] = {
    FluidItem: {
        "fluid": "charge.fluid", "concentrate": "charge.concentrate", "ph_new": "charge.ph_new", "ph_least": "charge.ph_least",
    },
    ControllerItem: {"sensor_error_k": "control.sensor_error_k", "frost_c": "control.frost_c", "restart_k": "control.restart_k"},
    FixingItem: {
        "fixing": "roof.fixing", "holds_up_n": "roof.holds_up_n", "holds_down_n": "roof.holds_down_n", "span_m": "roof.span_m",
        "overhang_m": "roof.overhang_m",
    },
}  # fmt: skip
PLACE_ORIGIN: Origin = "data sheet"  # where a known place's figures come from


def chosen(design: Design, path: str, value: Any) -> list[Change]:
    """What a choice changes: the input itself and what goes with it. The one answer for blank, table, cure and proposal.

    An item that is the plan's already changes nothing else.
    """
    goes_with = _GOES_WITH.get(path)
    if goes_with is None:
        return [Change(path, value)]
    now = locate(design, path).value
    alike = value == now or getattr(value, "name", value) == getattr(now, "name", now)
    return [Change(path, value), *(() if alike else goes_with(design, value))]


def set_by(item: Strict) -> list[Change]:
    """What the sheet of a fluid, a controller or a fixing sets in a plan, with its name as the inputs' note; lines it leaves empty set
    nothing. Raises KeyError for goods that a plan holds as they are."""
    lines = ((path, getattr(item, name)) for name, path in SHEET_SETS[type(item)].items())
    return [Change(path, value, "data sheet", item.name) for path, value in lines if value is not None]  # type: ignore[attr-defined]


def sheet_of_plan(design: Design, kind: type[Strict], name: str) -> Strict:
    """The same the other way: a sheet with what a plan has. Raises pydantic's ValidationError for a plan that leaves open what the sheet
    must say, such as a fixing that is “usual for the covering”."""
    said = {field: locate(design, path).value for field, path in SHEET_SETS[kind].items()}
    return kind.model_validate({"name": name, **said})


def with_what_belongs(design: Design, changes: Iterable[Change]) -> list[Change]:
    """The changes of a cure, with what goes with each choice among them; what the cure says itself wins."""
    own = list(changes)
    said = {change.path for change in own}
    belongs = [more for change in own for more in chosen(design, change.path, change.value) if more.path not in said]
    return [*belongs, *own]


def held_within(design: Design, path: str, value: float) -> float:
    """A number within the limits of its input."""
    spec = locate(design, path).spec
    low = spec.low if spec.low is not None else value
    return min(max(value, low), spec.high if spec.high is not None else value)


def _with_collector(design: Design, item: CollectorItem) -> list[Change]:
    """As near to the field's aperture as whole collectors come, flow by the data sheet; an offer gets
    the difference of their prices."""
    now, count = design.collector.item.value, design.collector.count.value
    wanted = int(held_within(design, "collector.count", max(1, round(count * now.aperture_m2 / item.aperture_m2))))
    more = wanted * item.price - count * now.price
    return [
        Change("collector.count", wanted),
        Change("run.flow_l_h", held_within(design, "run.flow_l_h", wanted * item.flow_l_h)),
        *_offer(design, more),
    ]


def _offer(design: Design, more: float) -> list[Change]:
    """An offer with so much more of goods in it; where there is none the list of parts follows by itself."""
    offered = design.money.system_price
    if offered.value is None:
        return []
    return [
        Change("money.system_price", held_within(design, "money.system_price", offered.value + more), offered.origin)
    ]


SENSOR_BETWEEN_PORTS = 0.4  # of the way up the coil stands the lower sensor, practice: the store
UPPER_SENSOR_OVER_COIL = 1.5  # times the coil's height stands the upper one


def store_places(item: StoreItem) -> dict[str, float]:
    """Heights of ports and sensors that belong to a store [m above its foot], by input."""
    between = item.coil_bottom_m + SENSOR_BETWEEN_PORTS * (item.coil_top_m - item.coil_bottom_m)
    return {
        "coil_top_m": item.coil_top_m,
        "coil_bottom_m": item.coil_bottom_m,
        "lower_sensor_m": round(between, 2),
        "upper_sensor_m": round(item.coil_top_m * UPPER_SENSOR_OVER_COIL, 2),
    }


def _with_store(design: Design, item: StoreItem) -> list[Change]:
    """Ports and sensors belong to the store they are on."""
    return [Change(f"store.{name}", height) for name, height in store_places(item).items()]


def typed_store(design: Design, item: StoreItem) -> list[Change]:
    """What a store typed from its data sheet changes: its name may be the same, so it is its ports that say whether they moved."""
    now = design.store.item.value
    moved = (now.coil_bottom_m, now.coil_top_m) != (item.coil_bottom_m, item.coil_top_m)
    return [Change("store.item", item, "data sheet"), *(_with_store(design, item) if moved else ())]


def _with_pump(design: Design, item: PumpItem) -> list[Change]:
    """A speed belongs to its pump."""
    return [Change("run.speed", min(design.run.speed.value, len(item.speeds)))]


def _with_loop(design: Design, kind: str) -> list[Change]:
    """What a kind of loop needs, and without what it must not have."""
    changes = [Change("run.non_return", kind in ("sealed", "direct")), *_moved_store(design, kind)]
    if kind == "sealed":
        changes.append(Change("charge.share", _fitting_share(design.survey.design_minimum_c.value)))
        changes += _fitting_vessel(changed(design, [Change("charge.kind", kind), *changes]))
    if kind == "direct":
        changes.append(Change("control.frost", design.survey.design_minimum_c.value < FROST_GUARDED_BELOW_C))
    if kind == "drainback":
        # a slower pump may not lift the water to the top again
        changes += [*_open_limits(design), Change("functions.speed", "one")]
    return changes


def _moved_store(design: Design, kind: str) -> list[Change]:
    """A store that goes up over the field, or comes down from there, has other pipes; a new route is drawn, as a guess."""
    if (kind == "thermosiphon") != design.pumped:
        return []
    height = design.survey.gauge_to_top_m.value
    up = kind == "thermosiphon"
    cold, hot = siphon_lines() if up else plain_lines(height=height)
    bends = 0 if up else usual_bends(length=planned_length(height=height))
    changes = [Change("run.cold", cold), Change("run.hot", hot), Change("run.bends", bends, "assumed")]
    pipe = (
        _siphon_pipe(changed(design, [Change("charge.kind", kind), *changes]))
        if up
        else pipe_wanted(flow_l_h=design.run.flow_l_h.value)
    )
    return [*changes, Change("run.pipe", pipe, "assumed"), Change("run.hot_pipe", None, "assumed")]


def _siphon_pipe(design: Design) -> PipeItem:
    """The narrowest copper in which enough flows by itself; the widest where it does in none."""
    site = reckon_site(design)
    for pipe in sorted((p for p in PIPES.values() if p.standard == "EN 1057"), key=lambda p: p.bore_m):
        run = solved_run(changed(design, [Change("run.pipe", pipe), Change("run.hot_pipe", None)]), site)
        if run.buoyancy and run.buoyancy.flows and run.temperatures.rise <= MOST_RISE_K:
            break
    return pipe


@takes(flow_l_h=POSITIVE)
def pipe_wanted(*, flow_l_h: float) -> PipeItem:
    """The largest copper pipe that still gives 0.3 m/s at the flow wanted; the smallest where none does."""
    coppers = sorted((p for p in PIPES.values() if p.standard == "EN 1057"), key=lambda p: p.bore_m)
    fast = [p for p in coppers if flow_l_h * LITRE_H / p.bore_area_m2 >= LEAST_VELOCITY]
    return fast[-1] if fast else coppers[0]


def _fitting_share(coldest: float) -> float:
    """The glycol a night [°C] asks for; the strongest mix where none is enough [-]."""
    try:
        return strength(design_minimum=coldest)
    except RowanError:
        return MOST_SHARE


def _fitting_vessel(design: Design) -> list[Change]:
    """The vessel that a loop which has just become a sealed one needs; none where no vessel suits it."""
    need = reckon(design).sealed.need
    if need is None:
        return []
    return [Change("charge.vessel_l", float(need.standard_l)), Change("charge.vessels", need.vessels)]


def _open_limits(design: Design) -> list[Change]:
    """What is open to the air boils sooner: the pump stops under that, and the store before the pump has to."""
    boils = boiling_point(volume_share=0.0, pressure_abs=atmosphere(altitude=design.survey.altitude_m.value))
    cut_out = held_within(design, "control.cut_out_c", math.floor(boils - UNDER_BOILING_K))
    most = math.floor(cut_out - design.control.start_k.value - NEAR_STORE_K)
    limit = min(design.store.maximum_c.value, held_within(design, "store.maximum_c", most))
    return [
        Change("control.cut_out_c", min(design.control.cut_out_c.value, cut_out)),
        Change("store.maximum_c", limit),
    ]


def _with_count(design: Design, count: int) -> list[Change]:
    """Another collector takes its share of the flow and, in an offer, costs what it costs; where both come from stays as it is."""
    now, flow = design.collector.count.value, design.run.flow_l_h
    return [
        Change("run.flow_l_h", held_within(design, "run.flow_l_h", flow.value / now * count), flow.origin),
        *_offer(design, (count - now) * design.collector.item.value.price),
    ]


def _with_coldest(design: Design, coldest: float) -> list[Change]:
    """What was assumed from the coldest night follows it; what somebody read or agreed stays, and is checked."""
    share, frost = design.charge.share, design.control.frost
    changes = []
    if design.sealed and share.origin == "assumed":
        changes.append(Change("charge.share", _fitting_share(coldest), "assumed"))
    if design.charge.kind.value == "direct" and frost.origin == "assumed":
        changes.append(Change("control.frost", coldest < FROST_GUARDED_BELOW_C, "assumed"))
    return changes


def place_changes(design: Design, place: Place) -> list[Change]:
    """What taking one of the known places brings: its climate, and what was assumed from the old one."""
    normals = Normals(ghi_kwh_m2_day=list(place.ghi_kwh_m2_day), air_c=list(place.air_c))
    return [
        Change("survey.latitude_deg", place.latitude_deg, PLACE_ORIGIN),
        Change("survey.longitude_deg", place.longitude_deg, PLACE_ORIGIN),
        Change("survey.altitude_m", place.altitude_m, PLACE_ORIGIN),
        Change("survey.design_minimum_c", place.design_minimum_c, PLACE_ORIGIN),
        Change("survey.hardness_mol_m3", place.hardness_mol_m3, PLACE_ORIGIN),
        Change("survey.normals", normals, PLACE_ORIGIN),
        Change("survey.weather", None, PLACE_ORIGIN),
        *_with_coldest(design, place.design_minimum_c),
    ]


def _with_place(design: Design, name: str) -> list[Change]:
    """A place that Rowan knows brings its climate; under another name a known place's climate is a guess.

    Means that somebody typed and weather from a file stay, whatever the place is called.
    """
    survey = design.survey
    own = survey.weather.value is not None or survey.normals.origin in ("measured", "agreed")
    if own:
        return []
    place = PLACES.get(name)
    return (
        [Change("survey.normals", survey.normals.value, "assumed")] if place is None else place_changes(design, place)
    )


_GOES_WITH: dict[str, Callable[[Design, Any], list[Change]]] = {
    "collector.item": _with_collector,
    "store.item": _with_store,
    "run.pump": _with_pump,
    "charge.kind": _with_loop,
    "collector.count": _with_count,
    "survey.design_minimum_c": _with_coldest,
    "survey.place": _with_place,
}


def with_collector(design: Design, item: CollectorItem) -> Design:
    """The plan with another collector."""
    return changed(design, chosen(design, "collector.item", item))


def with_kind(design: Design, kind: str) -> Design:
    """The plan as another kind of loop."""
    return changed(design, chosen(design, "charge.kind", kind))


def with_sizes(design: Design, *, count: int, contents_l: float) -> Design:
    """The plan with so many collectors and a store of the same build in another size; ports and sensors keep their share."""
    item: StoreItem = design.store.item.value
    store = scaled_store(item, contents_l=contents_l) if not math.isclose(contents_l, item.contents_l) else item
    return changed(design, [*chosen(design, "collector.count", count), Change("store.item", store)])
