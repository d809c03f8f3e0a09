"""Faults as changes of a healthy loop: what each does to loop, probes, controller, gauge and store, in which sizes it is looked for.

Data alone; `signs` reckons what they look like. Sizes that no log of a kind can see are not looked for there.
"""

from __future__ import annotations

from dataclasses import field
from typing import Literal

from rowan.core.terms.finding import Level
from rowan.core.terms.record import record

Forced = Literal["", "on", "off", "night", "frost", "battery"]


@record
class Change:
    """What a fault changes; what is not named stays healthy. Temperatures in K, gauge in Pa, times as they are called.

    `drifts_from` is the share of the log after which a probe begins to drift; `price` what a supposition costs that fits too much.
    """

    share: float = 1.0
    scatter: float = 0.0
    leak: float = 0.0
    welded: float = 0.0
    past: float = 0.0
    dump: float = 0.0
    shade: float = 0.0
    glass: float = 1.0
    coil: float = 1.0
    thick: float = 1.0
    field_add: float = 0.0
    field_drift: float = 0.0
    drifts_from: float = 0.0
    field_loose: float = 0.0
    foot_add: float = 0.0
    foot_loose: float = 0.0
    swapped: bool = False
    price: float = 0.0
    unread: float = 0.0
    start: float | None = None
    stop: float | None = None
    limit: float | None = None
    forced: Forced = ""
    gauge_leak: float = 0.0
    gauge_air: float = 0.0
    gauge_swing: float = 1.0
    gauge_weeps: float = 0.0
    store_loss: float = 1.0
    morning_k: float = 0.0
    cold_top: bool = False
    clock_h: float = 0.0
    level_fall: float = 0.0


@record
class Fault:
    """A fault that is looked for: what it is called, how grave, what it does in each size, and the test that shows it on site.

    `family` is what it shares its looks with in a plain log, if there is such; `parted_by` are the channels that tell it from the
    others of its family, none where no log does, and `apart` what it is then of, if not a class of its own.
    """

    key: str
    name: str
    level: Level
    sizes: tuple[Change, ...]
    test: str
    minutes: int
    family: str
    parted_by: tuple[str, ...] = ()
    needs: tuple[str, ...] = field(default=())
    apart: str = ""

    def class_in(self, channels: frozenset[str]) -> str:
        """What a log with these channels cannot tell it from: its family, or itself."""
        parted = bool(self.parted_by) and set(self.parted_by) <= channels
        return self.apart or self.key if parted or not self.family else self.family


def _sizes(**values: tuple[float, ...]) -> tuple[Change, ...]:
    """A change for each place of some lists of values."""
    names = list(values)
    return tuple(Change(**dict(zip(names, row, strict=True))) for row in zip(*values.values(), strict=True))


FAULTS: tuple[Fault, ...] = (
    Fault(
        "no_flow", "The pump is told to run and nothing flows", "fix", (Change(share=0.0), Change(share=0.04)),
        "Feel both lines, listen at the pump, volts at its terminals", 5, "flow", ("flow_m3_s",),
    ),
    Fault(
        "air", "Air in the loop: the flow fails and comes back", "fix",
        _sizes(share=(0.08, 0.15), scatter=(0.05, 0.09)),
        "Open the vent at the highest place, pump off and cold; look at the float", 10, "flow", ("flow_m3_s",),
    ),
    Fault(
        "lost_pressure", "The pressure is gone, and with it the flow", "fix",
        _sizes(share=(0.2, 0.2), gauge_leak=(40e3, 250e3)),
        "Look at the gauge, cold, pump off", 1, "flow", ("gauge_pa",), ("gauge_pa",),
    ),
    Fault(
        "low_flow", "Too little flow", "mind", _sizes(share=(0.65, 0.45, 0.28)),
        "Read the float; clean the strainer; look for a valve half shut", 10, "flow", ("flow_m3_s",), (), "low flow",
    ),
    Fault(
        "thick_mix", "The mix is too strong: it flows slowly", "mind", _sizes(share=(0.72, 0.55), thick=(0.95, 0.9)),
        "Refractometer: a drop on the glass", 5, "flow", ("flow_m3_s",), (), "low flow",
    ),
    Fault(
        "scaled_coil", "The coil gives its heat away badly: scale, or air in it", "mind", _sizes(coil=(0.5, 0.3, 0.18)),
        "Hot and cold line at the store: both hot with a cool foot", 10, "flow", ("hot_c", "cold_c"), (), "coil",
    ),
    Fault(
        "open_bypass", "Flow goes past the coil", "fix", _sizes(past=(0.4, 0.6, 0.8)),
        "Look at the handles beside the store; feel the bypass", 2, "flow", ("hot_c", "cold_c"), (), "coil",
    ),
    Fault(
        "dump", "The heat dump takes what the store should have", "fix", _sizes(dump=(0.35, 0.65)),
        "Feel the dump by day; look at its valve", 3, "dump", ("hot_c", "cold_c"), ("hot_c", "cold_c"),
    ),
    Fault(
        "check_valve", "The check valve passes: heat rises out of the store by night", "fix", _sizes(leak=(0.015, 0.03, 0.06, 0.1)),
        "Shut one ball valve for a night, never one that parts the field from relief and vessel, and open it before the sun is up", 2, "warm nights",
        ("hot_c", "cold_c"),
    ),
    Fault(
        "welded_relay", "The pump runs although it is told to rest", "fix", (Change(welded=1.0),),
        "Hand on the pump at dusk with the display showing off", 2, "warm nights", ("hot_c", "cold_c"),
    ),
    Fault(
        "hand_on", "Left in hand mode: the pump runs day and night", "fix", (Change(forced="on"),),
        "Look at the controller's mode", 1, "",
    ),
    Fault(
        "night_pump", "The pump runs in the first hours of the night", "fix", (Change(forced="night", price=0.5),),
        "Look for a timer, holiday or re-cooling function that is on", 3, "",
    ),
    Fault(
        "frost_run", "The frost function runs the pump in nights without frost", "mind", (Change(forced="frost", price=1.5),),
        "Read the frost function's limit; a loop with glycol needs none", 3, "",
    ),
    Fault(
        "hand_off", "The pump is not let run: hand mode, a dead output or a limit", "fix", (Change(forced="off"),),
        "Look at the display; switch the pump on by hand", 2, "",
    ),
    Fault(
        "low_limit", "The store's limit is set too low", "mind", tuple(Change(limit=float(at), price=1.0) for at in (45, 50, 55, 60, 65, 70)),
        "Read the limit at the controller", 2, "", (), ("high_c",),
    ),
    Fault(
        "battery", "The pump is cut off again and again: battery, or its own protection", "fix", (Change(forced="battery", price=0.5),),
        "Volts at the battery while the pump runs", 5, "",
    ),
    Fault(
        "wrong_pair", "The differences are not those that were set", "mind",
        _sizes(start=(3.0, 5.0, 14.0, 20.0), stop=(0.5, 1.0, 3.0, 8.0)),
        "Read both differences at the controller", 2, "pair",
    ),
    Fault(
        "swapped", "Field and store probe are swapped at the terminals", "fix", (Change(swapped=True),),
        "Warm one probe by hand and look which number moves", 3, "swapped",
    ),
    Fault(
        "field_unread", "The field's probe or its cable is broken", "fix", (Change(unread=1.0),),
        "Ohms at the terminals, then at the probe", 10, "unread",
    ),
    Fault(
        "field_offset", "The field's probe shows too much or too little", "mind",
        tuple(Change(field_add=add) for add in (-6.0, -10.0, -15.0, 6.0, 10.0)),
        "Probe in ice water: nothing but 0 °C", 15, "",
    ),
    Fault(
        "field_loose", "The field's probe is not home: it reads late and towards the air", "mind",
        _sizes(field_loose=(0.2, 0.35)), "Push it home, paste, cap", 15, "", (), ("sun_w_m2",),
    ),
    Fault(
        "field_drift", "The field's probe drifts", "mind",
        tuple(Change(field_drift=rate, drifts_from=share, price=1.5) for rate in (-0.3, -0.6) for share in (0.0, 0.25, 0.5)),
        "Ohms at the terminals against the field's warmth at night", 10, "",
    ),
    Fault(
        "foot_offset", "The store's probe shows too much or too little", "mind",
        tuple(Change(foot_add=add) for add in (5.0, 8.0, 12.0, -5.0, -8.0)),
        "Hand thermometer beside it; ice water", 10, "", (), ("sun_w_m2",),
    ),
    Fault(
        "foot_loose", "The store's probe is out of its pocket", "fix", _sizes(foot_loose=(0.7, 0.8, 0.9)),
        "Tug at its cable", 1, "",
    ),
    Fault(
        "shade", "Something shades the field after noon", "mind", _sizes(shade=(0.5, 0.9)),
        "Stand beside the field at two in the afternoon", 10, "shade", (), ("sun_w_m2",),
    ),
    Fault(
        "dirty_glass", "The field takes in too little: dirt, mist or a broken seal", "mind", _sizes(glass=(0.8, 0.67)),
        "Look at the glass from outside and in; wipe a corner", 15, "dirt", (), ("sun_w_m2",),
    ),
    Fault(
        "backup_first", "The backup heats the store's foot before the sun does", "mind", _sizes(morning_k=(10.0, 20.0, 30.0)),
        "Shift its clock to the evening for a week", 3, "backup",
    ),
    Fault(
        "cold_top", "The store's top is never as warm as hygiene asks", "fix", (Change(cold_top=True),),
        "Hand thermometer at the tap after a backup run", 5, "cold top", (), ("high_c",),
    ),
    Fault(
        "wet_jacket", "The store loses too much at rest: jacket wet, thin or open", "mind", _sizes(store_loss=(2.2, 3.0, 4.0)),
        "Hand on the jacket, foot and top", 5, "jacket",
    ),
    Fault(
        "clock", "The clock is off by an hour", "mind", tuple(Change(clock_h=hours) for hours in (1.0, -1.0)),
        "Read its clock beside your own", 1, "clock", (), ("sun_w_m2",),
    ),
    Fault(
        "leak", "The loop leaks: the gauge falls on and on", "fix", _sizes(gauge_leak=(1.5e3, 4e3, 10e3)),
        "Dry paper under every joint; a night with the field shut off", 20, "", (), ("gauge_pa",),
    ),
    Fault(
        "air_leaves", "Air leaves the loop: the gauge falls and slows", "mind", _sizes(gauge_air=(30e3, 60e3)),
        "Bleed at the highest place, raise the pressure, read again in a week", 15, "", (), ("gauge_pa",),
    ),
    Fault(
        "falling_level", "The water level falls in a loop that should lose none", "fix", _sizes(level_fall=(0.002, 0.005, 0.012)),
        "Mark the level with the day, pump off; dry paper under every joint, lid and vent looked at", 10, "", (), ("level_m",),
    ),
    Fault(
        "vessel", "The vessel has lost its gas, or is full", "fix", _sizes(gauge_swing=(3.0, 5.0)),
        "The valve's pin: liquid says burst; isolated and empty, read its charge", 5, "vessel", (), ("gauge_pa",),
    ),
    Fault(
        "relief", "The relief valve weeps when it is hot", "fix", _sizes(gauge_weeps=(0.4e3, 1e3, 2.5e3)),
        "Litres in the can; grit on its seat", 5, "", (), ("gauge_pa",),
    ),
)  # fmt: skip
BY_KEY = {fault.key: fault for fault in FAULTS}
