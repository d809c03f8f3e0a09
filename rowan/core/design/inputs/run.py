"""The lines between field and store: legs, pipe, pump and what is laid with them."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input, Inputs, InputSpec, Origin
from rowan.core.design.inputs.fields import Flag, Number, Text, Whole, choice, flag, number, whole
from rowan.core.goods.items import PipeItem, PumpItem
from rowan.core.terms.units import LITRE_H

# wall thicknesses of lagging as it is sold
LAGGING_SOLD = (
    ("9 mm", "13 mm", "19 mm", "25 mm", "32 mm", "40 mm"),
    ("3/8 in", "1/2 in", "3/4 in", "1 in", "1 1/4 in", "1 1/2 in"),
)


class Leg(Inputs):
    """One leg of a line, in flow order. A fitted leg stands upright and takes up the height that is left."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    name: str = Field(default="", max_length=60)
    length_m: Annotated[float, number("length", "length", 0.0, 300, step=0.1)]
    rise_m: Annotated[float, number("rise", "length", -60, 60, step=0.05)] = 0.0
    place: Annotated[
        Literal["cellar", "indoors", "shaft", "attic", "roof", "outside", "buried"],
        choice(
            "place",
            ("cellar", "cellar"),
            ("indoors", "indoors"),
            ("shaft", "shaft"),
            ("attic", "attic"),
            ("roof", "roof"),
            ("outside", "outside"),
            ("buried", "buried"),
        ),
    ] = "indoors"
    vented: Annotated[bool, flag("vent at its end", "vented", "no vent")] = False
    fitted: bool = False
    pipe: Annotated[PipeItem | None, InputSpec("pipe", "item", empty="as the line")] = None
    insulation_m: Annotated[
        float | None, number("lagging", "pipe_size", 0, 0.1, step=0.001, empty="as the line", offers=LAGGING_SOLD)
    ] = None
    bends: Annotated[int, whole("bends", 0, 60)] = 0
    tees: Annotated[int, whole("tees", 0, 20)] = 0
    valves: Annotated[int, whole("ball valves", 0, 20)] = 0
    depth_m: Annotated[float, number("depth", "length", 0.05, 4, help="Of the pipe's middle", step=0.05)] = 0.6
    duct: Annotated[bool, flag("duct", "pulled through a duct", "laid in the soil")] = True
    ends_sealed: Annotated[bool, flag("duct ends", "sealed", "open")] = True
    from_a_m: Annotated[float | None, number("end from A", "length", 0, 300, empty="not taped")] = None
    from_b_m: Annotated[float | None, number("end from B", "length", 0, 300, empty="not taped")] = None
    origin: Origin = "assumed"
    note: str = Field(default="", max_length=400)


Jacket = Literal["jacket", "paint", "none"]
HotBoot = Literal["metal", "jacket", "ordinary"]
PumpLine = Literal["cold", "hot"]
ShutOff = Literal["ball", "screw"]
Joints = Literal["metal", "push"]
Shaft = Literal["level", "upright"]


class RunInputs(Inputs):
    """Lines, insulation, flow and pump."""

    pipe: Annotated[Input[PipeItem], InputSpec("pipe", "item")]
    cold: list[Leg] = Field(min_length=1, max_length=60)
    hot: list[Leg] = Field(min_length=1, max_length=60)
    insulation_m: Annotated[Number, number("lagging", "pipe_size", 0, 0.1, step=0.001, offers=LAGGING_SOLD)] = Number(
        value=0.019
    )
    insulation_w_mk: Annotated[Number, number("lagging conducts", "conductivity", 0.015, 0.2)] = Number(value=0.042)
    bends: Annotated[Whole, whole("bends", 0, 300)]
    flow_l_h: Annotated[Number, number("flow wanted", "flow", 5, 20000, LITRE_H, help="For the whole field")]
    pump: Annotated[Input[PumpItem], InputSpec("pump", "item")]
    speed: Annotated[Whole, whole("pump speed", 1, 6)]
    non_return: Annotated[Flag, flag("non-return valve", "in the pump line", "none")] = Flag(value=True)
    shut_off_to_relief: Annotated[Flag, flag("shut-off between field and relief", "present", "none")] = Flag(
        value=False
    )
    field_relief: Annotated[
        Flag,
        flag(
            "relief of the field's own",
            "on the field's side of every shut-off",
            "none",
            help="Each heated section that can be shut off has its own",
        ),
    ] = Flag(value=False)
    shut_offs: Annotated[
        Input[ShutOff],
        choice("shut-off valves are", ("ball", "ball valves, full bore"), ("screw", "screw-down valves")),
    ] = Input[ShutOff](value="ball")
    under_deck_m: Annotated[
        Input[float | None],
        number(
            "pipe under the roof deck",
            "length",
            0.0,
            3.0,
            help="What a later roofer's nail must not reach",
            empty="not measured",
            step=0.05,
        ),
    ] = Input[float | None](value=None)
    vent_shut_off: Annotated[Flag, flag("valve under the vent", "fitted, shut after purging", "none")] = Flag(
        value=True
    )
    vent_rating_c: Annotated[Number, number("vent stands", "temperature", 60, 250)] = Number(value=120.0)
    joints: Annotated[
        Input[Joints],
        choice("joints are", ("metal", "brazed or compression"), ("push", "push-fit"), help="Of the loop's pipe"),
    ] = Input[Joints](value="metal")
    joint_rating_c: Annotated[Number, number("joints near the field stand", "temperature", 60, 400)] = Number(
        value=220.0
    )
    hot_pipe: Annotated[Input[PipeItem | None], InputSpec("hot line", "item", empty="as the cold line")] = Input[
        PipeItem | None
    ](value=None)
    jacket: Annotated[
        Input[Jacket],
        choice(
            "lagging outdoors",
            ("jacket", "under a jacket"),
            ("paint", "painted"),
            ("none", "bare"),
            help="Sun and beaks eat it; a jacket lasts longest",
        ),
    ] = Input[Jacket](value="jacket")
    hot_boot: Annotated[
        Input[HotBoot],
        choice(
            "hot line's boot",
            ("metal", "a soldered metal boot"),
            ("jacket", "a boot on the jacket"),
            ("ordinary", "an ordinary boot"),
        ),
    ] = Input[HotBoot](value="metal")
    separator: Annotated[Flag, flag("air separator", "low in the hot line", "none")] = Flag(value=False)
    pump_line: Annotated[
        Input[PumpLine], choice("pump stands in", ("cold", "the cold line"), ("hot", "the hot line"))
    ] = Input[PumpLine](value="cold")
    shaft: Annotated[Input[Shaft], choice("pump shaft", ("level", "level"), ("upright", "upright"))] = Input[Shaft](
        value="level"
    )
    rim_m: Annotated[
        Input[float | None],
        number(
            "pump draws over a rim",
            "length",
            0.05,
            8,
            help="Of the tank, over its water; leave empty where the pump stands below the water",
            step=0.05,
            empty="not over a rim",
        ),
    ] = Input[float | None](value=None)
    return_under: Annotated[
        Flag, flag("return ends", "under the water", "over the mark at rest", help="Of a loop that drains")
    ] = Flag(value=False)
    air_inlet_m: Annotated[
        Input[float | None],
        number(
            "air inlet over the cold mark",
            "length",
            0.0,
            1,
            help="A hole or pipe that lets air into a return that ends under water; without it the field never drains",
            step=0.001,
            empty="no air inlet",
        ),
    ] = Input[float | None](value=None)
    panel_w: Annotated[
        Number, number("panel of a 12 V pump", "electric_power", 3, 400, help="Rated at {1000|irradiance}")
    ] = Number(value=20.0)
    point_a: Annotated[Text, InputSpec("fixed point A", "text")] = Text(value="house corner A")
    point_b: Annotated[Text, InputSpec("fixed point B", "text")] = Text(value="house corner B")
    points_apart_m: Annotated[
        Input[float | None], number("A to B", "length", 0.5, 200, step=0.05, empty="not taped")
    ] = Input[float | None](value=None)

    @model_validator(mode="after")
    def _each_leg_once(self) -> Self:
        for line in (self.cold, self.hot):
            ids = [leg.id for leg in line]
            twice = next((key for key in ids if ids.count(key) > 1), None)
            if twice is not None:
                raise PydanticCustomError("leg_twice", "the leg “{key}” stands twice in one line", {"key": twice})
        return self

    @property
    def all_bends(self) -> int:
        """Bends counted on legs and beside them."""
        return self.bends.value + sum(leg.bends for leg in (*self.cold, *self.hot))

    def laid(self, line: str) -> PipeItem:
        """The pipe a line is laid in where a leg brings none of its own."""
        own = self.hot_pipe.value
        return own if line == "hot" and own is not None else self.pipe.value
