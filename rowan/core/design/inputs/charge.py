"""Fluid, vessel and pressures.

Gauge pressures say `_gauge_pa`, litres `_l`; a school is a way to choose the cold fill (methods 9).
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input, Inputs, InputSpec, Origin
from rowan.core.design.inputs.fields import Flag, Number, Whole, choice, flag, number, whole
from rowan.core.goods.items import Glycol
from rowan.core.goods.ratings import VESSEL_PA
from rowan.core.terms.units import LITRE


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


LoopKind = Literal["sealed", "direct", "drainback", "thermosiphon"]
School = Literal["reserve", "equal", "above", "atmosphere", "raised", "typed"]


class ChargeInputs(Inputs):
    """Fluid, vessel and pressures."""

    kind: Annotated[
        Input[LoopKind],
        choice(
            "loop",
            ("sealed", "sealed glycol loop"),
            ("direct", "direct: tap water in the collectors"),
            ("drainback", "drainback: empties when the pump stops"),
            ("thermosiphon", "thermosiphon: no pump, store above the field"),
        ),
    ] = Input[LoopKind](value="sealed")
    fluid: Annotated[
        Input[Glycol],
        choice(
            "fluid",
            ("propylene", "propylene glycol, made for solar"),
            ("food", "propylene glycol, food grade"),
            ("plumbing", "propylene glycol, for plumbing"),
            ("ethylene", "ethylene glycol"),
        ),
    ] = Input[Glycol](value="propylene")
    share: Annotated[Number, number("glycol", "share", 0, 0.6, help="Volume share of propylene glycol", step=0.05)]
    school: Annotated[
        Input[School],
        choice(
            "school",
            ("reserve", "reserve"),
            ("equal", "equal"),
            ("above", "above"),
            ("atmosphere", "atmosphere"),
            ("raised", "raised"),
            ("typed", "typed"),
        ),
    ] = Input[School](value="reserve")
    gap_pa: Annotated[
        Number,
        number("charge below fill", "pressure", 30e3, 70e3, help="The liquid reserve of the reserve school", step=1e3),
    ] = Number(value=30e3)
    typed_fill_gauge_pa: Annotated[Number, number("cold fill as typed", "pressure", 1e4, 1e6, step=1e3)] = Number(
        value=150e3
    )
    typed_charge_gauge_pa: Annotated[
        Input[float | None],
        number(
            "charge as set",
            "pressure",
            0,
            1e6,
            help="Under a typed fill: as it was set on site",
            step=1e3,
            empty="a little under the fill",
        ),
    ] = Input[float | None](value=None)
    found_l: Annotated[
        Number,
        number(
            "found to hold more by", "volume", -50, 50, LITRE, help="What was filled in on site, less what was drawn"
        ),
    ] = Number(value=0.0)
    vessel_l: Annotated[Number, number("vessel", "tank", 1, 1000, LITRE)]
    vessel_rated_gauge_pa: Annotated[
        Number, number("vessel stands", "pressure", 1e5, 2.5e6, help="The highest pressure on its plate")
    ] = Number(value=VESSEL_PA)
    vessel_gas_share: Annotated[
        Number,
        number(
            "must stay gas",
            "share",
            0.1,
            0.8,
            step=0.05,
            help="What its membrane cannot be stretched into, by its volume",
        ),
    ] = Number(value=0.25)
    vessel_works_gauge_pa: Annotated[
        Input[float | None],
        number(
            "charged at the works",
            "pressure",
            0,
            6e5,
            help="As printed; the gauge at its valve has the last word",
            empty="not printed",
        ),
    ] = Input[float | None](value=None)
    membrane_c: Annotated[Number, number("its membrane stands", "temperature", 40, 130)] = Number(value=70.0)
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
    reducer_gauge_pa: Annotated[
        Input[float | None],
        number(
            "reducing valve set to",
            "pressure",
            5e4,
            1e6,
            help="Where the main presses harder than the loop's weakest part stands",
            step=1e4,
            empty="nothing: no reducing valve",
        ),
    ] = Input[float | None](value=None)
    reservoir_share: Annotated[
        Number,
        number(
            "glycol in the reservoir",
            "share",
            0,
            0.5,
            help="Belt and braces for a leg that may not empty; it costs heat",
            step=0.05,
        ),
    ] = Number(value=0.0)
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
