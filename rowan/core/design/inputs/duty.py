"""What the heat is for.

A household counts people; pool, heating and process bring their own few inputs, each with the trade's usual value.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input, Inputs, InputSpec
from rowan.core.design.inputs.fields import Flag, Number, Whole, choice, flag, number, whole
from rowan.core.design.inputs.hours import MONTH_CHOICES, AwayText, DrawText, HoursText, MonthKey
from rowan.core.terms.units import LITRE

DutyKind = Literal["household", "commercial", "pool", "heating", "process", "slab", "bath"]
Heater = Literal["oil", "gas", "electric"]
Drawn = Literal["usual", "morning", "evening", "own"]


class DutyInputs(Inputs):
    """What the heat is for. A household counts people; the other duties bring their own few inputs."""

    kind: Annotated[
        Input[DutyKind],
        choice(
            "duty",
            ("household", "household hot water"),
            ("commercial", "commercial hot water"),
            ("pool", "swimming pool"),
            ("heating", "space heating"),
            ("process", "process heat"),
            ("slab", "floor slab that is the store"),
            ("bath", "process bath that is the store"),
        ),
    ] = Input[DutyKind](value="household")
    persons: Annotated[Whole, whole("people", 1, 200)]
    litres_per_person_l: Annotated[
        Number, number("each draws a day", "tank", 5, 200, LITRE, help="At the tap temperature")
    ] = Number(value=40.0)
    drawn: Annotated[
        Input[Drawn],
        choice(
            "drawn",
            ("usual", "through the day"),
            ("morning", "mostly in the morning"),
            ("evening", "mostly in the evening"),
            ("own", "at hours of its own"),
            help="When people wash; a store full at night waits for them",
        ),
    ] = Input[Drawn](value="usual")
    own_draws: Annotated[
        DrawText,
        InputSpec(
            "draws of its own",
            "text",
            help="Times with their parts of the day, such as “6:30 2, 12:30 1, 19:00 3”: a third, a sixth, a half",
        ),
    ] = DrawText(value="6:30 2, 12:30 1, 19:00 3")
    tap_c: Annotated[Number, number("at the tap", "temperature", 35, 70)] = Number(value=45.0)
    heater: Annotated[
        Input[Heater], choice("heater", ("oil", "oil boiler"), ("gas", "gas boiler"), ("electric", "electric element"))
    ]
    days_a_week: Annotated[Whole, whole("days a week", 1, 7)] = Whole(value=7)
    away: Annotated[
        AwayText,
        InputSpec("away", "text", help="Days nobody draws, such as “14-27 Jul, 24-31 Dec”; “never” if always there"),
    ] = AwayText(value="never")
    pool_area_m2: Annotated[Number, number("pool, open water", "area", 2, 2500)] = Number(value=32.0)
    pool_depth_m: Annotated[Number, number("pool, mean depth", "length", 0.3, 5, step=0.1)] = Number(value=1.4)
    pool_c: Annotated[Number, number("pool at", "temperature", 18, 36, step=0.5)] = Number(value=26.0)
    pool_swing_k: Annotated[Number, number("pool may go over by", "difference", 0.5, 15, step=0.5)] = Number(value=2.0)
    slab_area_m2: Annotated[Number, number("slab", "area", 4, 2500)] = Number(value=60.0)
    slab_thickness_m: Annotated[
        Number, number("slab, thick", "length", 0.05, 1, step=0.01, help="Concrete that the pipes warm, screed with it")
    ] = Number(value=0.12)
    slab_c: Annotated[Number, number("slab at", "temperature", 15, 35, step=0.5)] = Number(value=23.0)
    slab_swing_k: Annotated[Number, number("slab may go over by", "difference", 0.5, 15, step=0.5)] = Number(value=4.0)
    bath_l: Annotated[Number, number("bath", "tank", 50, 200_000, LITRE)] = Number(value=1500.0)
    bath_c: Annotated[Number, number("bath at", "temperature", 20, 95)] = Number(value=55.0)
    bath_swing_k: Annotated[Number, number("bath may go over by", "difference", 0.5, 30, step=0.5)] = Number(value=5.0)
    bath_loss_w_k: Annotated[
        Number, number("bath loses", "conductance", 1, 20000, help="Walls and open liquid, lids as they usually are")
    ] = Number(value=25.0)
    bath_coil_m2: Annotated[Number, number("coil in the bath", "area", 0.2, 500, step=0.1)] = Number(value=3.0)
    pool_cover: Annotated[Flag, flag("pool cover", "drawn on at night", "none")] = Flag(value=True)
    season_from: Annotated[Input[MonthKey], choice("season from", *MONTH_CHOICES)] = Input[MonthKey](value="may")
    season_to: Annotated[Input[MonthKey], choice("season to", *MONTH_CHOICES)] = Input[MonthKey](value="sep")
    also_heats: Annotated[
        Flag,
        flag(
            "the house", "is heated from the store as well", "is heated otherwise", help="Taps and heating on one store"
        ),
    ] = Flag(value=False)
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
