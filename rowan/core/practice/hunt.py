"""A house with a hidden fault: an instrument at a time, each costs minutes; then it is named and put right.

What the instruments show is reckoned from the plan's own numbers and from what `care.faults` says that the fault changes.
Source: site (ten faults that happen most), practice 16.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from rowan.core.practice.sheets.ground import Ground
from rowan.core.records.care.faults import BY_KEY, Change
from rowan.core.steps.control.sensors import OPEN_OHM, SENSOR_KINDS
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

KIND = SENSOR_KINDS[0]
ROOM_C, AIR_C, FOOT_C, TOP_C, STANDING_C = 18.0, 16.0, 38.0, 57.0, 126.0  # °C of a fine noon in the task
STILL = 0.05  # of the flow wanted, under which nothing goes round
MOST_RISE_K = 62.0  # over a field with hardly any flow, until it boils
WARM_PA_K = 2.5e3  # Pa that a gauge stands higher for each kelvin with a whole vessel; rule of thumb
NAMED, CURED, IN_TIME = 50.0, 20.0, 30.0  # marks
PART_MARKS, DANGER_MARKS = 10.0, 30.0  # that a part for nothing costs, and what could have hurt somebody
SLOW = 4.0  # times a master's minutes, at which nothing is left for time


@record
class Instrument:
    """Something that is looked at or measured: its name and the minutes it takes; `hurts` says how it could hurt somebody."""

    key: str
    name: str
    minutes: int
    hurts: str = ""


INSTRUMENTS = (
    Instrument("display", "Read the controller's display", 1),
    Instrument("gauge", "Read the gauge", 1),
    Instrument("can", "Look into the can under the relief", 1),
    Instrument("tug", "Tug at the store probe's cable", 1),
    Instrument("hand", "Hand on the pump and on both lines", 2),
    Instrument("float", "Read the float of the flow setter", 2),
    Instrument("settings", "Read the settings back against the card", 3),
    Instrument("clock", "Read the backup's clock and the store before sunrise", 3),
    Instrument("pin", "Press the pin of the vessel's valve", 4),
    Instrument("clamp", "Clamp thermometers on both lines", 5),
    Instrument("ohms_foot", "Ohms of the store probe, at the terminals", 5),
    Instrument("ohms_field", "Ohms of the field probe, at the terminals", 8),
    Instrument("log", "Read a week of the log", 8),
    Instrument("volts", "Have the electrician prove volts at the pump", 12),
    Instrument("glass", "Look at the field from a tied ladder", 15),
    Instrument("night", "Shut one ball valve for a night, never one before the relief", 20),
    Instrument(
        "open",
        "Open the roof vent now, in the sun",
        15,
        "Steam stands behind it: a vent is opened cold, with the pump off",
    ),
)
BY_INSTRUMENT = {one.key: one for one in INSTRUMENTS}


@record
class Cure:
    """Something that is done or changed; `part` where it is bought."""

    key: str
    name: str
    part: bool = False


CURES = (
    Cure("pump", "A new pump", part=True),
    Cure("probe", "A new field probe and cable", part=True),
    Cure("check", "A new check valve", part=True),
    Cure("vessel", "A new vessel, or its gas set anew", part=True),
    Cure("relief", "A new relief valve", part=True),
    Cure("raise", "Find the leak, raise the pressure"),
    Cure("bleed", "Bleed it cold, then raise the pressure"),
    Cure("strainer", "Clean the strainer, open the setter"),
    Cure("mode", "Back to automatic"),
    Cure("limit", "Set the store limit of the plan"),
    Cure("pair", "Set the differences of the plan"),
    Cure("wires", "Put the two probes on each other's terminals"),
    Cure("home", "Push the field probe home, with paste and cap"),
    Cure("pocket", "Put the store probe back into its pocket and hold it there"),
    Cure("evening", "Move the backup's hours to the evening"),
    Cure("wash", "Wash the glass, see to its seal"),
)
# what is hunted, what puts it right, and what a master looks at, in order. The faults themselves are those of care
HUNTED: dict[str, tuple[str, tuple[str, ...]]] = {
    "no_flow": ("pump", ("display", "gauge", "hand", "volts")),
    "air": ("bleed", ("display", "gauge", "hand")),
    "lost_pressure": ("raise", ("display", "gauge")),
    "low_flow": ("strainer", ("display", "gauge", "float")),
    "check_valve": ("check", ("display", "log", "night")),
    "hand_on": ("mode", ("display",)),
    "hand_off": ("mode", ("display",)),
    "low_limit": ("limit", ("display", "settings")),
    "swapped": ("wires", ("display", "ohms_foot")),
    "field_unread": ("probe", ("display", "ohms_field")),
    "field_loose": ("home", ("display", "clamp", "ohms_field")),
    "foot_loose": ("pocket", ("display", "tug")),
    "wrong_pair": ("pair", ("display", "settings")),
    "vessel": ("vessel", ("gauge", "can", "pin")),
    "relief": ("relief", ("gauge", "can", "pin")),
    "backup_first": ("evening", ("display", "clock")),
    "dirty_glass": ("wash", ("display", "gauge", "clamp", "glass")),
}


@record
class House:
    """A plan with a fault of some size, hidden."""

    ground: Ground
    fault: str
    change: Change

    @property
    def lets_run(self) -> bool:
        """Whether the pump is told to run at noon."""
        return (
            self.change.forced != "off"
            and self.change.limit is None
            and not self.change.swapped
            and not self.change.unread
        )

    @property
    def flow(self) -> float:
        """What goes round [m³/s]."""
        share = self.change.share if self.lets_run else 0.0
        return 0.0 if share < STILL else self.ground.result.run.flow * share

    @property
    def rise(self) -> float:
        """Warming over the field [K]."""
        share = self.flow / self.ground.result.run.flow
        return (
            0.0
            if share <= 0
            else min(self.ground.result.run.temperatures.rise * self.change.glass / share, MOST_RISE_K)
        )

    @property
    def field_c(self) -> float:
        """The field's own warmth at its exit [°C]."""
        return FOOT_C + 4.0 + self.rise if self.flow > 0 else STANDING_C

    @property
    def read_c(self) -> tuple[float, float]:
        """What both probes stand at [°C], field and store foot."""
        field = self.field_c + self.change.field_loose * (AIR_C - self.field_c) + self.change.field_add
        foot = FOOT_C + self.change.foot_loose * (ROOM_C - FOOT_C) + self.change.foot_add
        return (foot, field) if self.change.swapped else (field, foot)

    @property
    def fill(self) -> float:
        """What the gauge would read, whole and as warm as it is [Pa]."""
        charge = self.ground.sealed
        cold = 0.0 if charge.setting is None else charge.setting.fill
        return cold + WARM_PA_K * ((self.field_c if self.flow > 0 else 60.0) - ROOM_C) / 3


def house_of(ground: Ground) -> House:
    """A house with a fault by its seed. Raises ImpossibleInputError for a loop without a vessel."""
    ground.sealed  # noqa: B018  another loop is refused before anything is asked
    dice = ground.dice("hunt")
    fault = str(dice.choice(list(HUNTED)))
    sizes = BY_KEY[fault].sizes
    return House(ground, fault, sizes[int(dice.integers(len(sizes)))])


def reads(house: House, instrument: str) -> Statement:
    """What an instrument shows. Raises ImpossibleInputError for one that there is not."""
    if instrument not in READINGS:
        raise ImpossibleInputError("there is no instrument “{instrument}”", instrument=instrument)
    return READINGS[instrument](house)


def _c(value: float) -> Quantity:
    return Quantity(value, "temperature")


def _display(house: House) -> Statement:
    (field, foot), change = house.read_c, house.change
    if change.unread:
        return say("Automatic, the pump rests; field shows dashes, store foot {b}, top {t}", b=_c(foot), t=_c(TOP_C))
    limit = change.limit
    top = TOP_C if limit is None else max(limit, 40.0)
    mode = {"on": "Hand, on", "off": "Hand, off"}.get(change.forced, "Automatic")
    if change.field_loose:
        mode = "Automatic, the pump starts and stops every few minutes"
    elif limit is not None:
        mode = "Automatic, rests: the store has reached its limit"
    elif mode == "Automatic":
        mode = "Automatic, the pump is told to run" if house.lets_run else "Automatic, the pump rests"
    return say("{mode}; field {a}, store foot {b}, top {t}", mode=mode, a=_c(field), b=_c(foot), t=_c(top))


def _gauge(house: House) -> Statement:
    change, now = house.change, house.fill
    if change.gauge_air or house.fault == "air":
        return say("About {p}, and the needle twitches", p=Quantity(now - 0.3e5, "pressure", 1))
    if change.gauge_leak:
        return say("{p}", p=Quantity(max(now - max(change.gauge_leak, now - 0.2e5), 0.0), "pressure", 1))
    if change.gauge_swing > 1.0:
        relief = house.ground.design.charge.relief_gauge_pa.value
        return say(
            "{p}: close under the relief, and it was near nothing this morning",
            p=Quantity(0.95 * relief, "pressure", 1),
        )
    if change.gauge_weeps:
        return say(
            "{p}: lower than it was filled, and a drop hangs at the relief", p=Quantity(now - 0.4e5, "pressure", 1)
        )
    return say("{p}, and still", p=Quantity(now, "pressure", 1))


def _can(house: House) -> Statement:
    if house.change.gauge_swing > 1.0:
        return say("{v} of mix in it", v=Quantity(2.0 * LITRE, "volume", 1))
    if house.change.gauge_weeps:
        return say("{v} of mix in it, and it drips", v=Quantity(1.0 * LITRE, "volume", 1))
    return say("Dry")


def _tug(house: House) -> Statement:
    return say("It comes out in your hand" if house.change.foot_loose else "It holds")


def _hand(house: House) -> Statement:
    told = house.lets_run or house.change.forced == "on"
    if house.fault == "no_flow":
        return say("No hum, no shiver; both lines as cool as the room")
    if house.fault in ("air", "lost_pressure"):
        return say("It gurgles and rattles; the hot line is lukewarm, then cold")
    if not told:
        return say("The pump is still; both lines as cool as the room")
    if house.change.field_loose:
        return say("It hums a minute, rests a minute; the hot line is warm, the cold one cooler")
    if house.fault == "low_flow":
        return say("It hums; the hot line is too hot to hold, the cold one cool")
    return say("It hums; the hot line is warm, the cold one cooler")


def _float(house: House) -> Statement:
    if house.fault == "air":
        return say("It jumps between nothing and {q}", q=Quantity(house.ground.result.run.flow * 0.4, "flow"))
    return say("{q}", q=Quantity(house.flow, "flow"))


def _settings(house: House) -> Statement:
    change, control = house.change, house.ground.design.control
    start = control.start_k.value if change.start is None else change.start
    stop = control.stop_k.value if change.stop is None else change.stop
    limit = house.ground.design.store.maximum_c.value if change.limit is None else change.limit
    return say(
        "Start {a}, stop {b}, store limit {l}; the card says {x}, {y}, {z}",
        a=Quantity(start, "difference"),
        b=Quantity(stop, "difference"),
        l=_c(limit),
        x=Quantity(control.start_k.value, "difference"),
        y=Quantity(control.stop_k.value, "difference"),
        z=_c(house.ground.design.store.maximum_c.value),
    )


def _clock(house: House) -> Statement:
    if house.change.morning_k:
        return say(
            "It is on from 4 to 7 in the morning: the foot stands at {t} before the sun is up",
            t=_c(24.0 + house.change.morning_k),
        )
    return say("It is on in the evening; the foot stands at {t} before the sun is up", t=_c(24.0))


def _pin(house: House) -> Statement:
    return say("Liquid comes: the membrane is through" if house.change.gauge_swing > 1.0 else "Gas comes")


def _clamp(house: House) -> Statement:
    if house.flow <= 0:
        return say("Both lines {t}", t=_c(ROOM_C + 1.0))
    return say("Hot line {a}, cold line {b}", a=_c(house.field_c - 2.0), b=_c(FOOT_C + 3.0))


def _ohms(house: House, which: int) -> Statement:
    if which == 0 and house.change.unread:
        return say("Over {o}: nothing is joined", o=Quantity(OPEN_OHM, "resistance", 0))
    read = house.read_c[which]
    true = (house.field_c, FOOT_C)[which]
    return say(
        "{o}: that is {t} in this kind; a thermometer beside it would show {h}",
        o=Quantity(KIND.ohm(read), "resistance", 0),
        t=_c(read),
        h=_c(true),
    )


def _log(house: House) -> Statement:
    return say(
        {
            "no_flow": "Pump on all day, field far over a hundred, foot flat",
            "air": "Pump on, field climbs and falls back again and again",
            "lost_pressure": "Pump on, field far over a hundred, foot flat; the gauge fell over the week",
            "low_flow": "Runs all day, at noon the field stands far over the foot",
            "check_valve": "Pump off at night, and yet the field stays warm; the store loses degrees till morning",
            "hand_on": "The pump never stops; the store cools all night",
            "hand_off": "The pump never starts; the field stands hot every noon",
            "low_limit": "Stops every noon with the top at the same degree",
            "swapped": "Rests in the sun, runs by night",
            "field_unread": "No field reading since Tuesday; the pump rests",
            "field_loose": "Starts an hour late, the field reads lower than the hot line",
            "foot_loose": "The foot reads the room; the pump runs on into dusk",
            "wrong_pair": "Starts and stops at other differences than the card has",
            "vessel": "The gauge swings between nothing and the relief each day",
            "relief": "The gauge is a little lower each evening",
            "backup_first": "Top and foot are hot before the sun; it starts late",
            "dirty_glass": "Runs as it should, brings a third less than the plan in such sun",
        }[house.fault]
    )


def _volts(house: House) -> Statement:
    told = house.lets_run or house.change.forced == "on"
    return say("Mains at the pump's terminals" if told else "Nothing at the pump's terminals")


def _glass(house: House) -> Statement:
    return say("A grey film, and mist behind one pane" if house.change.glass < 1.0 else "Clean and clear")


def _night(house: House) -> Statement:
    if house.change.leak:
        return say("In the morning the store is {k} warmer than after other nights", k=Quantity(3.0, "difference"))
    return say("In the morning the store is as after other nights")


def _open(_: House) -> Statement:
    return say("A roar of steam. Nothing is learned that the gauge had not said")


READINGS: dict[str, Callable[[House], Statement]] = {
    "display": _display,
    "gauge": _gauge,
    "can": _can,
    "tug": _tug,
    "hand": _hand,
    "float": _float,
    "settings": _settings,
    "clock": _clock,
    "pin": _pin,
    "clamp": _clamp,
    "ohms_foot": lambda house: _ohms(house, 1),
    "ohms_field": lambda house: _ohms(house, 0),
    "log": _log,
    "volts": _volts,
    "glass": _glass,
    "night": _night,
    "open": _open,
}


@record
class Verdict:
    """What a hunt was worth: marks for the name, the cure and the time, what was taken off, the words to it, a master's minutes."""

    named: float
    cured: float
    in_time: float
    off: float
    words: tuple[Statement, ...]
    minutes: int
    masters: int

    @property
    def total(self) -> float:
        """All marks, of a hundred; never under none."""
        return max(self.named + self.cured + self.in_time - self.off, 0.0)


def minutes_of(used: Iterable[str]) -> int:
    """What some instruments took [min]; each once, for it shows the same again."""
    return sum(BY_INSTRUMENT[key].minutes for key in dict.fromkeys(used))


def judge(house: House, used: tuple[str, ...], *, named: str, cures: tuple[str, ...]) -> Verdict:
    """What a hunt was worth: the fault named, time, parts changed for nothing, danger."""
    cure, way = HUNTED[house.fault]
    minutes, masters = minutes_of(used), minutes_of(way)
    words = []
    right = named == house.fault
    if not right:
        words.append(say(f"It was: {BY_KEY[house.fault].name[:1].lower()}{BY_KEY[house.fault].name[1:]}"))
    names = {one.key: one for one in CURES}
    wasted = [key for key in cures if key != cure and names[key].part]
    words += [say("{part}: changed for nothing", part=names[key].name) for key in wasted]
    if cure not in cures:
        words.append(say(f"What puts it right was not done: {names[cure].name[:1].lower()}{names[cure].name[1:]}"))
    late = min(max((SLOW - minutes / masters) / (SLOW - 1.5), 0.0), 1.0) if right else 0.0
    if right and late < 1.0:
        words.append(
            say(
                "{m} where a master takes {w}",
                m=Quantity(minutes * 60.0, "minutes"),
                w=Quantity(masters * 60.0, "minutes"),
            )
        )
    hurt = [BY_INSTRUMENT[key] for key in used if BY_INSTRUMENT[key].hurts]
    words += [say(one.hurts) for one in hurt]
    if right and not used:
        words.append(say("Named without a look: guessed"))
    return Verdict(
        NAMED if right and used else 0.0,
        max((CURED if cure in cures else 0.0) - PART_MARKS * len(wasted), 0.0) if right else 0.0,
        round(IN_TIME * late, 1) if used else 0.0,
        DANGER_MARKS * len(hurt) + (PART_MARKS * len(wasted) if not right else 0.0),
        tuple(words),
        minutes,
        masters,
    )
