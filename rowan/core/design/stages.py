"""The inputs of each stage. A key carries its unit; gauge pressures say `_gauge_pa`, litres `_l`.

Defaults are the trade's usual values; every one can be replaced, and says by its origin whether it has been.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.base import Input, Inputs, InputSpec, Origin
from rowan.core.design.hours import AwayText, HoursText
from rowan.core.design.items import CollectorItem, Normals, PipeItem, PumpItem, StoreItem, WeatherItem
from rowan.core.design.rows import RowsText

LITRE = 1e-3
LITRE_H = 1e-3 / 3600


def _number(
    label: str,
    dimension: str,
    low: float,
    high: float,
    scale: float = 1.0,
    help: str = "",
    decimals: int | None = None,
    step: float | None = None,
    empty: str = "",
) -> InputSpec:
    return InputSpec(label, "number", dimension, low, high, scale, help, decimals=decimals, step=step, empty=empty)


def _whole(label: str, low: int, high: int, help: str = "") -> InputSpec:
    return InputSpec(label, "whole", "count", low, high, 1.0, help)


def _choice(label: str, *choices: tuple[str, str], help: str = "") -> InputSpec:
    return InputSpec(label, "choice", choices=choices, help=help)


def _flag(label: str, yes: str, no: str, help: str = "") -> InputSpec:
    return InputSpec(label, "flag", choices=((True, yes), (False, no)), help=help)


Number = Input[float]
Whole = Input[int]
Text = Input[str]
Flag = Input[bool]


class Survey(Inputs):
    """Place and roof as found on site."""

    place: Annotated[Text, InputSpec("place", "text", help="The town whose climate is used")]
    latitude_deg: Annotated[Number, _number("latitude", "latitude", -65, 65, help="North is positive")]
    longitude_deg: Annotated[Number, _number("longitude", "latitude", -180, 180)]
    altitude_m: Annotated[Number, _number("height above sea", "length", -400, 5000, decimals=0)]
    normals: Annotated[Input[Normals], InputSpec("climate normals", "item")]
    weather: Annotated[
        Input[WeatherItem | None],
        InputSpec(
            "weather of the year",
            "item",
            help="Made from the normals, or an hourly file of the place",
            empty="made from the normals",
        ),
    ] = Input[WeatherItem | None](value=None)
    design_minimum_c: Annotated[
        Number, _number("coldest night", "temperature", -45, 25, help="Design minimum of the place")
    ]
    water: Annotated[Text, _choice("tap water", ("soft", "soft"), ("hard", "hard"))]
    roof_azimuth_deg: Annotated[Number, _number("roof faces", "angle", 0, 360, help="Clockwise from north", step=1)]
    roof_tilt_deg: Annotated[Number, _number("roof pitch", "angle", 0, 90, step=1)]
    covering: Annotated[
        Text, _choice("covering", ("slate", "slate"), ("tile", "tile"), ("metal", "metal"), ("shingle", "shingle"))
    ]
    storeys: Annotated[Whole, _whole("storeys", 1, 12)]
    gauge_to_top_m: Annotated[
        Number,
        _number(
            "gauge to top", "length", 0.5, 60, help="From the gauge at the station up to the top of the loop", step=0.1
        ),
    ]
    roof_width_m: Annotated[Number, _number("roof width", "length", 1, 100, step=0.1)]
    roof_slope_m: Annotated[Number, _number("slope length", "length", 1, 40, step=0.1)]
    floor_limit_kg_m2: Annotated[
        Input[float | None],
        _number(
            "floor bears",
            "floor_load",
            50,
            20000,
            help="What the floor under the store may carry. Leave empty if nobody knows yet",
            empty="not known",
        ),
    ] = Input[float | None](value=None)
    room_c: Annotated[Number, _number("plant room", "temperature", 0, 35)] = Number(value=15.0)


class HorizonPoint(Inputs):
    """A point of the far horizon, as compass and inclinometer give it from the collectors."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    bearing_deg: Annotated[float, _number("bearing", "angle", 0, 360, help="Clockwise from north", step=1)]
    elevation_deg: Annotated[float, _number("stands up to", "angle", 0, 85, help="Above the level", step=0.5)]
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class Obstacle(Inputs):
    """Something before the horizon. Its height is over the collectors; trees let a share of the sun through."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    kind: Annotated[
        Literal["tree", "chimney", "house"],
        _choice("kind", ("tree", "tree"), ("chimney", "chimney"), ("house", "house")),
    ]
    bearing_deg: Annotated[float, _number("bearing", "angle", 0, 360, help="Of its middle, from north", step=1)]
    distance_m: Annotated[float, _number("away", "length", 0.3, 2000, help="From the collectors, level", step=0.5)]
    width_m: Annotated[float, _number("wide", "length", 0.1, 500, step=0.1)]
    height_m: Annotated[float, _number("over the collectors", "length", 0.1, 200, step=0.1)]
    summer: Annotated[float, _number("lets through in leaf", "share", 0, 1, step=0.05)] = 0.0
    winter: Annotated[float, _number("lets through bare", "share", 0, 1, step=0.05)] = 0.0
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class Sun(Inputs):
    """What stands between the sun and the collectors."""

    horizon: list[HorizonPoint] = Field(default_factory=list, max_length=36)
    obstacles: list[Obstacle] = Field(default_factory=list, max_length=24)

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        for rows in (self.horizon, self.obstacles):
            ids = [row.id for row in rows]
            twice = next((key for key in ids if ids.count(key) > 1), None)
            if twice is not None:
                raise PydanticCustomError("leg_twice", "the entry “{key}” stands twice in one list", {"key": twice})
        return self


MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December")  # fmt: skip
_MONTH_CHOICES = tuple((name[:3].lower(), name) for name in MONTHS)


class Duty(Inputs):
    """What the heat is for. A household counts people; the other duties bring their own few inputs."""

    kind: Annotated[
        Text,
        _choice(
            "duty",
            ("household", "household hot water"),
            ("commercial", "commercial hot water"),
            ("pool", "swimming pool"),
            ("heating", "space heating"),
            ("process", "process heat"),
        ),
    ] = Text(value="household")
    persons: Annotated[Whole, _whole("people", 1, 200)]
    litres_per_person_l: Annotated[
        Number, _number("each draws a day", "tank", 5, 200, LITRE, help="At the tap temperature")
    ] = Number(value=40.0)
    tap_c: Annotated[Number, _number("at the tap", "temperature", 35, 70)] = Number(value=45.0)
    heater: Annotated[
        Text, _choice("heater", ("oil", "oil boiler"), ("gas", "gas boiler"), ("electric", "electric element"))
    ]
    days_a_week: Annotated[Whole, _whole("days a week", 1, 7)] = Whole(value=7)
    away: Annotated[
        AwayText,
        InputSpec("away", "text", help="Days nobody draws, such as “14-27 Jul, 24-31 Dec”; “never” if always there"),
    ] = AwayText(value="never")
    pool_area_m2: Annotated[Number, _number("pool, open water", "area", 2, 2500)] = Number(value=32.0)
    pool_depth_m: Annotated[Number, _number("pool, mean depth", "length", 0.3, 5, step=0.1)] = Number(value=1.4)
    pool_c: Annotated[Number, _number("pool at", "temperature", 18, 36, step=0.5)] = Number(value=26.0)
    pool_cover: Annotated[Flag, _flag("pool cover", "drawn on at night", "none")] = Flag(value=True)
    season_from: Annotated[Text, _choice("season from", *_MONTH_CHOICES)] = Text(value="may")
    season_to: Annotated[Text, _choice("season to", *_MONTH_CHOICES)] = Text(value="sep")
    house_loss_w_k: Annotated[
        Number, _number("house loses", "conductance", 10, 20000, help="Heat for each degree between in and out")
    ] = Number(value=150.0)
    heat_below_c: Annotated[
        Number, _number("heated below", "temperature", 5, 25, help="Mean air of the day below which heating runs")
    ] = Number(value=14.0)
    supply_c: Annotated[Number, _number("heating flow", "temperature", 25, 75)] = Number(value=35.0)
    supply_return_c: Annotated[Number, _number("heating return", "temperature", 15, 60)] = Number(value=28.0)
    process_w: Annotated[Number, _number("process takes", "heat_rate", 100, 2e6)] = Number(value=10_000.0)
    process_c: Annotated[Number, _number("process at", "temperature", 40, 220)] = Number(value=120.0)
    process_return_c: Annotated[Number, _number("process return", "temperature", 10, 210)] = Number(value=100.0)
    process_hours: Annotated[
        HoursText, InputSpec("process runs", "text", help="Hours of the day, such as “7:00-12:00, 13:00-17:00”")
    ] = HoursText(value="7:00-17:00")

    @model_validator(mode="after")
    def _warmer_out_than_back(self) -> Self:
        pairs = (("supply_c", "supply_return_c"), ("process_c", "process_return_c"))
        for out, back in pairs:
            if getattr(self, back).value >= getattr(self, out).value:
                raise PydanticCustomError("return_above_flow", "the return must be colder than the flow", {})
        return self


class Collector(Inputs):
    """The field."""

    item: Annotated[Input[CollectorItem], InputSpec("collector", "item")]
    count: Annotated[Whole, _whole("collectors", 1, 60)]
    working_c: Annotated[
        Number,
        _number("loop works at", "temperature", 10, 120, help="Mean of hot and cold line on a working day", step=1),
    ] = Number(value=45.0)
    advice: Annotated[
        Text,
        _choice(
            "chosen on",
            ("compared", "a comparison with others"),
            ("seller", "a seller's advice alone"),
            help="On whose advice it was chosen, and with what it was compared, goes into the note",
        ),
    ] = Text(value="compared")
    rows: Annotated[
        RowsText,
        InputSpec(
            "rows", "text", help="Rows side by side on one pair of pipes: “1” for all in one, or “6 + 6”, “5, 3”"
        ),
    ] = RowsText(value="1")
    within: Annotated[
        Text,
        _choice("in a row", ("parallel", "side by side"), ("series", "one after the other")),
    ] = Text(value="parallel")
    feed: Annotated[
        Text,
        _choice(
            "rows fed by",
            ("reverse", "reverse return"),
            ("direct", "direct return"),
            ("throttled", "throttles"),
            help="First fed, last returned: every way as long. Else throttles make them equal",
        ),
    ] = Text(value="reverse")
    row_apart_m: Annotated[
        Number, _number("rows stand apart", "length", 0.3, 40, help="Pipe from tee to tee", step=0.1)
    ] = Number(value=2.4)
    support: Annotated[Flag, _flag("service", "somebody in reach knows it", "nobody in reach knows it")] = Flag(
        value=True
    )


class Store(Inputs):
    """The store, its coil and sensors (heights above its foot), and what else heats it."""

    item: Annotated[Input[StoreItem], InputSpec("store", "item")]
    coil_top_m: Annotated[Number, _number("coil, upper port", "length", 0.05, 6, step=0.02)]
    coil_bottom_m: Annotated[Number, _number("coil, lower port", "length", 0.02, 6, step=0.02)]
    lower_sensor_m: Annotated[Number, _number("lower sensor", "length", 0.02, 6, step=0.02)]
    upper_sensor_m: Annotated[Number, _number("upper sensor", "length", 0.05, 6, step=0.02)]
    foot_below_gauge_m: Annotated[Number, _number("gauge above the store's foot", "length", -5, 20, step=0.05)] = (
        Number(value=1.12)
    )
    tempering_valve: Annotated[Flag, _flag("tempering valve", "fitted", "none")] = Flag(value=True)
    maximum_c: Annotated[Number, _number("store limit", "temperature", 40, 95, step=1)]
    hygiene: Annotated[
        Text, _choice("hygiene", ("backup", "by the backup"), ("weekly", "heated through every week"), ("none", "none"))
    ] = Text(value="backup")
    relief_free: Annotated[Flag, _flag("store relief", "always open to the tank", "can be shut off")] = Flag(value=True)
    backup: Annotated[
        Text,
        _choice(
            "backup",
            ("coil", "the boiler's coil in the upper store"),
            ("element", "an element in the upper store"),
            ("second", "a second tank after the store"),
            ("instant", "an instant heater after the store"),
            ("none", "none"),
        ),
    ]
    backup_c: Annotated[Number, _number("backup heats to", "temperature", 30, 90, step=1)] = Number(value=60.0)
    backup_w: Annotated[Number, _number("backup gives", "heat_rate", 200, 500_000)] = Number(value=15_000.0)
    backup_hours: Annotated[
        HoursText,
        InputSpec("backup may heat", "text", help="“always”, or hours such as “4:30-6:30, 16:00-20:00”"),
    ] = HoursText(value="always")
    second_l: Annotated[Number, _number("second tank", "tank", 20, 5000, LITRE)] = Number(value=150.0)
    above_field_m: Annotated[
        Number,
        _number(
            "store's foot over the field's top", "length", 0, 5, help="Only where no pump drives the loop", step=0.05
        ),
    ] = Number(value=0.3)


class Leg(Inputs):
    """One leg of a line, in flow order. A fitted leg stands upright and takes up the height that is left."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    name: str = Field(default="", max_length=60)
    length_m: Annotated[float, _number("length", "length", 0.0, 300, step=0.1)]
    rise_m: Annotated[float, _number("rise", "length", -60, 60, step=0.05)] = 0.0
    place: Annotated[
        Literal["cellar", "indoors", "shaft", "attic", "roof", "outside", "buried"],
        _choice(
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
    vented: Annotated[bool, _flag("vent at its end", "vented", "no vent")] = False
    fitted: bool = False
    pipe: Annotated[PipeItem | None, InputSpec("pipe", "item", empty="as the line")] = None
    insulation_m: Annotated[float | None, _number("lagging", "pipe_size", 0, 0.1, step=0.001, empty="as the line")] = (
        None
    )
    bends: Annotated[int, _whole("bends", 0, 60)] = 0
    tees: Annotated[int, _whole("tees", 0, 20)] = 0
    valves: Annotated[int, _whole("ball valves", 0, 20)] = 0
    depth_m: Annotated[float, _number("depth", "length", 0.05, 4, help="Of the pipe's middle", step=0.05)] = 0.6
    duct: Annotated[bool, _flag("duct", "pulled through a duct", "laid in the soil")] = True
    ends_sealed: Annotated[bool, _flag("duct ends", "sealed", "open")] = True
    from_a_m: Annotated[float | None, _number("end from A", "length", 0, 300, empty="not taped")] = None
    from_b_m: Annotated[float | None, _number("end from B", "length", 0, 300, empty="not taped")] = None
    origin: Origin = "assumed"
    note: str = Field(default="", max_length=400)


class Run(Inputs):
    """Lines, insulation, flow and pump."""

    pipe: Annotated[Input[PipeItem], InputSpec("pipe", "item")]
    cold: list[Leg] = Field(min_length=1, max_length=60)
    hot: list[Leg] = Field(min_length=1, max_length=60)
    insulation_m: Annotated[Number, _number("lagging", "pipe_size", 0, 0.1, step=0.001)] = Number(value=0.019)
    insulation_w_mk: Annotated[Number, _number("lagging conducts", "conductivity", 0.015, 0.2)] = Number(value=0.042)
    bends: Annotated[Whole, _whole("bends", 0, 300)]
    flow_l_h: Annotated[Number, _number("flow wanted", "flow", 5, 20000, LITRE_H, help="For the whole field")]
    pump: Annotated[Input[PumpItem], InputSpec("pump", "item")]
    speed: Annotated[Whole, _whole("pump speed", 1, 6)]
    non_return: Annotated[Flag, _flag("non-return valve", "in the pump line", "none")] = Flag(value=True)
    shut_off_to_relief: Annotated[Flag, _flag("shut-off between field and relief", "present", "none")] = Flag(
        value=False
    )
    vent_shut_off: Annotated[Flag, _flag("valve under the vent", "fitted, shut after purging", "none")] = Flag(
        value=True
    )
    vent_rating_c: Annotated[Number, _number("vent stands", "temperature", 60, 250)] = Number(value=120.0)
    joint_rating_c: Annotated[Number, _number("joints near the field stand", "temperature", 60, 400)] = Number(
        value=220.0
    )
    hot_pipe: Annotated[Input[PipeItem | None], InputSpec("hot line", "item", empty="as the cold line")] = Input[
        PipeItem | None
    ](value=None)
    jacket: Annotated[
        Text,
        _choice(
            "lagging outdoors",
            ("jacket", "under a jacket"),
            ("paint", "painted"),
            ("none", "bare"),
            help="Sun and beaks eat it; a jacket lasts longest",
        ),
    ] = Text(value="jacket")
    hot_boot: Annotated[
        Text,
        _choice(
            "hot line's boot",
            ("metal", "a soldered metal boot"),
            ("jacket", "a boot on the jacket"),
            ("ordinary", "an ordinary boot"),
        ),
    ] = Text(value="metal")
    separator: Annotated[Flag, _flag("air separator", "low in the hot line", "none")] = Flag(value=False)
    pump_line: Annotated[Text, _choice("pump stands in", ("cold", "the cold line"), ("hot", "the hot line"))] = Text(
        value="cold"
    )
    shaft: Annotated[Text, _choice("pump shaft", ("level", "level"), ("upright", "upright"))] = Text(value="level")
    rim_m: Annotated[
        Input[float | None],
        _number(
            "pump draws over a rim",
            "length",
            0.05,
            8,
            help="Of the tank, over its water; leave empty where the pump stands below the water",
            step=0.05,
            empty="not over a rim",
        ),
    ] = Input[float | None](value=None)
    panel_w: Annotated[Number, _number("panel of a 12 V pump", "electric_power", 3, 400, help="Rated at 1000 W/m²")] = (
        Number(value=20.0)
    )
    point_a: Annotated[Text, InputSpec("fixed point A", "text")] = Text(value="house corner A")
    point_b: Annotated[Text, InputSpec("fixed point B", "text")] = Text(value="house corner B")
    points_apart_m: Annotated[
        Input[float | None], _number("A to B", "length", 0.5, 200, step=0.05, empty="not taped")
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


class FluidEntry(Inputs):
    """A line of the fluid's log: what refractometer and strip showed, and what was done then."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    date: Annotated[str, InputSpec("date", "text")] = Field(default="", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
    share: Annotated[float | None, _number("read", "share_fine", 0, 1, step=0.01, empty="not read")] = None
    ph: Annotated[float | None, _number("pH", "ph", 0, 14, step=0.1, empty="not read")] = None
    exchanged_l: Annotated[float, _number("exchanged", "volume", 0, 500, LITRE, help="For concentrate")] = 0.0
    water_l: Annotated[float, _number("water added", "volume", 0, 500, LITRE)] = 0.0
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class Charge(Inputs):
    """Fluid, vessel and pressures."""

    kind: Annotated[
        Text,
        _choice(
            "loop",
            ("sealed", "sealed glycol loop"),
            ("direct", "direct: tap water in the collectors"),
            ("drainback", "drainback: empties when the pump stops"),
            ("thermosiphon", "thermosiphon: no pump, store above the field"),
        ),
    ] = Text(value="sealed")
    fluid: Annotated[Text, _choice("fluid", ("propylene", "propylene glycol"), ("ethylene", "ethylene glycol"))] = Text(
        value="propylene"
    )
    share: Annotated[Number, _number("glycol", "share", 0, 0.6, help="Volume share of propylene glycol", step=0.05)]
    school: Annotated[
        Text,
        _choice(
            "school",
            ("reserve", "reserve"),
            ("equal", "equal"),
            ("above", "above"),
            ("atmosphere", "atmosphere"),
            ("raised", "raised"),
            ("typed", "typed"),
        ),
    ] = Text(value="reserve")
    gap_pa: Annotated[
        Number,
        _number("charge below fill", "pressure", 30e3, 70e3, help="The liquid reserve of the reserve school", step=1e3),
    ] = Number(value=30e3)
    typed_fill_gauge_pa: Annotated[Number, _number("cold fill as typed", "pressure", 1e4, 1e6, step=1e3)] = Number(
        value=150e3
    )
    vessel_l: Annotated[Number, _number("vessel", "tank", 1, 1000, LITRE)]
    vessels: Annotated[Whole, _whole("vessels", 1, 2)] = Whole(value=1)
    relief_gauge_pa: Annotated[Number, _number("relief", "pressure", 1e5, 1.6e6)] = Number(value=600e3)
    hot_c: Annotated[Number, _number("hottest liquid", "temperature", 60, 140)] = Number(value=110.0)
    working_hot_c: Annotated[Number, _number("working hot", "temperature", 30, 110)] = Number(value=80.0)
    steaming_w_m2: Annotated[
        Number,
        _number(
            "steam power",
            "irradiance",
            20,
            250,
            help="{60|irradiance} where the field empties well, {120|irradiance} where it does not",
        ),
    ] = Number(value=60.0)
    station_l: Annotated[Number, _number("station holds", "volume", 0, 20, LITRE)] = Number(value=0.65)
    cooling_vessel: Annotated[
        Flag,
        _flag("cooling vessel", "before the vessel", "none", help="A small tank that cools what goes to the membrane"),
    ] = Flag(value=False)
    surplus_l: Annotated[Number, _number("surplus to prepare", "volume", 0, 50, LITRE)] = Number(value=5.0)
    reservoir_l: Annotated[
        Number,
        _number("reservoir", "tank", 2, 2000, LITRE, help="Beside a store under pressure; an open store needs none"),
    ] = Number(value=30.0)
    reservoir_at_m: Annotated[
        Number, _number("running level over the gauge", "length", -5, 30, help="Of the reservoir's water", step=0.05)
    ] = Number(value=0.5)
    least_water_l: Annotated[Number, _number("least water over the pump's inlet", "volume", 0.5, 200, LITRE)] = Number(
        value=4.0
    )
    mains_gauge_pa: Annotated[Number, _number("cold main pressure", "pressure", 5e4, 1.2e6)] = Number(value=300e3)
    residual_l: Annotated[
        Number,
        _number("water left in the loop", "volume", 0, 100, LITRE, help="After flushing, in coil and low points"),
    ] = Number(value=2.0)
    concentrate: Annotated[
        Number, _number("concentrate has", "share", 0.3, 1, help="Volume share of glycol in what is poured in")
    ] = Number(value=1.0)
    ph_new: Annotated[Number, _number("pH of new fluid", "ph", 6, 11, step=0.1)] = Number(value=8.3)
    ph_least: Annotated[Number, _number("pH to change it at", "ph", 5, 9, step=0.1)] = Number(value=7.0)
    ph_year: Annotated[Number, _number("pH lost a year", "ratio", 0, 1)] = Number(value=0.07)
    ph_hot: Annotated[
        Number, _number("pH lost in 100 h of standing hot", "ratio", 0, 1, help="On top of a year's own fall")
    ] = Number(value=0.10)
    log: list[FluidEntry] = Field(default_factory=list, max_length=60)
    filling_gauge_pa: Annotated[
        Number, _number("filling pump reaches", "pressure", 2e4, 1e6, help="With its outlet shut", step=1e4)
    ] = Number(value=400e3)

    @model_validator(mode="after")
    def _each_entry_once(self) -> Self:
        ids = [entry.id for entry in self.log]
        twice = next((key for key in ids if ids.count(key) > 1), None)
        if twice is not None:
            raise PydanticCustomError("leg_twice", "the entry “{key}” stands twice in one list", {"key": twice})
        return self


class Control(Inputs):
    """Differences and limits of the controller."""

    start_k: Annotated[Number, _number("start difference", "difference", 1, 40, step=0.5)]
    stop_k: Annotated[Number, _number("stop difference", "difference", 0, 30, step=0.5)]
    sensor_error_k: Annotated[Number, _number("sensors may be wrong by", "difference", 0, 10)] = Number(value=1.0)
    least_collector_c: Annotated[Number, _number("least collector", "temperature", 0, 60)] = Number(value=20.0)
    cut_out_c: Annotated[Number, _number("collector cut-out", "temperature", 80, 200)] = Number(value=130.0)
    frost: Annotated[
        Flag,
        _flag("frost protection", "warms the field from the store", "none", help="For loops with water in them"),
    ] = Flag(value=False)
    frost_c: Annotated[Number, _number("frost protection from", "temperature", 1, 8, step=0.5)] = Number(value=4.0)


class Parts(Inputs):
    """How goods are sold and how closely they are counted."""

    pipe_piece_m: Annotated[
        Number,
        _number("pipe comes in lengths of", "length", 1, 100, help="Straight lengths, or a whole coil", step=0.5),
    ] = Number(value=5.0)
    lagging_spare: Annotated[Number, _number("lagging spare", "share", 0, 0.5, help="For mitres and offcuts")] = Number(
        value=0.1
    )
    clip_every_m: Annotated[Number, _number("a pipe clip every", "length", 0.3, 5, step=0.1)] = Number(value=1.5)
    fluid_sold: Annotated[
        Text, _choice("glycol is bought", ("premix", "mixed ready"), ("concentrate", "pure, to be mixed"))
    ] = Text(value="premix")
    can_l: Annotated[Number, _number("a can holds", "tank", 1, 1000, LITRE)] = Number(value=10.0)
    cable_spare_m: Annotated[Number, _number("sensor cable spare", "length", 0, 50)] = Number(value=3.0)


class Commission(Inputs):
    """What the loop is flushed, tested and filled with."""

    station_flow_l_h: Annotated[
        Number,
        _number(
            "filling pump gives",
            "flow",
            60,
            10000,
            LITRE_H,
            help="What the pump of the filling station sends through this loop",
        ),
    ] = Number(value=900.0)
    tub_area_m2: Annotated[
        Number, _number("tub, area of its water", "area", 0.02, 3, help="The open water in the tub, not its rim")
    ] = Number(value=0.13)
    turns: Annotated[Number, _number("turn the loop over", "count", 3, 40, help="8 to 10 turns, and no bubble")] = (
        Number(value=9.0)
    )
    test: Annotated[
        Text, _choice("tested with", ("water", "water"), ("air", "air"), help="Water; air only where it may freeze")
    ] = Text(value="water")
    relief_stays: Annotated[Flag, _flag("relief valve in the test", "stays on the loop", "taken off and plugged")] = (
        Flag(value=True)
    )
    weakest_gauge_pa: Annotated[
        Number,
        _number("weakest part stands", "pressure", 2e5, 2.5e6, help="Station, vent or gauge, whichever is least"),
    ] = Number(value=1.0e6)


class Money(Inputs):
    """Prices and what is reckoned with them."""

    currency: Annotated[Text, InputSpec("currency", "text")] = Text(value="crowns")
    fuel_price: Annotated[Number, _number("fuel price", "price", 0.01, 100)]
    heater_efficiency: Annotated[Number, _number("heater turns to heat", "share", 0.2, 6)]
    fuel_kg_co2_kwh: Annotated[Number, _number("fuel gives off", "carbon_per_energy", 0, 3)]
    electricity_price: Annotated[Number, _number("electricity price", "price", 0, 100)] = Number(value=0.28)
    system_price: Annotated[Number, _number("system costs", "money", 0, 1e8)]
    upkeep_share: Annotated[Number, _number("upkeep a year", "share_fine", 0, 0.2)] = Number(value=0.01)
    life_years: Annotated[Number, _number("life", "years", 5, 50)] = Number(value=25.0)
    discount: Annotated[Number, _number("discount", "share_fine", 0, 0.2)] = Number(value=0.03)
