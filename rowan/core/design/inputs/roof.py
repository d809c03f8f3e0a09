"""The roof as it is found, and how the field stands on it.

Places on the plane are measured along the eave from its left end as one faces the roof, and up the slope from the eave.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input, Inputs, InputSpec, Origin
from rowan.core.design.inputs.fields import Flag, Number, Text, Whole, choice, flag, number, whole
from rowan.core.design.inputs.rows import typed_rows
from rowan.core.goods.fixings import FixingKey

Way = Literal["flush", "integrated", "rack", "sawtooth", "ground", "wall", "awning"]
Timber = Literal["spruce", "pine", "fir", "unknown"]
Found = Literal["seen", "probed", "edges"]
State = Literal["sound", "unseen", "doubtful"]
Exposure = Literal["sheltered", "open", "coast"]
Street = Literal["open", "level", "split", "eave"]
FixingChoice = Literal["usual", FixingKey]
Maybe = Input[float | None]


class RoofObject(Inputs):
    """Something on the plane that the field keeps clear of, by its lower left corner."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    kind: Annotated[
        Literal["window", "chimney", "vent", "hip", "valley"],
        choice(
            "kind",
            ("window", "window"),
            ("chimney", "chimney"),
            ("vent", "vent pipe"),
            ("hip", "hip"),
            ("valley", "valley"),
            help="A hip cuts the plane's upper corner off, a valley the lower one",
        ),
    ]
    x_m: Annotated[float, number("from the left", "length", 0, 100, step=0.05, help="Along the eave to its left side")]
    y_m: Annotated[float, number("up the slope", "length", 0, 40, step=0.05, help="From the eave to its lower side")]
    width_m: Annotated[float, number("wide", "length", 0.05, 20, step=0.05)]
    height_m: Annotated[float, number("high, along the slope", "length", 0.05, 20, step=0.05)]
    stands_m: Annotated[
        float | None,
        number("stands up", "length", 0, 8, step=0.05, empty="usual", help="Over the roof; what stands throws shade"),
    ] = None
    # the plane it stands on; empty for the first
    plane: str = Field(default="", pattern=r"^[a-z0-9]{0,12}$")
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class RoofPlane(Inputs):
    """Another plane of the same roof, by its own bearing, pitch and size; some of the collectors may lie on it.

    Covering, carriers, wind and snow are the house's own.
    """

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    azimuth_deg: Annotated[float, number("faces", "bearing", 0, 360, step=1)]
    pitch_deg: Annotated[float, number("pitch", "angle", 0, 90, step=1)]
    width_m: Annotated[float, number("wide", "length", 1, 100, step=0.1)]
    slope_m: Annotated[float, number("up the slope", "length", 1, 40, step=0.1)]
    eaves_m: Annotated[float | None, number("eaves over ground", "length", 0, 60, step=0.1, empty="as the first")] = (
        None
    )
    line_first_m: Annotated[
        float | None, number("first rafter from the verge", "length", 0, 3, step=0.01, empty="as on the first")
    ] = None
    count: Annotated[
        int, whole("collectors on it", 0, 59, help="Of the field’s own: a string of their own, fed beside the first")
    ] = 0
    rows: Annotated[
        str, AfterValidator(typed_rows), InputSpec("in rows", "text", help="As “1” for all in one, or “3 + 2”")
    ] = "1"
    field_x_m: Annotated[
        float | None, number("field from the left", "length", -20, 100, step=0.01, empty="where few feet do")
    ] = None
    field_y_m: Annotated[
        float | None, number("field up the slope", "length", -20, 40, step=0.01, empty="in the middle")
    ] = None
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class RoofInputs(Inputs):
    """Structure, state, wind and snow of the roof; fixing, rails and place of the field."""

    way: Annotated[
        Input[Way],
        choice(
            "collectors stand",
            ("flush", "flush with the roof"),
            ("integrated", "built into the roof"),
            ("rack", "on a rack"),
            ("sawtooth", "in sawtooth rows"),
            ("ground", "on the ground"),
            ("wall", "on a wall"),
            ("awning", "as an awning"),
            help="How they stand moves sun, wind and year",
        ),
    ] = Input[Way](value="flush")
    tilt_deg: Annotated[
        Maybe,
        number("collectors' tilt", "angle", 0, 90, step=1, empty="as the roof", help="Of the collectors themselves"),
    ] = Maybe(value=None)
    state: Annotated[
        Input[State],
        choice(
            "roof is",
            ("sound", "sound"),
            ("unseen", "not looked at from above yet"),
            ("doubtful", "in doubt: soft, cracked or too old"),
        ),
    ] = Input[State](value="unseen")
    age_a: Annotated[Maybe, number("covering is", "years", 0, 300, empty="of unknown age", step=1)] = Maybe(value=None)
    access: Annotated[Flag, flag("two people", "can work on it", "cannot stand on it")] = Flag(value=True)
    carrier: Annotated[
        Input[Literal["rafters", "trusses", "slab"]],
        choice("carried by", ("rafters", "rafters"), ("trusses", "trusses"), ("slab", "a concrete slab")),
    ] = Input[Literal["rafters", "trusses", "slab"]](value="rafters")
    line_first_m: Annotated[
        Number, number("first from the verge", "length", 0, 3, step=0.01, help="Middle of the first rafter or seam")
    ] = Number(value=0.3)
    line_spacing_m: Annotated[
        Number, number("then every", "length", 0.05, 3, step=0.01, help="From middle to middle")
    ] = Number(value=0.6)
    line_width_m: Annotated[Number, number("wide", "pipe_size", 0.01, 0.5, step=0.001)] = Number(value=0.05)
    line_depth_m: Annotated[Number, number("deep", "pipe_size", 0.04, 1, step=0.005)] = Number(value=0.15)
    timber: Annotated[
        Input[Timber],
        choice("timber", ("spruce", "spruce"), ("pine", "pine"), ("fir", "douglas fir"), ("unknown", "unknown, old")),
    ] = Input[Timber](value="spruce")
    deck_m: Annotated[
        Number, number("deck", "pipe_size", 0, 0.15, step=0.001, help="Boards between covering and rafter; none is 0")
    ] = Number(value=0.02)
    batten_width_m: Annotated[Number, number("battens wide", "pipe_size", 0.015, 0.1, step=0.005)] = Number(value=0.05)
    batten_depth_m: Annotated[Number, number("battens deep", "pipe_size", 0.015, 0.1, step=0.005)] = Number(value=0.03)
    found: Annotated[
        Input[Found],
        choice(
            "rafters found",
            ("seen", "from below, open"),
            ("probed", "by probing"),
            ("edges", "by both edges, halved"),
        ),
    ] = Input[Found](value="seen")
    eave_drop_m: Annotated[
        Number,
        number("eave lower at the right by", "level", -1, 1, step=0.001, help="Below zero where the left end is lower"),
    ] = Number(value=0.0)
    street: Annotated[
        Input[Street],
        choice(
            "rails agreed",
            ("open", "not yet, from the street"),
            ("level", "level"),
            ("split", "half-way to the eave"),
            ("eave", "with the eave"),
        ),
    ] = Input[Street](value="open")
    exposure: Annotated[
        Input[Exposure],
        choice("wind", ("sheltered", "sheltered"), ("open", "open country"), ("coast", "coast or hill")),
    ] = Input[Exposure](value="open")
    gust_m_s: Annotated[
        Maybe,
        number(
            "gust at the roof", "gust", 0, 90, step=1, empty="by the exposure", help="From the wind map, at that height"
        ),
    ] = Maybe(value=None)
    eaves_m: Annotated[Maybe, number("eaves over ground", "length", 0, 60, step=0.1, empty="by the storeys")] = Maybe(
        value=None
    )
    snow_pa: Annotated[
        Number, number("snow on the ground", "roof_load", 0, 15000, step=100, help="From the snow map, for this height")
    ] = Number(value=1000.0)
    snow_slides: Annotated[Flag, flag("snow", "slides off freely", "is held by a guard or parapet")] = Flag(value=True)
    fixing: Annotated[
        Input[FixingChoice],
        choice(
            "fixing",
            ("usual", "usual for the covering"),
            ("plate", "flashed plate"),
            ("hook", "rafter hook"),
            ("foot", "flashed foot"),
            ("post", "post screw"),
            ("batten", "batten hook"),
            ("block", "block between rafters"),
            ("seam", "seam clamp"),
            ("bracket", "bracket on the sheet"),
            ("ballast", "ballast tray"),
            ("anchor", "anchor in concrete"),
            ("pile", "ground pile"),
            ("wall", "wall bracket"),
            ("strap", "strap over mats"),
            ("frame", "built-in frame"),
            ("tube", "tube in concrete"),
        ),
    ] = Input[FixingChoice](value="usual")
    holds_up_n: Annotated[
        Maybe, number("it holds, upward", "force", 50, 1e5, empty="as usual", help="The maker's figure wins", step=50)
    ] = Maybe(value=None)
    holds_down_n: Annotated[Maybe, number("it holds, downward", "force", 50, 1e5, empty="as usual", step=50)] = Maybe(
        value=None
    )
    span_m: Annotated[Maybe, number("rail may span", "length", 0.2, 4, empty="as usual", step=0.05)] = Maybe(value=None)
    overhang_m: Annotated[Maybe, number("rail may overhang", "length", 0, 1.5, empty="as usual", step=0.05)] = Maybe(
        value=None
    )
    rails: Annotated[Whole, whole("rails a row", 2, 4)] = Whole(value=2)
    rails_apart_m: Annotated[
        Maybe, number("rails apart", "length", 0.2, 5, empty="three fifths of the collector", step=0.01)
    ] = Maybe(value=None)
    rail_over_m: Annotated[Number, number("rail past the row", "length", 0, 0.5, step=0.01)] = Number(value=0.1)
    rail_piece_m: Annotated[Number, number("rails come in", "length", 1, 7, step=0.05)] = Number(value=3.3)
    lying: Annotated[Flag, flag("collectors lie", "on their side", "upright")] = Flag(value=False)
    hot_at: Annotated[
        Input[Literal["right", "left"]],
        choice(
            "hot out at the",
            ("right", "right, high"),
            ("left", "left, high"),
            help="Cold goes in low at the other end; plugs and sensor move with it",
        ),
    ] = Input[Literal["right", "left"]](value="right")
    gap_m: Annotated[Number, number("between collectors", "length", 0, 1, step=0.005)] = Number(value=0.03)
    row_gap_m: Annotated[Number, number("between rows", "length", 0, 10, step=0.05)] = Number(value=0.3)
    row_pitch_m: Annotated[
        Maybe,
        number(
            "from row to row",
            "length",
            0.3,
            40,
            empty="by the winter sun",
            step=0.1,
            help="Rows that stand behind each other",
        ),
    ] = Maybe(value=None)
    lower_edge_m: Annotated[
        Number, number("lower edge over ground", "length", 0, 5, step=0.05, help="Shed snow piles up there")
    ] = Number(value=0.6)
    frost_depth_m: Annotated[Number, number("frost goes down", "length", 0, 3, step=0.05)] = Number(value=0.8)
    ballast_kg: Annotated[Number, number("ballast on a foot", "mass", 0, 2000, step=5)] = Number(value=40.0)
    new_covering: Annotated[
        Flag, flag("roof", "is covered anew with it", "keeps its covering", help="Then the covering saved is counted")
    ] = Flag(value=False)
    hot_hole_x_m: Annotated[
        Maybe,
        number(
            "hot line goes in, from the left", "length", -20, 100, step=0.01, empty="not marked",
            help="Through the roof, or into the trench: with both numbers the first leg of the hot line follows from them",
        ),
    ] = Maybe(value=None)  # fmt: skip
    hot_hole_y_m: Annotated[
        Maybe, number("hot line goes in, up the slope", "length", -20, 40, step=0.01, empty="not marked")
    ] = Maybe(value=None)
    cold_hole_x_m: Annotated[
        Maybe,
        number(
            "cold line comes out, from the left", "length", -20, 100, step=0.01, empty="not marked",
            help="With both numbers the last leg of the cold line follows from them",
        ),
    ] = Maybe(value=None)  # fmt: skip
    cold_hole_y_m: Annotated[
        Maybe, number("cold line comes out, up the slope", "length", -20, 40, step=0.01, empty="not marked")
    ] = Maybe(value=None)
    street_note: Annotated[
        Text,
        InputSpec(
            "agreed with", "text", empty="nothing written",
            help="Who looked from the street, what was agreed, and which photograph shows it",
        ),
    ] = Text(value="")  # fmt: skip
    side_clear_m: Annotated[
        Number, number("free at each side", "length", 0, 3, step=0.05, help="For connections and feet to stand on")
    ] = Number(value=0.5)
    course_m: Annotated[
        Number,
        number(
            "course", "length", 0.05, 1, step=0.005, help="Of slates or tiles, as much as shows; two stay free above"
        ),
    ] = Number(value=0.2)
    field_x_m: Annotated[
        Maybe, number("field from the left", "length", -20, 100, step=0.01, empty="where few feet do")
    ] = Maybe(value=None)
    field_y_m: Annotated[Maybe, number("field up the slope", "length", -20, 40, step=0.01, empty="in the middle")] = (
        Maybe(value=None)
    )
    diagonal_1_m: Annotated[
        Maybe,
        number("diagonal, low left to high right", "length", 0.1, 60, step=0.001, decimals=3, empty="not measured"),
    ] = Maybe(value=None)
    diagonal_2_m: Annotated[
        Maybe,
        number("diagonal, low right to high left", "length", 0.1, 60, step=0.001, decimals=3, empty="not measured"),
    ] = Maybe(value=None)
    objects: list[RoofObject] = Field(default_factory=list, max_length=24)
    planes: list[RoofPlane] = Field(default_factory=list, max_length=4)

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        for ids in ([row.id for row in self.objects], [row.id for row in self.planes]):
            twice = next((key for key in ids if ids.count(key) > 1), None)
            if twice is not None:
                raise PydanticCustomError("leg_twice", "the entry “{key}” stands twice in one list", {"key": twice})
        if sum(plane.count > 0 for plane in self.planes) > 1:
            raise PydanticCustomError(
                "roof_strings", "collectors lie on two planes at most: take them from one of the others first", {}
            )
        known = {"", *(plane.id for plane in self.planes)}
        lost = next((thing for thing in self.objects if thing.plane not in known), None)
        if lost is not None:
            raise PydanticCustomError(
                "roof_lost", "“{key}” stands on a plane that is no longer there: take it away first", {"key": lost.kind}
            )
        if self.line_spacing_m.value <= self.line_width_m.value:
            raise PydanticCustomError("roof_lines", "rafters lie further apart than they are wide", {})
        return self
