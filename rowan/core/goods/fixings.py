"""What holds a row of collectors: generic fixings, the coverings they suit, and what screws give. The maker's figure wins.

Source: defaults of the trade, roof.
"""

from __future__ import annotations

from typing import Literal

from rowan.core.terms.record import record

Covering = Literal["slate", "tile", "shingle", "metal", "sheet", "membrane", "cement"]
FixingKey = Literal[
    "plate",
    "hook",
    "foot",
    "post",
    "batten",
    "block",
    "seam",
    "bracket",
    "ballast",
    "anchor",
    "pile",
    "wall",
    "strap",
    "frame",
    "tube",
]
Verdict = Literal["usual", "allowed", "discouraged", "dropped"]

# specific gravity of timber; what nobody knows is taken as weak, defaults: roof
TIMBER_G = {"spruce": 0.42, "pine": 0.51, "fir": 0.50, "unknown": 0.36}
# a structural screw of 6 mm [N] at this thread [m] in this gravity, in proportion to both
SCREW_N, SCREW_THREAD_M, SCREW_G = 1500.0, 0.060, 0.42
WANTED_RATED, WANTED_WITHDRAWAL = 1.5, 2.0  # safety against a fixing's rating, and where it follows from withdrawal
SHEAR_SHARE = 0.6  # of what it holds down, a fixing holds along the roof


@record
class Fixing:
    """Holds up and down [N], span of the rail between two and overhang [m]; its screws; `lag` where a lag screw may be used.

    `holds_up` None means that its screws alone decide. `drills` says whether it makes a hole in what keeps the rain out.
    """

    key: FixingKey
    name: str
    holds_up: float | None
    holds_down: float
    span: float
    overhang: float
    screws: int = 0
    screw: str = ""
    screw_length: float = 0.0
    thread: float = 0.0
    drills: bool = True
    timber: bool = True
    notes: str = ""


FIXINGS: dict[FixingKey, Fixing] = {
    f.key: f
    for f in (
        Fixing("plate", "flashed plate", 1400, 2000, 1.2, 0.3, 2, "structural screw 6 × 120", 0.120, 0.070,
               notes="slate cut, metal flashing under the course above"),
        Fixing("hook", "rafter hook", 1400, 2000, 1.2, 0.3, 2, "structural screw 6 × 120", 0.120, 0.070, drills=False,
               notes="sits in the trough, never on the tile; the tile notched"),
        Fixing("foot", "flashed foot", None, 2000, 1.2, 0.4, 2, "structural screw 6 × 90", 0.090, 0.060,
               notes="flashing under the upper course, sealant under the rim"),
        Fixing("post", "post screw", 1200, 1500, 1.0, 0.3, 1, "M12 × 250, pilot 8 mm", 0.250, 0.080,
               notes="square to the roof, sealed on the crown"),
        Fixing("batten", "batten hook", 250, 800, 0.8, 0.2, drills=False, timber=False,
               notes="clamped: only where batten, spacing and nailing are proved, never in an edge zone"),
        Fixing("block", "block between rafters", None, 2000, 1.2, 0.4, 2, "structural screw 6 × 90", 0.090, 0.060,
               notes="tight under the deck, one deep piece or two glued and screwed, four nails of 90 mm each end"),
        Fixing("seam", "seam clamp", 900, 2000, 1.0, 0.3, drills=False, timber=False, notes="no hole; by seam test"),
        Fixing("bracket", "bracket on the sheet", 800, 1500, 1.0, 0.3, 4, "thin-sheet screw with washer", timber=False,
               notes="into the purlin where it can"),
        Fixing("ballast", "ballast tray", 0, 4000, 1.2, 0.4, drills=False, timber=False,
               notes="its weight alone holds; membrane protected, roof load checked"),
        Fixing("anchor", "anchor in concrete", 3000, 5000, 1.2, 0.4, 1, "M12 bonded", timber=False,
               notes="sealed stand; pull test"),
        Fixing("pile", "ground pile", 4000, 8000, 2.0, 0.5, drills=False, timber=False,
               notes="below frost; more by pull test"),
        Fixing("tube", "tube in concrete", 2000, 8000, 2.0, 0.5, drills=False, timber=False,
               notes="its concrete's own weight holds; its foot below frost, more by pull test"),
        Fixing("wall", "wall bracket", 1500, 2000, 1.2, 0.3, 2, "anchor M10 by masonry", timber=False,
               notes="pull test on old brick"),
        Fixing("frame", "bracket of the built-in frame", None, 2000, 1.2, 0.4, 2, "structural screw 6 × 90", 0.090, 0.060, drills=False,
               notes="on boards in the plane of the battens, screwed into the rafter; step flashing laps into each course"),
        Fixing("strap", "strap over mats", 500, 500, 1.0, 0.3, 2, "thin-sheet screw with washer", timber=False,
               notes="every metre, over a pad"),
    )
}  # fmt: skip

# for each covering its usual fixing, what may stand in for it, and what is dropped with the reason
SUITS: dict[Covering, dict[FixingKey, tuple[Verdict, str]]] = {
    "slate": {
        "plate": ("usual", "screwed through the deck into the rafter, flashed under the course above"),
        "block": ("allowed", "where no rafter lies under the row"),
        "hook": ("discouraged", "made for the trough of a tile: a slate under it breaks"),
    },
    "tile": {
        "hook": ("usual", "in the trough of the tile, into the rafter"),
        "block": ("allowed", "where no rafter lies under the row"),
        "post": ("discouraged", "a hole through each tile, sealed on its crown"),
        "batten": ("discouraged", "clamped, hence weak against lift: battens and their nailing have to be proved"),
    },
    "shingle": {
        "foot": ("usual", "flashed under the upper course, into the rafter"),
        "block": ("allowed", "where no rafter lies under the row"),
        "post": ("discouraged", "only its seal keeps the rain out"),
    },
    "metal": {"seam": ("usual", "clamps without a hole")},
    "sheet": {
        "bracket": ("usual", "on the crown, into the purlin where it can"),
        "strap": ("allowed", "for mats"),
        "post": ("allowed", "through the crown into timber under it"),
    },
    "membrane": {
        "anchor": ("usual", "bonded into the concrete, in a sealed stand"),
        "ballast": ("allowed", "where the roof bears it, up to 5°"),
    },
    "cement": {},
}
# and where no roof carries the field
ON_GROUND: dict[FixingKey, tuple[Verdict, str]] = {
    "pile": ("usual", "driven or screwed below the frost, one pulled and its number written down"),
    "tube": ("allowed", "where no pile goes in, or none may: its concrete's weight holds"),
    "ballast": ("allowed", "on firm and level ground that nobody may dig: its weight alone holds"),
}
ON_WALL: dict[FixingKey, tuple[Verdict, str]] = {
    "wall": ("usual", "two anchors by the masonry; a pull test on old brick"),
    "anchor": ("allowed", "bonded, in a concrete wall"),
}
WHY_DROPPED: dict[Covering, str] = {
    "slate": "it is made for another covering",
    "tile": "it is made for another covering",
    "shingle": "it is made for another covering",
    "metal": "no screw goes through seam metal",
    "sheet": "it is made for another covering",
    "membrane": "no screw goes through a flat roof's membrane",
    "cement": "nothing drills old fibre-cement: its dust harms whoever breathes it, and it does not bear a person",
}
# pitch from which a covering sheds water round a frame built into it [°]; none for a covering that takes no frame. Rule of thumb: the
# maker of the frame says
BUILT_IN_FROM_DEG: dict[Covering, float | None] = {
    "slate": 25.0, "tile": 22.0, "shingle": 20.0, "metal": 15.0, "sheet": 15.0, "membrane": None, "cement": None,
}  # fmt: skip
# what nobody does any more, and why
NEVER = (
    ("a spanner under two rafters with a long rod", "it makes the deck the beam, and the deck sags"),
    ("a hook that bears on one side", "it turns before it holds"),
    ("an angle on a pad caulked to shingles", "the caulk is all that keeps the rain out"),
)


def wanted_safety(*, by_screws: bool) -> float:
    """How many times its load a fixing is to hold: more where that follows from withdrawal of its screws. Source: defaults, roof."""
    return WANTED_WITHDRAWAL if by_screws else WANTED_RATED


def fixings_for(covering: Covering, *, way: str = "flush") -> dict[FixingKey, tuple[Verdict, str]]:
    """The fixings that are spoken of where a field stands some way on a covering, each with its verdict and why."""
    if way == "ground":
        return ON_GROUND
    if way in ("wall", "awning"):
        return ON_WALL
    if way == "integrated":
        flat = BUILT_IN_FROM_DEG[covering] is None
        why = "no frame is built into it: water would stand round the collectors"
        return {"frame": ("dropped", why) if flat else ("usual", FIXINGS["frame"].notes)}
    return SUITS[covering]


def suits(covering: Covering, key: FixingKey, *, way: str = "flush") -> tuple[Verdict, str]:
    """Whether a fixing may be used where a field stands some way on a covering, and why."""
    why = {
        "ground": "it is made for a roof",
        "wall": "it is made for a roof",
        "awning": "it is made for a roof",
        "integrated": "what is built in is held by the brackets of its own frame",
    }.get(way, WHY_DROPPED[covering])
    return fixings_for(covering, way=way).get(key, ("dropped", why))


def usual_fixing(covering: Covering, *, way: str = "flush", mats: bool = False) -> FixingKey:
    """The fixing that is usual on a covering; on the ground and on a wall by the way it stands.

    Old fibre-cement has none: what would stand there is told as dropped.
    """
    if way == "ground":
        return "pile"
    if way in ("wall", "awning"):
        return "wall"
    if way == "integrated":
        return "frame"
    if mats and covering == "sheet":
        return "strap"
    found = next((key for key, (verdict, _) in SUITS[covering].items() if verdict == "usual"), None)
    return found or "post"
