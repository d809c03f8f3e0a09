"""Which inputs a job of this kind has at all: a household has no pool depth, a loop of water no glycol.

What is not this job's is neither asked, counted as a guess nor printed. An input without a line here always matters. That one
said not to matter moves nothing is held by a test over every kind of loop and duty.
"""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.design.design import Design
from rowan.core.design.inputs.functions import matters

Asks = Callable[[Design], bool]


def _duty(*kinds: str) -> Asks:
    return lambda design: design.duty.kind.value in kinds


def _sealed(design: Design) -> bool:
    return design.sealed


def _drains(design: Design) -> bool:
    return design.drains


def _heats_house(design: Design) -> bool:
    return design.heats_house


def _loses_house(design: Design) -> bool:
    return design.heats_house or design.duty.kind.value == "slab"


def _pumped(design: Design) -> bool:
    return design.pumped


def _tank(design: Design) -> bool:
    return not design.own_store


def _heated(design: Design) -> bool:
    return not design.own_store and design.store.backup.value != "none"


def _boiler(design: Design) -> bool:
    return design.taps and design.store.backup.value == "coil"


def _two_heaters(design: Design) -> bool:
    return design.two_heaters


def _heats_by_electricity(design: Design) -> bool:
    return _heated(design) and (design.duty.heater.value == "electric" or design.two_heaters)


def _rows(design: Design) -> bool:
    return len(design.row_counts) > 1


def _rows_on_a_plane(design: Design) -> bool:
    # one row on each of two planes is fed as two, and is no row behind or over another
    return max(len(design.rows_first), len(design.rows_beside)) > 1


def _main(design: Design) -> bool:
    return not design.sealed and not design.drains


def _by_school(school: str) -> Asks:
    return lambda design: design.sealed and design.charge.school.value == school


def _frost(design: Design) -> bool:
    return design.pumped and not design.sealed and design.control.frost.value


def _on_panel(design: Design) -> bool:
    return design.pumped and design.run.pump.value.on_panel


def _on_roof(design: Design) -> bool:
    return design.on_roof


def _flush(design: Design) -> bool:
    return design.lies_on_covering


def _on_ground(design: Design) -> bool:
    return design.roof.way.value == "ground"


def _lined(design: Design) -> bool:
    return design.on_roof and design.roof.carrier.value != "slab"


def _on_lines(design: Design) -> bool:
    return _lined(design) and design.fixing.key != "batten"


def _into_timber(design: Design) -> bool:
    return _lined(design) and design.fixing.timber


def _stands_behind(design: Design) -> bool:
    return _rows_on_a_plane(design) and design.stands_behind


def _holes(design: Design) -> bool:
    return design.pumped and (design.on_roof or design.roof.way.value == "ground")


def _all(asks: Asks, *paths: str) -> dict[str, Asks]:
    return dict.fromkeys(paths, asks)


ASKED: dict[str, Asks] = {
    **_all(
        _duty("household", "commercial"),
        "duty.persons",
        "duty.litres_per_person_l",
        "duty.drawn",
        "duty.tap_c",
        "store.tempering_valve",
        "store.hot_pipe_lagged",
        "store.hygiene",
    ),
    **_all(
        _duty("pool"),
        "duty.pool_area_m2",
        "duty.pool_depth_m",
        "duty.pool_c",
        "duty.pool_swing_k",
        "duty.pool_cover",
        "duty.season_from",
        "duty.season_to",
    ),
    "duty.own_draws": lambda design: (
        design.duty.kind.value in ("household", "commercial") and design.duty.drawn.value == "own"
    ),
    "duty.also_heats": _duty("household", "commercial"),
    **_all(_duty("slab"), "duty.slab_area_m2", "duty.slab_thickness_m", "duty.slab_c", "duty.slab_swing_k"),
    **_all(_duty("bath"), "duty.bath_l", "duty.bath_c", "duty.bath_swing_k", "duty.bath_loss_w_k", "duty.bath_coil_m2"),
    **_all(_loses_house, "duty.house_loss_w_k", "duty.heat_below_c"),
    **_all(_heats_house, "duty.supply_c", "duty.supply_return_c"),
    **_all(_duty("process", "bath"), "duty.process_w", "duty.process_hours"),
    **_all(_duty("process"), "duty.process_c", "duty.process_return_c"),
    **_all(
        _tank,
        "store.item",
        "store.lower_sensor_m",
        "store.upper_sensor_m",
        "store.relief_free",
        "store.pan",
        "store.spare_element",
        "store.backup",
        "survey.floor_limit_kg_m2",
    ),
    **_all(_heated, "store.backup_c", "store.backup_w", "store.backup_hours"),
    "store.summer_element": _boiler,
    **_all(_two_heaters, "store.summer_from", "store.summer_to", "money.electricity_kg_co2_kwh"),
    "money.cheap_price": _heats_by_electricity,
    "money.cheap_hours": lambda design: _heats_by_electricity(design) and design.money.cheap_price.value is not None,
    "store.second_l": lambda design: _heated(design) and design.store.backup.value == "second",
    "store.above_field_m": lambda design: not design.pumped,
    **_all(_on_roof, "roof.state", "roof.age_a", "roof.access", "roof.carrier", "roof.side_clear_m"),
    **_all(_flush, "roof.eave_drop_m", "roof.street", "roof.street_note", "roof.course_m"),
    "roof.new_covering": lambda design: design.roof.way.value == "integrated",
    **_all(_holes, "roof.hot_hole_x_m", "roof.hot_hole_y_m", "roof.cold_hole_x_m", "roof.cold_hole_y_m"),
    **_all(_on_ground, "roof.lower_edge_m", "roof.frost_depth_m"),
    **_all(_on_lines, "roof.line_first_m", "roof.line_spacing_m"),
    **_all(_into_timber, "roof.line_width_m", "roof.line_depth_m", "roof.timber", "roof.found", "roof.deck_m"),
    **_all(
        lambda design: design.on_roof and design.fixing.key == "batten", "roof.batten_width_m", "roof.batten_depth_m"
    ),
    "roof.tilt_deg": lambda design: not _flush(design),
    "roof.row_pitch_m": _stands_behind,
    "roof.row_gap_m": lambda design: _rows_on_a_plane(design) and not _stands_behind(design),
    "roof.ballast_kg": lambda design: design.fixing.key == "ballast",
    "roof.exposure": lambda design: design.roof.gust_m_s.value is None,
    "roof.eaves_m": lambda design: design.roof.gust_m_s.value is None and not _on_ground(design),
    "roof.snow_slides": lambda design: design.roof.snow_pa.value > 0,
    **_all(_rows, "collector.feed", "collector.row_apart_m"),
    **_all(_pumped, "run.pump", "run.speed", "run.non_return", "run.pump_line", "run.shaft", "run.rim_m"),
    "run.panel_w": _on_panel,
    **_all(
        _drains,
        "run.return_under",
        "control.refill_c",
        "control.restart_k",
        "charge.reservoir_at_m",
        "charge.least_water_l",
    ),
    "run.shut_offs": _drains,
    "commission.hose": lambda design: not design.drains,
    "commission.test_pump": lambda design: design.commission.test.value != "air",
    **_all(_sealed, "commission.kit", "commission.vessel_valve", "commission.between_sets"),
    "run.under_deck_m": lambda design: any(leg.place == "attic" for leg in (*design.run.cold, *design.run.hot)),
    "run.air_inlet_m": lambda design: design.drains and design.run.return_under.value,
    "charge.reservoir_share": lambda design: design.drains and not design.through_store,
    "parts.station": _sealed,
    "charge.reservoir_l": lambda design: design.drains and not design.through_store,
    **_all(
        _sealed,
        "charge.fluid",
        "charge.share",
        "charge.school",
        "charge.vessel_l",
        "charge.vessels",
        "charge.vessel_rated_gauge_pa",
        "charge.vessel_gas_share",
        "charge.vessel_works_gauge_pa",
        "charge.membrane_c",
        "charge.steaming_w_m2",
        "charge.cooling_vessel",
        "charge.surplus_l",
        "charge.residual_l",
        "charge.concentrate",
        "charge.ph_new",
        "charge.ph_least",
        "charge.ph_year",
        "charge.ph_hot",
        "charge.filling_gauge_pa",
        "charge.hot_c",
    ),
    "charge.gap_pa": _by_school("reserve"),
    "charge.typed_fill_gauge_pa": _by_school("typed"),
    "charge.typed_charge_gauge_pa": _by_school("typed"),
    **_all(_main, "charge.mains_gauge_pa", "charge.reducer_gauge_pa"),
    **_all(_pumped, "control.start_k", "control.stop_k", "control.sensor_error_k", "control.cut_out_c"),
    "control.least_collector_c": _pumped,
    "control.frost": _pumped,
    "control.frost_c": _frost,
}


def relevant(design: Design, path: str) -> bool:
    """Whether an input is one of this job's, by its path as in `changes`."""
    stage, _, name = path.partition(".")
    if stage == "functions" and not (design.pumped and matters(design.functions, name)):
        return False
    asks = ASKED.get(path)
    return asks is None or asks(design)
