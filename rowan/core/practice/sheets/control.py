"""Tasks at the controller: differences for three loops, ohms and swapped wires, live followed through the backup's wiring, the card
after a reset. Source: practice 11 and 12, methods 7.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from rowan.core.design.changes import changed, locate
from rowan.core.design.design import Design
from rowan.core.practice.sheet import Circuit, Leads, Menu, Option, Question, Range, Runs, Sheet, Slip
from rowan.core.practice.sheets.ground import Ground
from rowan.core.reckon import reckon
from rowan.core.steps.control.differences import proposed_start, proposed_stop
from rowan.core.steps.control.sensors import SENSOR_KINDS, SensorKind, candidates, faults
from rowan.core.steps.control.settings import ControllerSetting, controller_settings
from rowan.core.steps.control.stage import LEAST_BAND_K, START_WINDOW_K, STOP_MOST_K, differential
from rowan.core.steps.control.wiring import Dead, Wiring, alive, arrangements_of, deaths, wiring_of
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record

LONG_BARE, SHORT = 2.5, 0.4  # times the plan's lines: a long run, and a store beside the field
START_BESIDE_K = 2.0  # K beside the proposed start that are as good
LIMIT_BESIDE_K = 5.0  # K beside a planned limit that are as good
FIELD_C, STORE_C = 58.0, 24.0  # °C at which both ends are measured; a field in sun, a cool store
HELD_C = (3.0, 5.0)  # K that they may lie beside that
OPEN_READS_OHM = 2e6
FACTORY: dict[str, float] = {
    "control.start_k": 4.0,
    "control.stop_k": 1.0,
    "control.least_collector_c": 0.0,
    "store.maximum_c": 90.0,
    "control.cut_out_c": 180.0,
}  # what a reset leaves, as an invented maker ships it


@record
class _Loop:
    key: str
    name: str
    stop: float
    start: float
    floor: float
    lines: float


def _with_lines(design: Design, times: float) -> Design:
    """The plan with all its lines so many times as long, as far as an input takes it."""
    changes = []
    for line in ("cold", "hot"):
        for leg in getattr(design.run, line):
            length = min(max(leg.length_m * times, abs(leg.rise_m)), 60.0)
            changes.append(Change(f"run.{line}.{leg.id}.length_m", length))
    return changed(design, changes)


def _loops(ground: Ground) -> list[_Loop]:
    found = []
    named = (("own", "this plan's own loop", 1.0), ("long", "the same with lines two and a half times as long", LONG_BARE), ("short", "the same with the store close under the field", SHORT))  # fmt: skip
    for key, name, times in named:
        design = ground.design if times == 1.0 else _with_lines(ground.design, times)
        result = ground.result if times == 1.0 else reckon(design)
        floor = differential(result.control).floor
        found.append(
            _Loop(
                key,
                name,
                proposed_stop(floor=floor),
                proposed_start(floor=floor),
                floor,
                sum(leg.length_m for leg in (*design.run.cold, *design.run.hot)),
            )
        )
    return found


def differences(ground: Ground) -> Sheet:
    """Choose differences for three loops and defend them."""
    ground.controlled  # noqa: B018  a loop without a pump is refused before anything is asked
    loops = _loops(ground)
    questions: list[Question] = []
    for loop in loops:
        # a stop over its floor and up to the usual most, or the proposal where the floor lies over that
        stop = Range(loop.floor, max(STOP_MOST_K, loop.stop), loop.stop)
        low = max(loop.start - START_BESIDE_K, loop.stop + LEAST_BAND_K)
        start = Range(low, max(loop.start + START_BESIDE_K, low), loop.start)
        questions += [
            Question(
                key=f"stop_{loop.key}",
                asks=say("Stop difference for {loop}", loop=loop.name),
                marks=12,
                dimension="difference",
                right=stop,
                hint=say("What may the sensors be wrong, and what do the lines lose in degrees of this flow?"),
                why=say("Under {f} the loop loses more than it brings.", f=Quantity(loop.floor, "difference")),
            ),
            Question(
                key=f"start_{loop.key}",
                asks=say("Start difference for {loop}", loop=loop.name),
                marks=12,
                dimension="difference",
                right=start,
                hint=say("The stop, and a band wide enough that a cloud does not switch it."),
                why=say("A band over the stop: {s} suits it.", s=Quantity(loop.start, "difference")),
            ),
        ]
    loss, rate = ground.controlled.line_loss, ground.result.run.capacity_rate
    return Sheet(
        lead=say("Three loops with this plan's field and flow. Set both differences for each, then defend them."),
        given=(
            ("lines of this plan lose, warm", Quantity(loss, "heat_rate")),
            ("capacity of the flow", Quantity(rate, "conductance")),
            ("sensors may be wrong by", Quantity(ground.design.control.sensor_error_k.value, "difference")),
            ("the pump takes", Quantity(ground.result.run.pump_power, "electric_power")),
            ("usual start", say("{a} to {b}", a=Quantity(START_WINDOW_K[0], "difference", 0), b=Quantity(START_WINDOW_K[1], "difference", 0))),
        ),
        shown=Runs(tuple((loop.name, loop.lines) for loop in loops)),
        questions=(*questions, _defend(), _apart()),
        master=say("Begins with the least stop, goes a whole degree over it, then a band; writes down why, for the next who turns it."),
        slips=(
            Slip("a degree or two, to squeeze heat out", {"stop_long": min(1.0, loops[1].floor / 2)}, "stop_long"),
            Slip("one pair for every loop", {"start_long": loops[2].start - START_BESIDE_K - 3.0}, "start_long"),
        ),
    )  # fmt: skip


def _defend() -> Question:
    return Question(
        key="defend",
        asks=say("The customer asks: why not start at a degree or two, to lose nothing?"),
        marks=14,
        options=(
            Option("cold", say("the water would arrive colder than the store")),
            Option(
                "wear",
                say("only because of the pump's wear"),
                say("Wear is real, but what arrives cold is worse: the store is cooled"),
            ),
            Option(
                "right",
                say("he is right: lower brings more"),
                say("Below the least stop the loop takes more than it brings"),
            ),
        ),
        answer=("cold",),
        hint=say("Follow a cupful from the field to the coil."),
        why=say("On the way it loses that degree or two, and the sensors may be wrong by as much."),
    )


def _apart() -> Question:
    return Question(
        key="apart",
        asks=say("What happens if start and stop are set alike?"),
        marks=14,
        options=(
            Option("chatter", say("it switches on and off until the relay gives up")),
            Option(
                "saves",
                say("nothing, it follows the sun closely"),
                say("Started, the field cools at once: it stops, and starts again"),
            ),
        ),
        answer=("chatter",),
        hint=say("What does the first cold water do to the field?"),
        why=say("The first cold water lowers the field under the stop: it chatters."),
    )


def ohms(ground: Ground) -> Sheet:
    """Which sensor is it, and which wires are swapped?"""
    dice = ground.dice("ohms")
    kind = SENSOR_KINDS[int(dice.integers(len(SENSOR_KINDS)))]
    field_c = FIELD_C + float(dice.uniform(*HELD_C)) * (1 if dice.random() < 0.5 else -1)
    store_c = STORE_C + float(dice.uniform(*HELD_C)) * (1 if dice.random() < 0.5 else -1)
    swapped = bool(dice.random() < 0.5)
    pair = (kind.ohm(store_c), kind.ohm(field_c)) if swapped else (kind.ohm(field_c), kind.ohm(store_c))
    at_field, at_store = (fault for fault in faults(kind) if fault.state == "open")
    return Sheet(
        lead=say("Two unmarked cables end at the controller. A meter is put on them; both ends have been felt with a hand thermometer."),
        given=(
            ("field, by hand", Quantity(field_c, "temperature")),
            ("store foot, by hand", Quantity(store_c, "temperature")),
            ("cable on the terminal “field”", Quantity(pair[0], "resistance", 0)),
            ("cable on the terminal “store foot”", Quantity(pair[1], "resistance", 0)),
        ),
        shown=Leads((("field", pair[0]), ("store foot", pair[1])), (("field", field_c), ("store foot", store_c))),
        questions=(
            _kind(kind, pair[1] if swapped else pair[0], field_c),
            _swapped(kind, pair[0], swapped=swapped),
            Question(
                key="does",
                asks=say("What does a loop do whose two probes are swapped?"),
                marks=20,
                options=(
                    Option("night", say("it rests in the sun and runs by night, cooling the store")),
                    Option("nothing", say("nothing: it only shows them the other way round"), say("It starts when its “field” is warmer: by night, when the store is")),
                    Option("burns", say("it overheats the store"), say("It rests in the sun: the store stays cold, the field stands hot")),
                ),
                answer=("night",),
                hint=say("When is what it takes for the field warmer than what it takes for the store?"),
                why=say("It waits until the store is warmer than the field."),
            ),
            Question(
                key="open",
                asks=say("Later the field's cable is chewed through: the meter shows over {o}. What does the controller do?", o=Quantity(OPEN_READS_OHM, "resistance", 0)),
                marks=20,
                options=tuple(
                    Option(key, words, say("With this kind an open field probe reads {r}", r=at_field.reads))
                    for key, words in (("reads", at_field.does), ("other", at_store.does))
                ),
                answer=("reads",),
                hint=say("Open is endless ohms: hot or cold for this kind?"),
                why=say("With this kind an open probe reads {r}: {d}.", r=at_field.reads, d=at_field.does.text()),
            ),
        ),
        master=say("Measures at a known warmth before he believes a name; labels both cables, tugs both, and measures once more at the controller."),
        slips=(
            Slip("names by the colour of the cable", {"swapped": "right" if swapped else "swapped"}, "swapped"),
            Slip("an open probe taken for harmless", {"open": "other"}, "open"),
        ),
    )  # fmt: skip


def _swapped(kind: SensorKind, at_field: float, *, swapped: bool) -> Question:
    return Question(
        key="swapped",
        asks=say("Are the two cables on the right terminals?"),
        marks=30,
        options=(
            Option("right", say("yes"), say("The field's terminal reads the store's warmth") if swapped else None),
            Option("swapped", say("no, they are swapped"), None if swapped else say("The field's terminal reads the field's warmth")),
        ),
        answer=("swapped",) if swapped else ("right",),
        hint=say("Ohms rise with heat in platinum and fall in a thermistor."),
        why=say("On “field” lies what reads {t}.", t=Quantity(kind.temperature(at_field), "temperature")),
    )  # fmt: skip


def _kind(kind: SensorKind, at_field: float, field_c: float) -> Question:
    def comes(other: SensorKind) -> Statement:
        """What another kind would have been at."""
        fits = {one.kind.key: one.temperature for one in candidates(ohm=at_field)}
        if other.key not in fits:
            return say("No temperature on a roof gives it these ohms")
        return say(
            "It would be at {t}, where the hand thermometer shows {f}",
            t=Quantity(fits[other.key], "temperature"),
            f=Quantity(field_c, "temperature"),
        )

    return Question(
        key="kind",
        asks=say("Which kind of sensor is it?"),
        marks=30,
        options=tuple(Option(one.key, say(one.name), comes(one)) for one in SENSOR_KINDS),
        answer=(kind.key,),
        hint=say("Does the warmer end have more ohms or fewer?"),
        why=say("Its curve alone goes through both pairs of ohms and degrees."),
    )


def wiring(ground: Ground) -> Sheet:
    """Follow the live through the backup's wiring with one dead device."""
    wires = arrangements_of(ground.design.store.backup.value, two_heaters=False)
    plan = wiring_of(wires[0] if wires else "coil")
    dice = ground.dice("wiring")
    by_itself = [contact for contact in plan.contacts if not contact.by_hand]
    closed = {contact.key: not contact.by_hand for contact in plan.contacts}
    dead = by_itself[int(dice.integers(len(by_itself)))]
    stuck: dict[str, Dead] = {dead.key: "open"}
    found, whole = alive(plan, closed, dead=stuck), alive(plan, closed)
    all_deaths = deaths(plan)
    left = next(one for one in all_deaths if one.state == "open" and one.contact.key == dead.key)
    welded = {one.contact.key: one for one in all_deaths if one.state == "closed"}
    return Sheet(
        lead=say(
            f"{plan.name[:1].upper()}{plan.name[1:]}. Everything asks for heat and nothing comes. The electrician has proved {{d}} dead: it stays open.",
            d=dead.name,
        ),
        given=tuple((contact.name, say(contact.closed if closed[contact.key] else contact.open)) for contact in plan.contacts),
        shown=Circuit(plan.arrangement, closed),
        questions=(
            _loads(plan, found.works, whole.works),
            _far(plan, found.passed),
            _heat(plan, left.heats, left.by_hand),
            _guard(plan, {key: one.grave for key, one in welded.items()}),
        ),
        master=say("Draws live through the ladder with a finger, place by place, before a screw is touched. Mains are for a licensed electrician, locked off and proved dead."),
        slips=(
            Slip("the limiter bridged to see", {"bridge": "bridge"}, "bridge"),
            Slip("everything after the dead device believed live", {"loads": tuple(sorted(whole.works))}, "loads"),
        ),
    )  # fmt: skip


def _loads(plan: Wiring, works: frozenset[str], whole: frozenset[str]) -> Question:
    loads = tuple(rung.load for rung in plan.rungs)
    dead = tuple(
        Option(load.key, say(load.name), _load_words(works=load.key in works, whole=load.key in whole))
        for load in loads
    )
    return Question(
        key="loads",
        asks=say("Which loads work now?"),
        marks=25,
        several=True,
        options=(*dead, Option("none", say("none of them"), say("Live still comes to one another way") if works else None)),
        answer=tuple(load.key for load in loads if load.key in works) or ("none",),
        hint=say("Follow live from the left, place by place; an end switch closes when its load works."),
        why=say("With one dead in series {n}.", n="only what lies past it another way works" if works else "nothing works"),
    )  # fmt: skip


def _load_words(*, works: bool, whole: bool) -> Statement:
    if works:
        return say("Live comes to it another way")
    return say(
        "Whole, it would work; with the dead one live does not reach it" if whole else "Live never reaches it so"
    )


def _far(plan: Wiring, passed: tuple[int, ...]) -> Question:
    names = [" or ".join(contact.name for contact in place) for place in plan.rungs[0].places]
    options = tuple(
        Option(str(n), say(f"through {n} of {len(names)} places: as far as {names[n - 1]}" if n else "through none"),
               say(f"It passes {passed[0]}"))
        for n in range(len(names) + 1)
    )  # fmt: skip
    return Question(
        key="far",
        asks=say("How far does live come on the first rung, with the device dead?"),
        marks=25,
        options=options,
        answer=(str(passed[0]),),
        hint=say("It passes a place if any of the contacts there is closed."),
        why=say(f"It passes {passed[0]} of {len(names)} places."),
    )


def _heat(plan: Wiring, heats: bool, by_hand: tuple[str, ...]) -> Question:
    names = {contact.key: contact.name for contact in plan.contacts}
    how = "by_hand" if by_hand else "yes" if heats else "no"
    told = {
        "yes": say("yes, by itself"),
        "by_hand": say("yes, by hand: {n}", n=", ".join(names[key] for key in by_hand) or "the fallback or the boost"),
        "no": say("no, until it is changed"),
    }
    wrong = {
        "yes": say("yes: it goes past the dead device by itself"),
        "by_hand": say("Only by hand, past it"),
        "no": say("No other way leads past it"),
    }
    return Question(
        key="heat",
        asks=say("Can hot water be had tonight without a change of wires?"),
        marks=20,
        options=tuple(Option(key, words, wrong[how]) for key, words in told.items()),
        answer=(how,),
        hint=say("Is there a contact beside the dead one, worked by hand?"),
        why=wrong[how],
    )


def _guard(plan: Wiring, grave: Mapping[str, bool]) -> Question:
    guards = [contact for contact in plan.contacts if contact.guards]
    name = guards[0].name if guards else "the guard"
    return Question(
        key="bridge",
        asks=say("Somebody wants to bridge the {g} for the night. What do you say?", g=name.split(", ")[0]),
        marks=30,
        options=(
            Option("never", say("never: nothing else stops the heat when the rest sticks")),
            Option(
                "bridge",
                say("for one night it does no harm"),
                say("Closed for good nobody sees it: the day another contact sticks the store boils"),
            ),
            Option("watch", say("yes, with somebody beside it"), say("Whoever watches sleeps; it is there because nobody watches")),
        ),
        answer=("never",),
        grave=frozenset({"bridge", "watch"}),
        hint=say("What is left if a contact before it welds?"),
        why=say("{n} of its contacts are grave when they stick closed.", n=Quantity(float(sum(grave.values())), "count")),
    )  # fmt: skip


def card(ground: Ground) -> Sheet:
    """Write the settings card after a factory reset."""
    control, design = ground.controlled, ground.design
    settings = [one for one in controller_settings(design, control) if one.path in FACTORY]
    questions = [_setting(design, one, 80.0 / len(settings), control.floor) for one in settings]
    order = Question(
        key="after",
        asks=say("All are entered. What is done before the cover is shut?"),
        marks=20,
        options=(
            Option("reread", say("every value read once more, against the card; clock and day; back to automatic")),
            Option(
                "shut",
                say("shut it: they are entered"),
                say("One slip of the thumb, and nobody knows till next winter"),
            ),
            Option("hand", say("left on hand, so that it surely runs"), say("On hand it cools the store every night")),
        ),
        answer=("reread",),
        hint=say("Where does a loop cool its store every night?"),
        why=say("Read again, clock set, automatic: each is its own tick."),
    )
    return Sheet(
        lead=say(
            "Somebody pressed the reset. The controller has come back as the works shipped it. Write the card for this plan and enter it."
        ),
        given=tuple(
            (one.name, say("after the reset {v}", v=_as_quantity(design, one, FACTORY[one.path]))) for one in settings
        ),
        shown=Menu(tuple((one.name, _as_quantity(design, one, FACTORY[one.path])) for one in settings)),
        questions=(*questions, order),
        master=say("Has the card beside the unit with a reason for each value: a reset costs him five minutes."),
        slips=(
            Slip("what the works shipped is left", {"store.maximum_c": FACTORY["store.maximum_c"]}, "store.maximum_c"),
            Slip("left on hand", {"after": "hand"}, "after"),
        ),
    )


def _as_quantity(design: Design, one: ControllerSetting, value: float) -> Quantity:
    spec = locate(design, one.path).spec
    return Quantity(spec.si(value), spec.dimension)


def right_setting(design: Design, path: str, floor: float) -> Range:
    """Between what a setting of the card is as good as the plan's own [SI]; `floor` is the plan's loss floor [K]."""
    found = locate(design, path)
    best = found.si
    if path == "control.stop_k":
        return Range(min(floor, best), max(STOP_MOST_K, best), best)
    beside = START_BESIDE_K if found.spec.dimension == "difference" else LIMIT_BESIDE_K
    return Range(best - beside, best + beside, best)


def _setting(design: Design, one: ControllerSetting, marks: float, floor: float) -> Question:
    found = locate(design, one.path)
    return Question(
        key=one.path,
        asks=say(one.name),
        marks=marks,
        dimension=found.spec.dimension,
        decimals=0,
        right=right_setting(design, one.path, floor),
        hint=say("The plan's own value; the reset left {v}.", v=_as_quantity(design, one, FACTORY[one.path])),
        why=replace(one.reason, capital=True),
    )
