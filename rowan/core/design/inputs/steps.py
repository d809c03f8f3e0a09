"""The inputs of each stage. A key carries its unit; gauge pressures say `_gauge_pa`, litres `_l`.

Defaults are the trade's usual values; every one can be replaced, and says by its origin whether it has been.
"""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input, Inputs, InputSpec, Origin
from rowan.core.design.inputs.fields import Flag, Number, Text, Whole, choice, flag, number, whole
from rowan.core.design.inputs.hours import AwayText, HoursText
from rowan.core.design.inputs.rows import RowsText
from rowan.core.design.inputs.run import Leg, Run
from rowan.core.design.inputs.sun import HorizonPoint, Obstacle, Sun
from rowan.core.goods.items import CollectorItem, Normals, StoreItem, WeatherItem
from rowan.core.terms.calendar import MONTHS
from rowan.core.terms.units import LITRE, LITRE_H

__all__ = [
    "Charge",
    "Collector",
    "Commission",
    "Control",
    "Duty",
    "FluidEntry",
    "HorizonPoint",
    "Leg",
    "Money",
    "Obstacle",
    "Parts",
    "Run",
    "Store",
    "Sun",
    "Survey",
]


class Survey(Inputs):
    """Place and roof as found on site."""

    place: Annotated[Text, InputSpec("place", "text", help="The town whose climate is used")]
    latitude_deg: Annotated[Number, number("latitude", "latitude", -65, 65, help="North is positive")]
    longitude_deg: Annotated[Number, number("longitude", "latitude", -180, 180)]
    altitude_m: Annotated[Number, number("height above sea", "length", -400, 5000, decimals=0)]
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
        Number, number("coldest night", "temperature", -45, 25, help="Design minimum of the place")
    ]
    water: Annotated[Text, choice("tap water", ("soft", "soft"), ("hard", "hard"))]
    roof_azimuth_deg: Annotated[
        Number, number("roof faces", "bearing", 0, 360, help="Clockwise from north, or a point such as SW", step=1)
    ]
    roof_tilt_deg: Annotated[Number, number("roof pitch", "angle", 0, 90, step=1)]
    covering: Annotated[
        Text, choice("covering", ("slate", "slate"), ("tile", "tile"), ("metal", "metal"), ("shingle", "shingle"))
    ]
    storeys: Annotated[Whole, whole("storeys", 1, 12)]
    gauge_to_top_m: Annotated[
        Number,
        number(
            "gauge to top", "length", 0.5, 60, help="From the gauge at the station up to the top of the loop", step=0.1
        ),
    ]
    roof_width_m: Annotated[Number, number("roof width", "length", 1, 100, step=0.1)]
    roof_slope_m: Annotated[Number, number("slope length", "length", 1, 40, step=0.1)]
    floor_limit_kg_m2: Annotated[
        Input[float | None],
        number(
            "floor bears",
            "floor_load",
            50,
            20000,
            help="What the floor under the store may carry. Leave empty if nobody knows yet",
            empty="not known",
        ),
    ] = Input[float | None](value=None)
    room_c: Annotated[Number, number("plant room", "temperature", 0, 35)] = Number(value=15.0)


_MONTH_CHOICES = tuple((name[:3].lower(), name) for name in MONTHS)


class Duty(Inputs):
    """What the heat is for. A household counts people; the other duties bring their own few inputs."""

    kind: Annotated[
        Text,
        choice(
            "duty",
            ("household", "household hot water"),
            ("commercial", "commercial hot water"),
            ("pool", "swimming pool"),
            ("heating", "space heating"),
            ("process", "process heat"),
        ),
    ] = Text(value="household")
    persons: Annotated[Whole, whole("people", 1, 200)]
    litres_per_person_l: Annotated[
        Number, number("each draws a day", "tank", 5, 200, LITRE, help="At the tap temperature")
    ] = Number(value=40.0)
    tap_c: Annotated[Number, number("at the tap", "temperature", 35, 70)] = Number(value=45.0)
    heater: Annotated[
        Text, choice("heater", ("oil", "oil boiler"), ("gas", "gas boiler"), ("electric", "electric element"))
    ]
    days_a_week: Annotated[Whole, whole("days a week", 1, 7)] = Whole(value=7)
    away: Annotated[
        AwayText,
        InputSpec("away", "text", help="Days nobody draws, such as “14-27 Jul, 24-31 Dec”; “never” if always there"),
    ] = AwayText(value="never")
    pool_area_m2: Annotated[Number, number("pool, open water", "area", 2, 2500)] = Number(value=32.0)
    pool_depth_m: Annotated[Number, number("pool, mean depth", "length", 0.3, 5, step=0.1)] = Number(value=1.4)
    pool_c: Annotated[Number, number("pool at", "temperature", 18, 36, step=0.5)] = Number(value=26.0)
    pool_cover: Annotated[Flag, flag("pool cover", "drawn on at night", "none")] = Flag(value=True)
    season_from: Annotated[Text, choice("season from", *_MONTH_CHOICES)] = Text(value="may")
    season_to: Annotated[Text, choice("season to", *_MONTH_CHOICES)] = Text(value="sep")
    house_loss_w_k: Annotated[
        Number, number("house loses", "conductance", 10, 20000, help="Heat for each degree between in and out")
    ] = Number(value=150.0)
    heat_below_c: Annotated[
        Number, number("heated below", "temperature", 5, 25, help="Mean air of the day below which heating runs")
    ] = Number(value=14.0)
    supply_c: Annotated[Number, number("heating flow", "temperature", 25, 75)] = Number(value=35.0)
    supply_return_c: Annotated[Number, number("heating return", "temperature", 15, 60)] = Number(value=28.0)
    process_w: Annotated[Number, number("process takes", "heat_rate", 100, 2e6)] = Number(value=10_000.0)
    process_c: Annotated[Number, number("process at", "temperature", 40, 220)] = Number(value=120.0)
    process_return_c: Annotated[Number, number("process return", "temperature", 10, 210)] = Number(value=100.0)
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
    count: Annotated[Whole, whole("collectors", 1, 60)]
    working_c: Annotated[
        Number,
        number("loop works at", "temperature", 10, 120, help="Mean of hot and cold line on a working day", step=1),
    ] = Number(value=45.0)
    advice: Annotated[
        Text,
        choice(
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
        choice("in a row", ("parallel", "side by side"), ("series", "one after the other")),
    ] = Text(value="parallel")
    feed: Annotated[
        Text,
        choice(
            "rows fed by",
            ("reverse", "reverse return"),
            ("direct", "direct return"),
            ("throttled", "throttles"),
            help="First fed, last returned: every way as long. Else throttles make them equal",
        ),
    ] = Text(value="reverse")
    row_apart_m: Annotated[
        Number, number("rows stand apart", "length", 0.3, 40, help="Pipe from tee to tee", step=0.1)
    ] = Number(value=2.4)
    support: Annotated[Flag, flag("service", "somebody in reach knows it", "nobody in reach knows it")] = Flag(
        value=True
    )


class Store(Inputs):
    """The store, its coil and sensors (heights above its foot), and what else heats it."""

    item: Annotated[Input[StoreItem], InputSpec("store", "item")]
    coil_top_m: Annotated[Number, number("coil, upper port", "length", 0.05, 6, step=0.02)]
    coil_bottom_m: Annotated[Number, number("coil, lower port", "length", 0.02, 6, step=0.02)]
    lower_sensor_m: Annotated[Number, number("lower sensor", "length", 0.02, 6, step=0.02)]
    upper_sensor_m: Annotated[Number, number("upper sensor", "length", 0.05, 6, step=0.02)]
    foot_below_gauge_m: Annotated[Number, number("gauge above the store's foot", "length", -5, 20, step=0.05)] = Number(
        value=1.12
    )
    tempering_valve: Annotated[Flag, flag("tempering valve", "fitted", "none")] = Flag(value=True)
    maximum_c: Annotated[Number, number("store limit", "temperature", 40, 95, step=1)]
    hygiene: Annotated[
        Text, choice("hygiene", ("backup", "by the backup"), ("weekly", "heated through every week"), ("none", "none"))
    ] = Text(value="backup")
    relief_free: Annotated[Flag, flag("store relief", "always open to the tank", "can be shut off")] = Flag(value=True)
    backup: Annotated[
        Text,
        choice(
            "backup",
            ("coil", "the boiler's coil in the upper store"),
            ("element", "an element in the upper store"),
            ("second", "a second tank after the store"),
            ("instant", "an instant heater after the store"),
            ("none", "none"),
        ),
    ]
    backup_c: Annotated[Number, number("backup heats to", "temperature", 30, 90, step=1)] = Number(value=60.0)
    backup_w: Annotated[Number, number("backup gives", "heat_rate", 200, 500_000)] = Number(value=15_000.0)
    backup_hours: Annotated[
        HoursText,
        InputSpec("backup may heat", "text", help="“always”, or hours such as “4:30-6:30, 16:00-20:00”"),
    ] = HoursText(value="always")
    second_l: Annotated[Number, number("second tank", "tank", 20, 5000, LITRE)] = Number(value=150.0)
    above_field_m: Annotated[
        Number,
        number(
            "store's foot over the field's top", "length", 0, 5, help="Only where no pump drives the loop", step=0.05
        ),
    ] = Number(value=0.3)


class FluidEntry(Inputs):
    """A line of the fluid's log: what refractometer and strip showed, and what was done then."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    date: Annotated[str, InputSpec("date", "text")] = Field(default="", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
    share: Annotated[float | None, number("read", "share_fine", 0, 1, step=0.01, empty="not read")] = None
    ph: Annotated[float | None, number("pH", "ph", 0, 14, step=0.1, empty="not read")] = None
    exchanged_l: Annotated[float, number("exchanged", "volume", 0, 500, LITRE, help="For concentrate")] = 0.0
    water_l: Annotated[float, number("water added", "volume", 0, 500, LITRE)] = 0.0
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class Charge(Inputs):
    """Fluid, vessel and pressures."""

    kind: Annotated[
        Text,
        choice(
            "loop",
            ("sealed", "sealed glycol loop"),
            ("direct", "direct: tap water in the collectors"),
            ("drainback", "drainback: empties when the pump stops"),
            ("thermosiphon", "thermosiphon: no pump, store above the field"),
        ),
    ] = Text(value="sealed")
    fluid: Annotated[Text, choice("fluid", ("propylene", "propylene glycol"), ("ethylene", "ethylene glycol"))] = Text(
        value="propylene"
    )
    share: Annotated[Number, number("glycol", "share", 0, 0.6, help="Volume share of propylene glycol", step=0.05)]
    school: Annotated[
        Text,
        choice(
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
        number("charge below fill", "pressure", 30e3, 70e3, help="The liquid reserve of the reserve school", step=1e3),
    ] = Number(value=30e3)
    typed_fill_gauge_pa: Annotated[Number, number("cold fill as typed", "pressure", 1e4, 1e6, step=1e3)] = Number(
        value=150e3
    )
    vessel_l: Annotated[Number, number("vessel", "tank", 1, 1000, LITRE)]
    vessels: Annotated[Whole, whole("vessels", 1, 2)] = Whole(value=1)
    relief_gauge_pa: Annotated[Number, number("relief", "pressure", 1e5, 1.6e6)] = Number(value=600e3)
    hot_c: Annotated[Number, number("hottest liquid", "temperature", 60, 140)] = Number(value=110.0)
    working_hot_c: Annotated[Number, number("working hot", "temperature", 30, 110)] = Number(value=80.0)
    steaming_w_m2: Annotated[
        Number,
        number(
            "steam power",
            "irradiance",
            20,
            250,
            help="{60|irradiance} where the field empties well, {120|irradiance} where it does not",
        ),
    ] = Number(value=60.0)
    station_l: Annotated[Number, number("station holds", "volume", 0, 20, LITRE)] = Number(value=0.65)
    cooling_vessel: Annotated[
        Flag,
        flag("cooling vessel", "before the vessel", "none", help="A small tank that cools what goes to the membrane"),
    ] = Flag(value=False)
    surplus_l: Annotated[Number, number("surplus to prepare", "volume", 0, 50, LITRE)] = Number(value=5.0)
    reservoir_l: Annotated[
        Number,
        number("reservoir", "tank", 2, 2000, LITRE, help="Beside a store under pressure; an open store needs none"),
    ] = Number(value=30.0)
    reservoir_at_m: Annotated[
        Number, number("running level over the gauge", "length", -5, 30, help="Of the reservoir's water", step=0.05)
    ] = Number(value=0.5)
    least_water_l: Annotated[Number, number("least water over the pump's inlet", "volume", 0.5, 200, LITRE)] = Number(
        value=4.0
    )
    mains_gauge_pa: Annotated[Number, number("cold main pressure", "pressure", 5e4, 1.2e6)] = Number(value=300e3)
    residual_l: Annotated[
        Number,
        number("water left in the loop", "volume", 0, 100, LITRE, help="After flushing, in coil and low points"),
    ] = Number(value=2.0)
    concentrate: Annotated[
        Number, number("concentrate has", "share", 0.3, 1, help="Volume share of glycol in what is poured in")
    ] = Number(value=1.0)
    ph_new: Annotated[Number, number("pH of new fluid", "ph", 6, 11, step=0.1)] = Number(value=8.3)
    ph_least: Annotated[Number, number("pH to change it at", "ph", 5, 9, step=0.1)] = Number(value=7.0)
    ph_year: Annotated[Number, number("pH lost a year", "ratio", 0, 1)] = Number(value=0.07)
    ph_hot: Annotated[
        Number, number("pH lost in 100 h of standing hot", "ratio", 0, 1, help="On top of a year's own fall")
    ] = Number(value=0.10)
    log: list[FluidEntry] = Field(default_factory=list, max_length=60)
    filling_gauge_pa: Annotated[
        Number, number("filling pump reaches", "pressure", 2e4, 1e6, help="With its outlet shut", step=1e4)
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

    start_k: Annotated[Number, number("start difference", "difference", 1, 40, step=0.5)]
    stop_k: Annotated[Number, number("stop difference", "difference", 0, 30, step=0.5)]
    sensor_error_k: Annotated[Number, number("sensors may be wrong by", "difference", 0, 10)] = Number(value=1.0)
    least_collector_c: Annotated[Number, number("least collector", "temperature", 0, 60)] = Number(value=20.0)
    cut_out_c: Annotated[Number, number("collector cut-out", "temperature", 80, 200)] = Number(value=130.0)
    frost: Annotated[
        Flag,
        flag("frost protection", "warms the field from the store", "none", help="For loops with water in them"),
    ] = Flag(value=False)
    refill_c: Annotated[
        Number,
        number("no filling of a dry field above", "temperature", 50, 130, help="Where the loop drains: it would boil"),
    ] = Number(value=95.0)
    frost_c: Annotated[Number, number("frost protection from", "temperature", 1, 8, step=0.5)] = Number(value=4.0)


class Parts(Inputs):
    """How goods are sold and how closely they are counted."""

    pipe_piece_m: Annotated[
        Number,
        number("pipe comes in lengths of", "length", 1, 100, help="Straight lengths, or a whole coil", step=0.5),
    ] = Number(value=5.0)
    lagging_spare: Annotated[Number, number("lagging spare", "share", 0, 0.5, help="For mitres and offcuts")] = Number(
        value=0.1
    )
    clip_every_m: Annotated[Number, number("a pipe clip every", "length", 0.3, 5, step=0.1)] = Number(value=1.5)
    fluid_sold: Annotated[
        Text, choice("glycol is bought", ("premix", "mixed ready"), ("concentrate", "pure, to be mixed"))
    ] = Text(value="premix")
    can_l: Annotated[Number, number("a can holds", "tank", 1, 1000, LITRE)] = Number(value=10.0)
    cable_spare_m: Annotated[Number, number("sensor cable spare", "length", 0, 50)] = Number(value=3.0)


class Commission(Inputs):
    """What the loop is flushed, tested and filled with."""

    station_flow_l_h: Annotated[
        Number,
        number(
            "filling pump gives",
            "flow",
            60,
            10000,
            LITRE_H,
            help="What the pump of the filling station sends through this loop",
        ),
    ] = Number(value=900.0)
    tub_area_m2: Annotated[
        Number, number("tub, area of its water", "area", 0.02, 3, help="The open water in the tub, not its rim")
    ] = Number(value=0.13)
    turns: Annotated[Number, number("turn the loop over", "count", 3, 40, help="8 to 10 turns, and no bubble")] = (
        Number(value=9.0)
    )
    test: Annotated[
        Text, choice("tested with", ("water", "water"), ("air", "air"), help="Water; air only where it may freeze")
    ] = Text(value="water")
    relief_stays: Annotated[Flag, flag("relief valve in the test", "stays on the loop", "taken off and plugged")] = (
        Flag(value=True)
    )
    weakest_gauge_pa: Annotated[
        Number,
        number("weakest part stands", "pressure", 2e5, 2.5e6, help="Station, vent or gauge, whichever is least"),
    ] = Number(value=1.0e6)


class Money(Inputs):
    """Prices and what is reckoned with them."""

    currency: Annotated[Text, InputSpec("currency", "text")] = Text(value="crowns")
    fuel_price: Annotated[Number, number("fuel price", "price", 0.01, 100)]
    heater_efficiency: Annotated[Number, number("heater turns to heat", "share", 0.2, 6)]
    fuel_kg_co2_kwh: Annotated[Number, number("fuel gives off", "carbon_per_energy", 0, 3)]
    electricity_price: Annotated[Number, number("electricity price", "price", 0, 100)] = Number(value=0.28)
    system_price: Annotated[Number, number("system costs", "money", 0, 1e8)]
    upkeep_share: Annotated[Number, number("upkeep a year", "share_fine", 0, 0.2)] = Number(value=0.01)
    life_years: Annotated[Number, number("life", "years", 5, 50)] = Number(value=25.0)
    discount: Annotated[Number, number("discount", "share_fine", 0, 0.2)] = Number(value=0.03)
