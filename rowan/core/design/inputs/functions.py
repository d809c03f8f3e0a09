"""What the controller does beside the two differences: functions with their settings, sensors as found, heater windows."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input, Inputs, InputSpec, Origin
from rowan.core.design.inputs.fields import Flag, Number, Whole, choice, flag, number, whole
from rowan.core.design.inputs.hours import HoursText, PressText, clock_minute
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.units import KWH, LITRE_H


class BackupWindow(Inputs):
    """A time of day in which the backup may heat: it starts below one temperature of the upper sensor and stops at another.

    One that ends when it begins never fires.
    """

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    starts: Annotated[str, InputSpec("from", "text", help="Time of day, such as 4:30")] = "4:30"
    ends: Annotated[str, InputSpec("till", "text", help="Time of day; the same as its beginning never fires")] = "6:30"
    on_c: Annotated[float, number("heats below", "temperature", 20, 85, step=1)] = 45.0
    off_c: Annotated[float, number("stops at", "temperature", 25, 90, step=1)] = 50.0
    origin: Origin = "agreed"
    note: str = Field(default="", max_length=400)

    @field_validator("starts", "ends")
    @classmethod
    def _is_time(cls, value: str) -> str:
        try:
            clock_minute(value)
        except TypedNumberError as error:
            raise PydanticCustomError("hours", "{reason}", {"reason": str(error)}) from error
        return value

    @property
    def minutes(self) -> tuple[int, int]:
        """Beginning and end in minutes of the day."""
        return clock_minute(self.starts), clock_minute(self.ends)

    @property
    def fires(self) -> bool:
        """Whether it ever heats: it lasts, and starts below what it stops at."""
        start, end = self.minutes
        return start != end and self.on_c < self.off_c


PumpSpeed = Literal["one", "chopped", "signal"]
NightCooling = Literal["off", "away", "always"]
HeatDump = Literal["none", "radiator", "pool"]


class FunctionInputs(Inputs):
    """Everything beside start and stop. What is off does nothing, whatever its settings say."""

    # sensors as the bench test found them
    field_offset_k: Annotated[
        Number,
        number("field sensor reads over", "difference", -15, 15, help="Over what is true, as the bench test found it"),
    ] = Number(value=0.0)
    store_offset_k: Annotated[
        Number, number("store sensor reads over", "difference", -15, 15, help="Over what is true")
    ] = Number(value=0.0)
    field_lag_s: Annotated[
        Number, number("field sensor lags", "time", 0, 900, help="Seconds in a wet pocket, minutes in a dry one")
    ] = Number(value=0.0)
    store_lag_s: Annotated[Number, number("store sensor lags", "time", 0, 900)] = Number(value=0.0)
    strapped_share: Annotated[
        Number,
        number(
            "field sensor feels of the air",
            "share",
            0,
            0.6,
            help="None pushed home in its pocket; a tenth strapped on and lagged; a third strapped on bare",
        ),
    ] = Number(value=0.0)
    # the pump
    least_run_s: Annotated[
        Number, number("least run", "time", 0, 1800, step=30, help="Once started it runs so long")
    ] = Number(value=0.0)
    speed: Annotated[
        Input[PumpSpeed],
        choice(
            "pump speed",
            ("one", "one speed"),
            ("chopped", "follows the difference, by chopped mains"),
            ("signal", "follows the difference, by a signal"),
            help="Chopped mains only for a pump with a plain motor; an electronic one takes a signal",
        ),
    ] = Input[PumpSpeed](value="one")
    speed_floor: Annotated[
        Number, number("slowest speed", "share", 0.2, 1, step=0.05, help="Below about {0.3|share} motors stall")
    ] = Number(value=0.3)
    speed_full_k: Annotated[Number, number("full speed so far over the start", "difference", 1, 30, step=0.5)] = Number(
        value=8.0
    )
    timer: Annotated[Flag, flag("pump runs", "by a plain timer", "by the difference", help="A timer knows no sun")] = (
        Flag(value=False)
    )
    timer_from_h: Annotated[Whole, whole("timer on at hour", 0, 23)] = Whole(value=9)
    timer_to_h: Annotated[Whole, whole("timer off at hour", 1, 24)] = Whole(value=16)
    exercise_s: Annotated[Number, number("weekly exercise", "time", 0, 300, step=5, help="Keeps the shaft free")] = (
        Number(value=0.0)
    )
    # when it gets too hot
    cooling: Annotated[Flag, flag("collector cooling", "pumps into a full store", "off")] = Flag(value=False)
    cooling_c: Annotated[Number, number("cooling from", "temperature", 70, 150, step=1)] = Number(value=110.0)
    cooling_store_c: Annotated[Number, number("cooling fills the store up to", "temperature", 50, 95, step=1)] = Number(
        value=90.0
    )
    night: Annotated[
        Input[NightCooling],
        choice(
            "night cooling",
            ("off", "off"),
            ("away", "while nobody is there"),
            ("always", "every night"),
            help="Gives a hot store's heat back through the field at night",
        ),
    ] = Input[NightCooling](value="off")
    night_c: Annotated[Number, number("cools the store down to", "temperature", 25, 80, step=1)] = Number(value=50.0)
    dump: Annotated[
        Input[HeatDump], choice("heat dump", ("none", "none"), ("radiator", "a radiator"), ("pool", "a pool"))
    ] = Input[HeatDump](value="none")
    dump_c: Annotated[Number, number("dump from", "temperature", 60, 150, step=1)] = Number(value=105.0)
    dump_w_k: Annotated[
        Number, number("the dump takes", "conductance", 5, 5000, help="For each degree over its surroundings")
    ] = Number(value=60.0)
    # frost, beside the first level of the controller
    frost_run_s: Annotated[Number, number("frost: runs for", "time", 0, 3600, help="Nought: as long as it is cold")] = (
        Number(value=0.0)
    )
    frost_pause_s: Annotated[Number, number("frost: pauses for", "time", 0, 7200)] = Number(value=0.0)
    second_frost: Annotated[Flag, flag("second frost level", "on", "off")] = Flag(value=False)
    second_frost_c: Annotated[Number, number("second level from", "temperature", -10, 7, step=0.5)] = Number(value=1.5)
    second_run_s: Annotated[Number, number("second level runs for", "time", 0, 3600)] = Number(value=300.0)
    second_pause_s: Annotated[Number, number("second level pauses for", "time", 0, 7200)] = Number(value=60.0)
    # the heater
    windows: list[BackupWindow] = Field(default_factory=list, max_length=12)
    clock_ahead_s: Annotated[
        Number,
        number(
            "controller's clock is ahead", "minutes", -43_200, 43_200, help="After a power cut, or a change of the hour"
        ),
    ] = Number(value=0.0)
    boost_s: Annotated[Number, number("a boost lasts", "minutes", 600, 14_400, step=600)] = Number(value=3600.0)
    boost_at: Annotated[
        PressText,
        InputSpec("boost pressed at", "text", help="“never”, or a time such as 17:00: tried on every day that is run"),
    ] = PressText(value="never")
    holiday: Annotated[Flag, flag("backup while nobody is there", "rests", "heats as on every day")] = Flag(value=False)
    hygiene_c: Annotated[Number, number("heats through to", "temperature", 55, 75, step=1)] = Number(value=60.0)
    hygiene_hour: Annotated[Whole, whole("heats through at hour", 0, 23, help="Of the day it does so")] = Whole(
        value=13
    )
    hygiene_days: Annotated[
        Whole, whole("heats through every so many days", 1, 14, help="Seven is usual, two where many wash")
    ] = Whole(value=7)
    # the ring main
    ring: Annotated[Flag, flag("ring main", "pumped past the taps", "none")] = Flag(value=False)
    ring_flow_l_h: Annotated[Number, number("ring pump gives", "flow", 20, 6000, LITRE_H)] = Number(value=150.0)
    ring_loss_w_k: Annotated[Number, number("ring loses", "conductance", 0.5, 500)] = Number(value=6.0)
    ring_return_c: Annotated[
        Number, number("ring rests at", "temperature", 30, 65, help="Of the water that comes back", step=1)
    ] = Number(value=42.0)
    ring_hours: Annotated[
        HoursText, InputSpec("ring runs", "text", help="“always”, or hours such as “6:00-8:00, 18:00-21:00”")
    ] = HoursText(value="6:00-8:00, 18:00-21:00")
    # a pump on a battery
    battery: Annotated[Flag, flag("pump runs on", "a battery with a panel", "the mains or its panel")] = Flag(
        value=False
    )
    battery_wh: Annotated[Number, number("battery holds", "battery", 20, 20_000)] = Number(value=240.0)
    wire_ohm: Annotated[
        Number, number("battery and wire resist", "resistance", 0, 3, help="Makes the voltage sag under the pump")
    ] = Number(value=0.15)
    cut_v: Annotated[Number, number("pump is cut off below", "voltage", 8, 60, step=0.1)] = Number(value=11.6)
    resume_v: Annotated[Number, number("and runs again from", "voltage", 8, 60, step=0.1)] = Number(value=12.4)
    # what a pair is judged by
    electricity_weight: Annotated[
        Input[float | None],
        number(
            "pump electricity counts",
            "ratio",
            0,
            20,
            help="How much heat a kilowatt-hour of it is worth",
            empty="by the prices",
        ),
    ] = Input[float | None](value=None)
    start_worth_j: Annotated[Number, number("a start costs", "small_energy", 0, KWH, help="Wear, as heat")] = Number(
        value=36_000.0
    )
    locked: Annotated[Flag, flag("settings", "locked against many hands", "open to anybody at the unit")] = Flag(
        value=False
    )

    @model_validator(mode="after")
    def _each_window_once(self) -> Self:
        ids = [window.id for window in self.windows]
        twice = next((key for key in ids if ids.count(key) > 1), None)
        if twice is not None:
            raise PydanticCustomError("leg_twice", "the window “{key}” stands twice in one list", {"key": twice})
        return self

    @property
    def follows(self) -> bool:
        """Whether the pump's speed follows the difference."""
        return self.speed.value != "one"

    @property
    def night_cools(self) -> bool:
        """Whether the store is ever cooled at night."""
        return self.night.value != "off"

    @property
    def dumps(self) -> bool:
        """Whether there is somewhere for heat that nobody wants."""
        return self.dump.value != "none"


# settings that mean something only while another input stands so
ONLY_WITH: dict[str, tuple[str, tuple[object, ...]]] = {
    "timer_from_h": ("timer", (True,)),
    "timer_to_h": ("timer", (True,)),
    "speed_floor": ("speed", ("chopped", "signal")),
    "speed_full_k": ("speed", ("chopped", "signal")),
    "cooling_c": ("cooling", (True,)),
    "cooling_store_c": ("cooling", (True,)),
    "night_c": ("night", ("away", "always")),
    "dump_c": ("dump", ("radiator", "pool")),
    "dump_w_k": ("dump", ("radiator", "pool")),
    "second_frost_c": ("second_frost", (True,)),
    "second_run_s": ("second_frost", (True,)),
    "second_pause_s": ("second_frost", (True,)),
    "ring_flow_l_h": ("ring", (True,)),
    "ring_loss_w_k": ("ring", (True,)),
    "ring_return_c": ("ring", (True,)),
    "ring_hours": ("ring", (True,)),
    "battery_wh": ("battery", (True,)),
    "wire_ohm": ("battery", (True,)),
    "cut_v": ("battery", (True,)),
    "resume_v": ("battery", (True,)),
}


def matters(held: FunctionInputs, name: str) -> bool:
    """Whether a setting means something as the functions stand."""
    switch, states = ONLY_WITH.get(name, ("", ()))
    return not switch or getattr(held, switch).value in states
