"""What a design needs, counted: goods by place and by who sells them. Source: practice, parts."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable
from itertools import pairwise
from typing import Literal

from rowan.core.design.design import Design
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.parts.cutting import Cutting, Piece, cut
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.run.route import ProfileLeg
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

Merchant = Literal["solar", "plumbing", "electrical", "hire"]
MERCHANTS: dict[Merchant, str] = {
    "solar": "solar supplier",
    "plumbing": "plumbing merchant",
    "electrical": "electrical merchant",
    "hire": "hire",
}
# where a leg's place is packed for
PLACES = ("roof", "outside", "buried", "attic", "shaft", "indoors", "plant room")
LEG_PLACE = {"cellar": "plant room"}
JACKETED = ("roof", "outside")  # where sun and beaks reach the lagging
PORTS = 4  # of one collector: two used in a row, two plugged
PARTS_PER_ROW_LINKS = 2  # upper and lower link between neighbours
HEADER_GROWTH_M = 0.0033  # m a collector at 170 K, copper; site: on the roof
HEADERS, PLATES_A_PIECE = 2, 5  # headers of a row; collectors after which one is given room to grow; site: on the roof
HOT_BOOTS = {
    "metal": "roof boot of metal, soldered on",
    "jacket": "roof boot over the lagged and jacketed pipe",
    "ordinary": "roof boot, ordinary, for the hot line",
}
HOSE_HOLE_M, RIGID_HOLE_M = (
    0.032,
    0.038,
)  # m through the roof: a flexible link; rigid pipe that has to move, practice: the roof
CORE_M = 0.082  # m, a bit for both lines with their lagging; usual
# h on the roof for any field and for each collector, with feet and rails; people, and h of a day; rules of thumb
ROOF_H, ROOF_COLLECTOR_H, ROOF_PEOPLE, DAY_H = 8.0, 2.5, 2, 7.0
END_UNIONS = 4  # field and coil, each line one


@record
class Part:
    """One line of the list: what, how much (a count has the dimension `count`), who sells it, where it goes, why so much."""

    key: str
    name: Statement
    quantity: Quantity
    unit: str
    merchant: Merchant
    place: str
    because: Statement


def turns_of(legs: tuple[ProfileLeg, ...]) -> int:
    """Joints at which a line turns: between any two legs."""
    return max(len(legs) - 1, 0)


def cuttings_of(design: Design, run: RunResult) -> dict[str, Cutting]:
    """Every leg cut from the stock length, by the pipe it is laid in."""
    pieces: dict[str, list[Piece]] = defaultdict(list)
    for leg in run.route.legs():
        pieces[leg.pipe.name].append(Piece(f"{leg.line} {leg.id}", leg.length))
    return {name: cut(held, stock_length=design.parts.pipe_piece_m.value) for name, held in pieces.items()}


def together(cuttings: Iterable[Cutting]) -> Cutting:
    """All pipe as one cutting."""
    held = list(cuttings)
    return Cutting(tuple(bar for found in held for bar in found.bars), sum(found.couplings for found in held))


def place_of(leg: ProfileLeg) -> str:
    """The place a leg's goods are packed for."""
    return LEG_PLACE.get(leg.place, leg.place)


def counted(
    key: str, number: int, name: Statement, where: tuple[Merchant, str], because: Statement, unit: str = ""
) -> Part:
    """A line of the list that is counted by the piece."""
    return Part(key, name, Quantity(float(number), "count"), unit, where[0], where[1], because)


def _lengths(run: RunResult) -> dict[str, float]:
    lengths: dict[str, float] = defaultdict(float)
    for leg in run.route.legs():
        lengths[place_of(leg)] += leg.length
    return {place: lengths[place] for place in PLACES if lengths[place] > 0}


def _boots(design: Design, run: RunResult) -> list[Part]:
    """What keeps the rain out where both lines pass the roof."""
    where: tuple[Merchant, str] = ("solar", "roof")
    if all(leg.place != "roof" for leg in run.route.legs()):
        return []
    hot = Quantity(stagnation_of(design.collector.item.value), "temperature")
    hose = design.run.laid("hot").material == "corrugated"
    hole = Quantity(HOSE_HOLE_M if hose else RIGID_HOLE_M, "pipe_size")
    # each plane's string goes in by its own holes, and is joined under the roof
    each = 1 if design.plane_beside is None else 2
    return [
        counted(
            "boot_hot",
            each,
            say(HOT_BOOTS[design.run.hot_boot.value]),
            where,
            say("the hot line sees up to {t}; a hole of {h}", t=hot, h=hole),
        ),
        counted(
            "boot_cold",
            each,
            say("roof boot, ordinary"),
            where,
            say("the cold line, the sensor cable first; a hole of {h}", h=hole),
        ),
    ]


def _tank_on_roof(design: Design, run: RunResult) -> list[Part]:
    """What a tank over its field wants beside its parts: a stand, and pipes down to the house."""
    down = Quantity(2 * run.route.top, "length", 1)
    return [
        counted(
            "tank_stand",
            1,
            say("stand for the tank"),
            ("solar", "roof"),
            say("as an engineer draws it, for its full weight"),
        ),
        counted(
            "boots_house", 2, say("roof boot for hot water"), ("solar", "roof"), say("cold main up, hot water down")
        ),
        Part(
            "house_pipes",
            say("pipe for cold main and hot water, lagged"),
            down,
            "",
            "plumbing",
            "shaft",
            say("from the gauge to the tank and back, {h} each", h=Quantity(run.route.top, "length", 1)),
        ),
    ]


def _expansion_pieces(design: Design) -> int:
    """Pieces that give long headers room; a mat's hoses give by themselves."""
    if not design.pumped or design.collector.item.value.kind == "unglazed":
        return 0
    return HEADERS * sum((n - 1) // PLATES_A_PIECE for n in design.row_counts)


def roof_parts(design: Design, run: RunResult, packs: Statement) -> list[Part]:
    """Collectors with what mounts, links and passes them; `packs` says what the mounting packs have to hold."""
    count, rows = design.collector.count.value, len(design.row_counts)
    where: tuple[Merchant, str] = ("solar", "roof")
    throttled = design.collector.feed.value == "throttled" and len(design.row_counts) > 1
    mount = "built-in frame with its flashing" if design.roof.way.value == "integrated" else "mounting"
    addon = say("{mount}, add-on pack", mount=mount)
    parts = [
        counted("collectors", count, say(design.collector.item.value.name), where, _collector_note(design)),
        counted(
            "starter_packs",
            rows,
            say("{mount}, starter pack for {covering}", mount=mount, covering=design.survey.covering.value),
            where,
            packs,
        ),
        counted("addon_packs", count - rows, addon, where, say("one for each further collector")),
        counted(
            "links",
            PARTS_PER_ROW_LINKS * (count - rows),
            say("link between collectors, with seals"),
            where,
            say("two between neighbours"),
        ),
        counted(
            "expansion_pieces",
            _expansion_pieces(design),
            say("expansion piece for a header"),
            where,
            say(
                "after five collectors: a header grows some {g} each from frost to standstill",
                g=Quantity(HEADER_GROWTH_M, "growth", 0),
            ),
        ),
        counted(
            "series_elbows",
            2 * (count - rows) if design.collector.within.value == "series" else 0,
            say("elbow with a length of hose, collector to collector"),
            where,
            say("one after the other: fitted and measured, taken off, the hose cut and fitted warm"),
        ),
        counted("row_tees", 2 * (len(design.row_counts) - 1), say("tee to a row"), where, say("one in, one out")),
        counted(
            "throttles",
            len(design.row_counts) if throttled else 0,
            say("balancing valve with a scale"),
            where,
            say("one a row"),
        ),
        counted("plugs", (PORTS - 2) * rows, say("plug for an unused port"), where, say("two a row stay unused")),
    ]
    parts += _boots(design, run) if design.pumped else _tank_on_roof(design, run)
    if run.route.top_vented:
        because = say("the highest point of the hot line")
        if design.run.vent_shut_off.value:
            parts.append(counted("vent", 1, say("vent with a shut-off valve under it"), where, because))
        else:
            parts.append(counted("vent", 1, say("vent"), where, because))
    return [part for part in parts if part.quantity.value > 0]


def _collector_note(design: Design) -> Statement:
    """Where the collector comes from, and that it comes in pieces."""
    item = design.collector.item.value
    if item.pieces == 1 and item.assembly_h == 0:
        return say("as on the Collector bench")
    return say(
        "each in {n} pieces, {h} to put together before it is carried up",
        n=Quantity(float(item.pieces), "count"),
        h=Quantity(item.assembly_h * 3600, "hours", 1),
    )


def pipe_parts(design: Design, run: RunResult, cuttings: dict[str, Cutting]) -> list[Part]:
    """Pipe, fittings, clips and lagging, counted from the legs."""
    plumbing: Merchant = "plumbing"
    lengths = _lengths(run)
    indoors: tuple[Merchant, str] = (plumbing, "shaft" if "shaft" in lengths else "indoors")
    main = design.run.laid("cold")
    name = main.name[:1].lower() + main.name[1:]
    made = [part for number, cut in enumerate(cuttings.items()) for part in _of_pipe(design, run, number, cut, indoors)]
    at = "at field and tank" if design.through_store else "at field and coil"
    lifts = design.on_roof and design.pumped
    ends = say(
        "{place}{case}",
        place=at,
        case=", with half a metre of slack: it lifts off when the roof is covered anew" if lifts else "",
    )
    made.append(counted("unions", END_UNIONS, say("union for {name}", name=name), (plumbing, "plant room"), ends))
    made += [*_placed(design, run, plumbing), *_clips(design, lengths, name)]
    return [part for part in made if part.quantity.value > 0] + _lagging(design, run) + _trench(design, run)


def _of_pipe(
    design: Design, run: RunResult, number: int, cut: tuple[str, Cutting], where: tuple[Merchant, str]
) -> list[Part]:
    """Lengths, bends and couplings of one pipe; the first keeps its plain keys."""
    full_name, cutting = cut
    legs = [leg for leg in run.route.legs() if leg.pipe.name == full_name]
    pipe, key = legs[0].pipe, f"_{number}" if number else ""
    name, metal = pipe.name[:1].lower() + pipe.name[1:], pipe.material != "corrugated"
    placed = {
        (line, leg.id): leg.bends for line, held in (("cold", design.run.cold), ("hot", design.run.hot)) for leg in held
    }
    loose = design.run.bends.value if pipe == design.run.laid("cold") else 0
    bends = sum(placed[leg.line, leg.id] for leg in legs) + loose
    piece, used = Quantity(design.parts.pipe_piece_m.value, "length"), Quantity(cutting.used, "length", 1)
    made = [
        counted(
            f"pipe{key}",
            len(cutting.bars),
            say("{name} in lengths of {l}", name=name, l=piece),
            where,
            say("{used} by legs, cut as drawn", used=used),
        )
    ]
    if metal:
        made.append(counted(f"bends{key}", bends, say("bend for {name}", name=name), where, say("as on the Run bench")))
    joint = say("{case}{name}", case="coupling for " if metal else "joint for ", name=name)
    made.append(counted(f"couplings{key}", cutting.couplings, joint, where, say("where a leg is longer than a length")))
    return made


def _clips(design: Design, lengths: dict[str, float], name: str) -> list[Part]:
    """Clips by place; what lies in the ground has none."""
    every = design.parts.clip_every_m.value
    because = say("one every {d}", d=Quantity(every, "length"))
    return [
        counted(
            f"clips_{place}",
            math.ceil(length / every),
            say("pipe clip with lining, {name}", name=name),
            ("plumbing", place),
            because,
        )
        for place, length in lengths.items()
        if place != "buried"
    ]


def _placed(design: Design, run: RunResult, plumbing: Merchant) -> list[Part]:
    """Joints where a line goes from one pipe to another; valves and tees placed on legs."""
    changes = sum(a.pipe != b.pipe for line in (run.route.cold, run.route.hot) for a, b in pairwise(line))
    legs = (*design.run.cold, *design.run.hot)
    where: tuple[Merchant, str] = (plumbing, "indoors")
    as_placed = say("as placed on the legs")
    return [
        counted("reducers", changes, say("joint from pipe to pipe"), where, say("where a line changes")),
        counted("leg_valves", sum(leg.valves for leg in legs), say("ball valve, for hot fluid"), where, as_placed),
        counted("leg_tees", sum(leg.tees for leg in legs), say("tee"), where, as_placed),
    ]


def _lagging(design: Design, run: RunResult) -> list[Part]:
    spare = 1 + design.parts.lagging_spare.value
    lengths: dict[tuple[str, float, float], float] = defaultdict(float)
    for leg in run.route.legs():
        if leg.insulation > 0 and leg.length > 0:
            lengths[place_of(leg), leg.insulation, leg.pipe.outer_diameter_m] += leg.length
    made = []
    for number, place in enumerate(sorted(lengths, key=lambda key: PLACES.index(key[0]))):
        where, thick, outer = place
        length = lengths[place]
        jacket = where in JACKETED and design.run.jacket.value == "jacket"
        name = "lagging {t} for {d}, hot kind" + (", with a jacket against sun and beaks" if jacket else "")
        same = sum(key[0] == where for key in lengths) > 1
        made.append(
            Part(
                f"lagging_{where}" + (f"_{number}" if same else ""),
                say(name, t=Quantity(thick, "pipe_size"), d=Quantity(outer, "pipe_size")),
                Quantity(length * spare, "length", 1),
                "",
                "plumbing",
                where,
                say(
                    "{l} of pipe and {s} spare",
                    l=Quantity(length, "length", 1),
                    s=Quantity(design.parts.lagging_spare.value, "share"),
                ),
            )
        )
    return made


def _trench(design: Design, run: RunResult) -> list[Part]:
    """What a buried length needs beside its pipe. Both lines share one trench where both are buried."""
    ducts = sum(
        leg.length_m for line in (design.run.cold, design.run.hot) for leg in line if leg.place == "buried" and leg.duct
    )
    trench = max(sum(leg.length for leg in line if leg.depth is not None) for line in (run.route.cold, run.route.hot))
    if trench <= 0:
        return []

    def part(key: str, name: str, length: float, because: str) -> Part:
        """A length of the buried line's goods [m]."""
        return Part(key, say(name), Quantity(length, "length", 1), "", "plumbing", "buried", say(because))

    made = [part("warning_tape", "warning tape", trench, "over the pipe, half way up the trench")]
    if ducts > 0:
        made.insert(0, part("duct", "drain pipe as a duct, with its end seals", ducts, "the buried legs that have one"))
    return made


def fluid_parts(design: Design, charge: SealedCharge) -> list[Part]:
    """Glycol in cans, and water where it is mixed on site."""
    share = design.glycol_share
    here: tuple[Merchant, str] = ("solar", "plant room")
    can = design.parts.can_l.value * LITRE
    if design.parts.fluid_sold.value == "premix":
        cans = math.ceil(charge.prepare / can - 1e-9)
        return [
            counted(
                "fluid",
                cans,
                say("can of {c} propylene glycol, mixed to {s}", c=Quantity(can, "tank"), s=Quantity(share, "share")),
                here,
                say("{v} to prepare", v=Quantity(charge.prepare, "volume")),
            )
        ]
    mix = charge.tub.fill
    pure = charge.prepare * mix / design.charge.concentrate.value
    return [
        counted(
            "fluid",
            math.ceil(pure / can - 1e-9),
            say("can of {c} propylene glycol concentrate, inhibited", c=Quantity(can, "tank")),
            here,
            say("{s} of {v}", s=Quantity(mix, "share_fine"), v=Quantity(charge.prepare, "volume")),
        ),
        Part(
            "water",
            say("demineralised water"),
            Quantity(charge.prepare - pure, "volume"),
            "",
            "plumbing",
            "plant room",
            say("the rest of the mix"),
        ),
    ]


def electrical_parts(design: Design, run: RunResult) -> list[Part]:
    """Controller, sensors and cable; mains is for a licensed electrician."""
    here: tuple[Merchant, str] = ("solar", "plant room")
    spare = design.parts.cable_spare_m.value
    if not design.pumped:
        return []
    return [
        counted("controller", 1, say("differential controller"), here, say("settings by the card")),
        counted("sensors", 3, say("sensor, high temperature for the field"), here, say("field, store low, store high")),
        Part(
            "cable",
            say("sensor cable, two cores, apart from mains"),
            Quantity(run.route.hot_length + spare, "length", 1),
            "",
            "electrical",
            "shaft",
            say("along the hot line, {s} spare", s=Quantity(spare, "length", 1)),
        ),
    ]


def scaffold_days(design: Design) -> int:
    """Days that the scaffold stands: two people on the roof, and a day for pipe and pressure test."""
    hours = ROOF_H + ROOF_COLLECTOR_H * design.collector.count.value
    return math.ceil(hours / (ROOF_PEOPLE * DAY_H)) + 1


def _cores(design: Design) -> bool:
    """Whether a line goes through concrete or masonry."""
    buried = any(leg.place == "buried" for leg in (*design.run.cold, *design.run.hot))
    return design.pumped and (buried or (design.on_roof and design.roof.carrier.value == "slab"))


def hired(design: Design, test: float) -> list[Part]:
    """What is fetched for a few days; `test` is the pressure the loop is tested at [Pa gauge]."""
    roof: tuple[Merchant, str] = ("hire", "roof")
    room: tuple[Merchant, str] = ("hire", "plant room")
    parts = [
        counted(
            "scaffold",
            1,
            say("scaffold or edge protection"),
            roof,
            say("some {d} days; down only after the pressure test", d=str(scaffold_days(design))),
        ),
        counted("test_gauge", 1, say("gauge and adapter for vessel and test"), room, say("read, never assume")),
    ]
    if _cores(design):
        words = say("core drill, {d} bit", d=Quantity(CORE_M, "pipe_size"))
        parts.append(counted("core_drill", 1, words, roof, say("through the slab or the house's wall, both lines")))
    reaches = design.charge.filling_gauge_pa.value if design.sealed else design.main_gauge_pa
    if test > reaches:
        words = say("hand pump for the pressure test, to {p} and more", p=Quantity(test, "pressure"))
        because = say("filling pump and main bring {p} at most", p=Quantity(reaches, "pressure"))
        parts.append(counted("hand_pump", 1, words, room, because))
    if design.sealed:
        parts += [
            counted(
                "filling_station",
                1,
                say(
                    "filling station of at least {q}, two hoses, two tubs",
                    q=Quantity(design.commission.station_flow_l_h.value * LITRE / 3600, "flow"),
                ),
                room,
                say("as on the Commission bench"),
            ),
            counted("refractometer", 1, say("refractometer, pH strips"), room, say("proves the mix")),
        ]
    return parts


@record
class Line:
    """One line of a shopping list: the same goods of all places together."""

    name: Statement
    quantity: Quantity
    unit: str
    places: tuple[str, ...]


def by_place(parts: tuple[Part, ...]) -> dict[str, list[Part]]:
    """The list as it is packed: place by place, from the roof down."""
    return {place: found for place in PLACES if (found := [part for part in parts if part.place == place])}


def by_merchant(parts: tuple[Part, ...]) -> dict[Merchant, list[Line]]:
    """The list as it is bought: merchant by merchant, the same goods of several places added up."""
    lists: dict[Merchant, list[Line]] = {}
    for merchant in MERCHANTS:
        same: dict[str, list[Part]] = defaultdict(list)
        for part in parts:
            if part.merchant == merchant:
                same[part.name.text()].append(part)
        if same:
            lists[merchant] = [
                Line(
                    group[0].name,
                    Quantity(
                        sum(part.quantity.value for part in group),
                        group[0].quantity.dimension,
                        group[0].quantity.decimals,
                    ),
                    group[0].unit,
                    tuple(part.place for part in group),
                )
                for group in same.values()
            ]
    return lists
