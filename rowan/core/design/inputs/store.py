"""The store, its coil and sensors, and what else heats it.

Heights are above the store's foot, as a tape at the tank reads them.
"""

from __future__ import annotations

from typing import Annotated, Literal

from rowan.core.design.inputs.base import Input, Inputs, InputSpec
from rowan.core.design.inputs.fields import Flag, Number, choice, flag, number
from rowan.core.design.inputs.hours import MONTH_CHOICES, HoursText, MonthKey
from rowan.core.goods.items import StoreItem
from rowan.core.terms.units import LITRE

Hygiene = Literal["backup", "weekly", "none"]
TankMaterial = Literal["lined", "stainless", "molybdenum"]
SolidFuel = Literal["none", "vented", "dump", "bare"]
Backup = Literal["coil", "element", "second", "instant", "none"]


class StoreInputs(Inputs):
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
        Input[Hygiene],
        choice("hygiene", ("backup", "by the backup"), ("weekly", "heated through at an interval"), ("none", "none")),
    ] = Input[Hygiene](value="backup")
    material: Annotated[
        Input[TankMaterial],
        choice(
            "tank of",
            ("lined", "lined steel with an anode"),
            ("stainless", "stainless steel"),
            ("molybdenum", "stainless steel with molybdenum"),
            help="By the water's hardness and chloride, and by who changes the anode",
        ),
    ] = Input[TankMaterial](value="lined")
    pan: Annotated[Flag, flag("tank stands", "on feet in a pan with a drain", "on the bare floor")] = Flag(value=True)
    hot_pipe_lagged: Annotated[Flag, flag("hot pipe from the tank", "lagged", "bare")] = Flag(value=True)
    spare_element: Annotated[
        Flag,
        flag(
            "element that is not connected",
            "in the tank, not connected",
            "none",
            help="Shown, so that nobody trusts it",
        ),
    ] = Flag(value=False)
    summer_element: Annotated[
        Flag,
        flag(
            "in summer",
            "an electric element heats and the boiler rests",
            "the boiler heats as in winter",
            help="A boiler that fires for a basin of water burns more than an element does",
        ),
    ] = Flag(value=False)
    summer_from: Annotated[Input[MonthKey], choice("element from", *MONTH_CHOICES)] = Input[MonthKey](value="may")
    summer_to: Annotated[Input[MonthKey], choice("element to", *MONTH_CHOICES)] = Input[MonthKey](value="sep")
    base_m2: Annotated[
        Input[float | None],
        number(
            "stands on a base of",
            "area",
            0.05,
            40,
            help="A slab or frame that spreads the load over the floor",
            step=0.1,
            empty="its own foot",
        ),
    ] = Input[float | None](value=None)
    solid_fuel: Annotated[
        Input[SolidFuel],
        choice(
            "solid-fuel boiler on it",
            ("none", "none"),
            ("vented", "on an open vent"),
            ("dump", "with a heat dump that needs no power"),
            ("bare", "with nothing that takes its heat"),
            help="Its fire cannot be switched off, and the solar limit does not control it",
        ),
    ] = Input[SolidFuel](value="none")
    vacuum_breaker: Annotated[
        Flag, flag("vacuum breaker", "on a riser of its own", "none", help="Where the code asks for one")
    ] = Flag(value=False)
    relief_free: Annotated[Flag, flag("store relief", "always open to the tank", "can be shut off")] = Flag(value=True)
    backup: Annotated[
        Input[Backup],
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
            "store's foot over the field's top", "length", -10, 5, help="Only where no pump drives the loop", step=0.05
        ),
    ] = Number(value=0.3)
