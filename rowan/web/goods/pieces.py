"""What the parts are called whose price a firm may set: the keys of the price list, as people say them."""

from __future__ import annotations

from rowan.core.terms.language import Message

PIECE_NAMES: dict[str, Message] = {
    key: Message(name)
    for key, name in {
        "adapters": "thread adapter",
        "addon_packs": "mounting, a collector more",
        "base": "base under the store",
        "boot_cold": "roof boot, cold line",
        "boot_hot": "roof boot, hot line",
        "boots_house": "roof boot, line of the house",
        "cable": "sensor cable, a metre",
        "clips": "pipe clip",
        "concentrate": "concentrate, a can",
        "controller": "controller",
        "cooling_vessel": "cooling vessel",
        "core_drill": "core drilling, a hole",
        "discharge": "container under the relief",
        "duct": "duct in the ground, a metre",
        "expansion_pieces": "expansion piece of a header",
        "field_relief": "relief valve of the field's own",
        "filling_station": "filling station, hire",
        "fire_dump": "heat dump without power",
        "floor_mixer": "mixing valve of the floor",
        "fluid": "fluid mixed ready, a can",
        "foot_flashings": "flashing for a foot",
        "foot_screws": "screw for a foot",
        "hand_pump": "hand test pump, hire",
        "heat_dump": "heat dump",
        "house_pipes": "pipe for cold main and hot water, a metre",
        "lagging": "lagging, a metre",
        "lagging_paint": "paint for lagging, a m³",
        "level_tube": "level tube with valves",
        "lid_seal": "seal for a lid",
        "links": "link between collectors",
        "loop_gauge": "gauge of the loop",
        "loop_relief": "relief valve of the loop",
        "manifold": "manifold of the floor",
        "membrane_tape": "membrane tape, a metre",
        "mode_valves": "ball valve for drinking water",
        "nails": "nail",
        "non_return": "non-return valve",
        "pan": "pan and feet under the store",
        "panel": "photovoltaic panel",
        "plugs": "plug of a port",
        "reducer": "pressure reducing valve",
        "refractometer": "refractometer, hire",
        "row_tees": "tee to a row",
        "scaffold": "scaffold",
        "sealant": "sealant, a metre of bead",
        "season_switch": "season switch",
        "sensors": "sensor",
        "separator": "air separator",
        "series_elbows": "elbow from collector to collector",
        "slab_pipe": "floor pipe, a metre",
        "starter_packs": "mounting, the first collector",
        "station": "station",
        "store_drain": "drain valve of the store",
        "store_relief": "relief valve of the store",
        "summer_element": "element for the summer",
        "tank_stand": "stand for a tank on the roof",
        "taps_lagging": "lagging of the pipe to the taps, a metre",
        "tempering": "tempering valve with its fittings",
        "test_gauge": "test gauge and adapter",
        "throttles": "balancing valve of a row",
        "vacuum_breaker": "vacuum breaker",
        "valve_tags": "numbered tag",
        "vent": "vent with its valve",
        "vent_tiles": "vent tile for a line",
        "washers": "flat washer of a union",
        "warning_tape": "warning tape, a metre",
    }.items()
}


def called(key: str) -> str:
    """What a part is called; its key where nobody has named it."""
    return PIECE_NAMES.get(key, Message(key.replace("_", " ")))
