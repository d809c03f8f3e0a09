"""What the orders of commissioning are written from, and the steps that every loop has. Source: practice 14; site."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.design.inputs.commission import TestMedium
from rowan.core.steps.charge.pressures import Setting
from rowan.core.steps.charge.ratings import test_pressure
from rowan.core.steps.charge.result import ChargeResult, setting_of
from rowan.core.steps.commission.deviations import INSPECT, STOPPED_CLOSE_PA, TEST_AIR, TEST_WATER, WEEKS
from rowan.core.steps.commission.legality import Supply
from rowan.core.steps.commission.loops import first_state
from rowan.core.steps.commission.pressure_test import LEAST_ALLOWANCE_PA, SOAP_AIR_PA
from rowan.core.steps.commission.result import Act, Field, Step, Target
from rowan.core.steps.commission.valves import Move, Phase, ValveGraph, after
from rowan.core.steps.control.stage import ControlResult
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.store.heat import SCALD_C
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Figure, Quantity, Statement, say
from rowan.core.terms.record import record

REPUMPED_S = (600.0, 1200.0)  # s after which a water test is re-pumped; site, tests
RAISE_PA, RAISE_BELOW_RELIEF_PA = 350e3, 100e3  # Pa, to press out the last air, below the relief in any case
TEST_S, AIR_TEST_S, HAND_S = 50 * 60.0, 20 * 60.0, 20 * 60.0  # s; site, tests: 10, 20 and 50 minutes with water
PUSH_ROUTINE = " Each push-fit: cut square, edge broken, pushed past its click, locked, tugged."
HOTTEST_FILL_C = 50.0  # °C, the field that may still be filled; site, ready gate
DRY_DAYS_STOP = 30  # days a field may hang dry and uncovered; site, ready gate
LEAST_OF_TEST = 0.85  # of the test pressure, under which it is another test
LEFT_OVER_PA = 30e3  # Pa over the fill that warm liquid may have brought when it is left
TAP_C = 48.0  # °C at the tap with the store at 65; site, drinking-water side


@record
class Job:
    """What the steps are written from; `figures` by key."""

    design: Design
    run: RunResult
    charge: ChargeResult
    control: ControlResult
    figures: dict[str, Figure]
    graph: ValveGraph

    @property
    def setting(self) -> Setting | None:
        """Charge and fill; None without a vessel, or where they cannot be set."""
        return setting_of(self.charge)

    @property
    def medium(self) -> TestMedium:
        """What the loop is tested with; the mix is one that only a sealed loop has."""
        chosen = self.design.commission.test.value
        return "water" if chosen == "mix" and not self.design.sealed else chosen

    @property
    def vented(self) -> bool:
        """Whether a vent on top is opened and shut by hand."""
        return "vent" in self.graph.valves

    def target(self, key: str, name: str = "") -> tuple[Target, ...]:
        """A figure as a target; none where it was not reckoned."""
        found = self.figures.get(key)
        return (Target(name or found.name, found.quantity, key),) if found else ()

    def seconds(self, key: str) -> float | None:
        """A figure's time [s]."""
        found = self.figures.get(key)
        return found.value if found else None


def act(phase: Phase, words: str = "") -> Act:
    """Handles in their order as “outlet open, supply open”."""
    pairs = [part.rsplit(" ", 1) for part in words.split(", ") if part]
    return Act(phase, tuple(Move(valve, position) for valve, position in pairs))


def with_handles(graph: ValveGraph, steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """Each step with the handles as they stand in it: nothing is stored, every state follows from the turns before it."""
    state, found = first_state(graph), []
    for step in steps:
        for one in step.acts:
            state = after(state, one.moves)
        found.append(replace(step, valves=state))
        for one in step.closing:
            state = after(state, one.moves)
    return tuple(found)


def raised_pressure(design: Design, fill: float) -> float:
    """What the loop is raised to before the vessel is opened [Pa gauge]: 3.5 bar, a bar below the relief, what the kit reaches at
    most, never under the fill."""
    most = design.charge.relief_gauge_pa.value - RAISE_BELOW_RELIEF_PA
    return max(min(RAISE_PA, most, design.charge.filling_gauge_pa.value), fill)


def steam() -> Statement:
    """Why a field is cool before water comes near it."""
    return say("Cold water into a hot field is steam and shock. Early, late or covered, or not today.")


def inspect_step(job: Job) -> Step:
    """Looking everything over, cool, before anything is opened."""
    joints = PUSH_ROUTINE if job.design.run.joints.value == "push" else ""
    return Step(
        "inspect",
        "Look it over",
        say(
            "Field covered or dark, below {t}. Store full and bled before its heater is live. A second person on site.",
            t=Quantity(HOTTEST_FILL_C, "temperature"),
        ),
        say(
            "Every union has its washer, every joint its second turn of the spanner. Bleed screws at most one and a half turns open. Caps kept at hand.{joints}",
            joints=joints,
        ),
        say("Nothing loose, nothing missing from the list, the arrow of the non-return valve with the flow."),
        acts=(act("dry"),),
        caution=steam(),
        hand="thermometer at the field's sensor, torch, one gauge for charge and fill",
        fields=(
            Field("field_c", "field", "temperature", high="plan_hottest_fill", instead="field_dark", level=""),
            Field("field_dark", "or covered for an hour, or after dark", needed=False),
            Field("gauge_zero", "gauge shows with nothing behind it", "pressure", needed=False, level=""),
            Field("gauge_division", "one mark of the gauge", "pressure", low="1000", high="50000", needed=False),
            Field(
                "store_full",
                "store full and bled, " + ("heater and pump locked off" if job.design.pumped else "heater off"),
            ),
            Field("looked_over", "looked over, joint by joint"),
        ),
        rules=INSPECT,
    )


def hold_fields(job: Job) -> tuple[Field, ...]:
    """What is read while a test pressure is held: air by thermometer, water by what is re-pumped."""
    pressure = Field(
        "test_p1",
        "pressure at the start",
        "pressure",
        f"{LEAST_OF_TEST} * plan_test",
        f"plan_test + {LEAST_ALLOWANCE_PA:g}",
        "plan_test",
    )
    start = (pressure, Field("test_t1", "temperature at the start", "temperature_fine", level=""))
    medium = "air" if job.medium == "air" else "water"
    least, due = f"{medium}_expected - allowance_{medium}", f"{medium}_expected"
    end = (
        Field("test_p2", "pressure at the end", "pressure", least, expected=due, level=""),
        Field("test_t2", "temperature at the end", "temperature_fine", level=""),
    )
    if job.medium == "air":
        return (Field("test_soap", "soap on every joint at the first low pressure"), *start, *end, *_wept())
    pumped = tuple(
        Field(f"test_ml{minute}", f"re-pumped at {minute} min", "drops", low="0", clock=False)
        for minute in (10, 20, 50)
    )
    return (*start, *pumped, *end, Field("test_dry", "dry paper on every joint"), *_wept())


def _wept() -> tuple[Field, Field]:
    """A joint that wept is tightened, noted, and looked at again next day."""
    return (
        Field("wept", "a joint wept: a quarter turn more, noted", needed=False),
        Field("looked_again", "looked at again next day, dry", needed=False),
    )


def pressure_test(job: Job) -> Step:
    """The pressure test: by air with its danger, or by water at dusk or covered."""
    air = job.medium == "air"
    pressure = test_pressure(job.design)
    if air:
        work = say(
            "First {soap} and soap on every joint, then in steps to the full pressure. Field covered: it moves with each degree.",
            soap=Quantity(SOAP_AIR_PA, "pressure", 1),
        )
        danger = say("Compressed air is a spring: nobody stands close, nobody tightens under pressure.")
    else:
        work = say(
            "Up in seconds, supply shut at once. Re-pump at 10 and at 20 minutes, hold 30 more. Dry every joint, look with a lamp."
        )
        danger = say(
            "Shut-in water follows the temperature by bars: judge only at dusk or covered, and count the millilitres."
        )
    alone = "Nothing in the loop that stands less" if not job.design.sealed else "Vessel shut off, vent shut"
    return Step(
        "test",
        "Pressure test",
        say("{alone}: a leak is then a spoonful and the needle is quick.", alone=alone),
        work,
        say("The needle stands. A weeping joint stops, plus a quarter turn, noted, looked at next day."),
        (*job.target("test_pressure", "Test at"), *job.target("air_energy", "Shut in, as a spring")),
        AIR_TEST_S if air else TEST_S,
        danger,
        pressure,
        acts=(act("raise", "check half, source on, supply open, supply shut, source off"), act("test")),
        supply=Supply(pressure),
        hand="compressor with regulator and relief, soap" if air else test_tool(job.design),
        bells=() if air else REPUMPED_S,
        fields=hold_fields(job),
        rules=TEST_AIR if air else TEST_WATER,
    )


def test_tool(design: Design) -> str:
    """What brings a water test to its pressure."""
    needed = test_pressure(design) > design.charge.filling_gauge_pa.value * (1 + 1e-9) or not design.sealed
    pump = "hand test pump with a measuring cup" if needed else "the filling pump, a measuring cup"
    return pump + ", dry paper, lamp"


def settings_step(job: Job) -> Step:
    """Entering the controller's settings and reading them again."""
    control = job.design.control
    fields = tuple(
        Field(key, f"{name}, as read again", dimension, f"plan_{key} - 0.05", f"plan_{key} + 0.05", f"plan_{key}")
        for key, name, dimension in (
            ("set_start", "start", "difference"),
            ("set_stop", "stop", "difference"),
            ("set_limit", "store limit", "temperature"),
        )
    )
    return Step(
        "settings",
        "Enter the settings",
        say("Clock and date first: every window follows them."),
        say("Differences, limits, protections from the settings card; then read every value once more."),
        say("Every sensor reads a sensible value, no warning stands, the card hangs beside the controller."),
        (
            Target("Start", Quantity(control.start_k.value, "difference"), "start"),
            Target("Stop", Quantity(control.stop_k.value, "difference"), "stop"),
            Target("Store limit", Quantity(job.design.store.maximum_c.value, "temperature")),
        ),
        caution=caution("mains"),
        gauge=job.setting.fill if job.setting else None,
        acts=(act("rest"),),
        hand="settings card",
        fields=(*fields, Field("sensors", "every sensor plausible"), Field("automatic", "back to automatic")),
    )


def taps_step(job: Job) -> tuple[Step, ...]:
    """The drinking-water side, where taps draw from the store."""
    if not job.design.taps:
        return ()
    return (
        Step(
            "taps",
            "At the tap",
            say("The store warm, {t} or as hot as it is.", t=Quantity(65.0, "temperature")),
            say(
                "Draw hot till it stays the same, thermometer in the stream. Then shut the cold: the hot must stop within seconds."
            ),
            say(
                "No tap hotter than set, hot stops with the cold, the safety group drips into its tundish and nowhere else."
            ),
            job.target("tap"),
            caution=say(
                "Water above {t} scalds: a hand comes after the thermometer.", t=Quantity(SCALD_C, "temperature")
            ),
            acts=(act("rest"),),
            gauge=job.setting.fill if job.setting else None,
            hand="thermometer, bucket",
            fields=(
                Field("tap_c", "hot tap", "temperature", high="plan_tap"),
                Field("cold_shut", "cold shut: the hot stopped"),
                Field("main_takes", "the main takes what expands, or a vessel for it is there"),
            ),
        ),
    )


def provoked_step(job: Job) -> Step:
    """Failures that are provoked before handing over."""
    return Step(
        "provoked",
        "Make it fail",
        say("While somebody is there to see it, not in the first holidays."),
        say(
            "Power off in sun and on again, each sensor pulled, the store limit lowered under what the store has: one after the other, each put back."
        ),
        say(
            "Power back: it starts by itself with its settings. Sensor out: it says so and stops. Limit: the pump stops."
        ),
        acts=(act("rest"),),
        gauge=job.setting.fill if job.setting else None,
        fields=(
            Field("power_cut", "power cut and back"),
            Field("sensor_pulled", "each sensor pulled and home again"),
            Field("limit_lowered", "limit lowered and put back"),
        ),
    )


def _left_words(job: Job) -> Statement:
    """What is done last with the handles that this loop has."""
    has = job.graph.valves
    return say(
        "Caps on{vessel}{vent}{air}, every tag read against its handle.",
        vessel=", the vessel's valve secured open" if "vessel" in has else "",
        vent=", vent shut" if "vent" in has else "",
        air=", lid sealed, its air way free, the mark dated" if "air" in has else "",
    )


def closing_step(job: Job) -> Step:
    """How the loop is left, compared with how it works: every handle, the gauge with its temperature."""
    read = (
        (
            Field(
                "left_p",
                "gauge as left",
                "pressure",
                f"plan_fill - {STOPPED_CLOSE_PA:g}",
                f"plan_fill + {LEFT_OVER_PA:g}",
                "plan_fill",
            ),
            Field("left_c", "at the gauge", "temperature", level=""),
        )
        if job.setting
        else ()
    )
    return Step(
        "close",
        "As it is left",
        say("Hoses off at the very end. A field left without power or draw is covered, or drained."),
        _left_words(job),
        say("Every handle as drawn, gauge and temperature written down, automatic."),
        gauge=job.setting.fill if job.setting else None,
        acts=(act("rest"),),
        hand="caps, wire and seal, pen",
        fields=(*read, Field("handles", "every handle as drawn"), Field("caps", "caps on, labels and tags hung")),
    )


def weeks_fields() -> tuple[Field, ...]:
    """What is read when somebody comes back."""
    again = tuple(
        Field(key, f"{words} reading, days later", "pressure", needed=False, level="")
        for key, words in (("weeks_second", "second"), ("weeks_third", "third"))
    )
    first = Field(
        "weeks_fill",
        "cold gauge at dawn",
        "pressure",
        f"plan_fill - {STOPPED_CLOSE_PA:g}",
        expected="plan_fill",
        level="",
    )
    return (first, *again, Field("weeks_bled", "bled at the top"))


WEEKS_RULES = WEEKS
