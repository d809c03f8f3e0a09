"""The order of commissioning for a sealed and for a direct loop, with this job's targets. Source: practice, commissioning."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rowan.core.design.design import Design
from rowan.core.steps.charge.pressures import Setting, TwoStage
from rowan.core.steps.charge.ratings import test_pressure
from rowan.core.steps.charge.result import ChargeResult, sealed_charge, setting_of
from rowan.core.steps.commission.pressure_test import SOAP_AIR_PA
from rowan.core.steps.commission.result import Step, Target
from rowan.core.steps.control.stage import ControlResult
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Figure, Quantity, Statement, say

RAISE_PA, RAISE_BELOW_RELIEF_PA = 350e3, 100e3  # Pa, to press out the last air, below the relief in any case
TEST_S, AIR_TEST_S, HAND_S = 30 * 60.0, 20 * 60.0, 20 * 60.0  # s, practice: commissioning
PUSH_ROUTINE = " Each push-fit: cut square, edge broken, pushed past its click, locked, tugged."
COOL_C = 30.0  # °C, a field that may be filled


@dataclass(frozen=True)
class Job:
    """What the steps are written from; `figures` by key."""

    design: Design
    run: RunResult
    charge: ChargeResult
    control: ControlResult
    figures: dict[str, Figure]

    @property
    def setting(self) -> Setting | None:
        """Charge and fill; None without a vessel, or where they cannot be set."""
        return setting_of(self.charge)

    def target(self, key: str, name: str = "") -> tuple[Target, ...]:
        """A figure as a target; none where it was not reckoned."""
        found = self.figures.get(key)
        return (Target(name or found.name, found.quantity, key),) if found else ()

    def seconds(self, key: str) -> float | None:
        """A figure's time [s]."""
        found = self.figures.get(key)
        return found.value if found else None

    def valves(self, *, opened: str = "") -> dict[str, bool]:
        """The state of every valve the station has; `opened` lists the open ones."""
        has = ["between", "supply", "outlet", "vessel"]
        if self.design.run.vent_shut_off.value and self.run.route.top_vented:
            has.append("vent")
        return {name: name in opened.split() for name in has}


def raised_pressure(design: Design, fill: float) -> float:
    """What the loop is raised to before the vessel is opened [Pa gauge]: 3.5 bar, a bar below the relief, never under the fill."""
    return max(min(RAISE_PA, design.charge.relief_gauge_pa.value - RAISE_BELOW_RELIEF_PA), fill)


def sealed_steps(job: Job) -> tuple[Step, ...]:
    """The steps of a sealed glycol loop; the vessel's are left out while no pressure can be set."""
    steps = [inspect_step(job)]
    if job.setting is not None:
        steps.append(_precharge(job))
    steps += [_flush(job), _pressure_test(job), _release(job), _fill(job)]
    if job.setting is not None:
        steps.append(_raise(job))
    steps += [_run_by_hand(job), settings_step(job)]
    steps += [_fluid(job), _after_weeks(job)]
    return tuple(steps)


def _steam() -> Statement:
    return say("Cold water into a hot field is steam and shock. Early, late or covered, or not today.")


def inspect_step(job: Job) -> Step:
    """Looking everything over, cool, before anything is opened."""
    return Step(
        "inspect",
        "Look it over",
        say("Field covered or dark, loop below {t}. A second person on site.", t=Quantity(COOL_C, "temperature")),
        say(
            "Every union has its washer, every joint its second turn of the spanner. Bleed screws at most one and a half turns open. Caps kept at hand."
            + (PUSH_ROUTINE if job.design.run.joints.value == "push" else "")
        ),
        say("Nothing loose, nothing missing from the list, the arrow of the non-return valve with the flow."),
        job.valves(),
        caution=_steam(),
    )


def _precharge(job: Job) -> Step:
    assert job.setting is not None  # noqa: S101  only then is this step made
    stage, works = sealed_charge(job.charge).two_stage, job.design.charge.vessel_works_gauge_pa.value
    targets = job.target("precharge", "Gas side")
    if stage is not None and stage.first_precharge is not None:
        targets = (Target("Gas side, first", Quantity(stage.first_precharge, "pressure")),)
    return Step(
        "vessel",
        "Set the vessel",
        say("Its liquid side empty: only then does the gauge at its valve speak of the gas alone."),
        say("Read the works setting, then let out or pump up. Write both numbers down.")
        if works is None or not targets
        else say(
            "It came with {w}, by its plate: read what it has, then {do}. Write both numbers down.",
            w=Quantity(works, "pressure"),
            do="let out" if works > targets[0].quantity.value else "pump up",
        ),
        say("The gauge stands at the charge, and still does after ten minutes."),
        job.valves(),
        targets,
        600.0,
    )


def _flush(job: Job) -> Step:
    return Step(
        "flush",
        "Flush",
        say("No frost, unless the mix follows at once: what cannot drain cannot be blown dry."),
        say("Outlet open before supply. Clear hose to a drain, never into the mixing tub."),
        say("No bubble, no flux, no chip in the clear hose for a whole turn."),
        job.valves(opened="supply outlet vent"),
        (*job.target("contents", "One turn"), *job.target("colour_time", "One turn takes")),
        (job.seconds("colour_time") or 0.0) * 3,
        _steam(),
    )


def _pressure_test(job: Job) -> Step:
    air = job.design.commission.test.value == "air"
    pressure = test_pressure(job.design)
    if air:
        work = say(
            "First {soap} and soap on every joint, then in steps to the full pressure. Field covered: it moves with each degree.",
            soap=Quantity(SOAP_AIR_PA, "pressure", 1),
        )
        caution = say("Compressed air is a spring: nobody stands close, nobody tightens under pressure.")
    else:
        work = say("Outlet shut, gauge up in seconds, supply shut at once. Dry every joint, look again with a lamp.")
        caution = say("Shut-in water follows the temperature by bars: judge only while nothing warms or cools.")
    return Step(
        "test",
        "Pressure test",
        say("Vessel shut off, vent shut: a leak is then a spoonful and the needle is quick."),
        work,
        say("The needle stands. A weeping joint stops, plus a quarter turn, noted, looked at next day."),
        job.valves(),
        job.target("test_pressure", "Test at"),
        AIR_TEST_S if air else TEST_S,
        caution,
        pressure,
    )


def _release(job: Job) -> Step:
    held = job.charge.contents
    return Step(
        "release",
        "Let the water out",
        say("Supply shut and its hose off."),
        say("Upper port, then lower port, check valves held half open, the highest point opened."),
        say("What comes out is measured: what is missing stays in the coil and thins the mix."),
        job.valves(opened="outlet between vent"),
        (
            Target("Loop holds", Quantity(held.total, "volume"), "contents"),
            Target("of it in the coil", Quantity(held.coil, "volume")),
        ),
    )


def _fill(job: Job) -> Step:
    return Step(
        "fill",
        "Fill and purge",
        say("The mix stands ready, hoses weighted under the surface, suction low on one side, return on the other."),
        say(
            "First liquid back is old water: second tub till the colour turns. Pump, rest till the foam is a thin skin, pump again."
        ),
        say("The turns are done and the return runs without a bubble. The tub has fallen by what is reckoned."),
        job.valves(opened="supply outlet vent"),
        (
            *job.target("prepare", "Mix ready"),
            Target("Mixed to", Quantity(sealed_charge(job.charge).tub.fill, "share_fine")),
            *job.target("colour_time", "Colour turns after"),
            *job.target("tub_falls", "Tub falls"),
        ),
        job.seconds("purge_time"),
        say("Goggles and gloves. Every litre caught in a can and labelled, none into a drain."),
    )


def _raise(job: Job) -> Step:
    assert job.setting is not None  # noqa: S101  only then is this step made
    stage = sealed_charge(job.charge).two_stage
    if stage is not None and stage.needed:
        return _raise_by_gas(job, stage)
    raised = raised_pressure(job.design, job.setting.fill)
    return Step(
        "raise",
        "Bring it to pressure",
        say("Return shut, vent shut after the last bubble."),
        say(
            "Raise to {p}, shut the supply, open the vessel slowly and read. Again, till a little above; let down to the value. Then open the valve between the ports.",
            p=Quantity(raised, "pressure"),
        ),
        say("The gauge stands at the cold fill with the vessel open, and the valve between the ports is open."),
        job.valves(opened="vessel between"),
        job.target("fill", "Cold fill"),
        None,
        say("Never more than a bar below the relief."),
        job.setting.fill,
    )


def _raise_by_gas(job: Job, stage: TwoStage) -> Step:
    """The second stage of a charge for a pump that does not reach the fill pressure."""
    assert job.setting is not None  # noqa: S101  only then is this step made
    return Step(
        "raise",
        "Bring it to pressure with gas",
        say("Return shut, vent shut after the last bubble, the vessel open."),
        say(
            "Fill till the pump gives no more, {p}: {v} are in the vessel then. Shut the supply. Pump gas in at the vessel's valve till the gauge stands at the fill.",
            p=Quantity(job.design.charge.filling_gauge_pa.value, "pressure"),
            v=Quantity(stage.liquid, "volume"),
        ),
        say("The gauge stands at the cold fill, and the valve between the ports is open."),
        job.valves(opened="vessel between"),
        (
            Target("Pump brings it to", Quantity(job.design.charge.filling_gauge_pa.value, "pressure")),
            *job.target("fill", "Gas brings it to"),
        ),
        None,
        say("Gas and liquid now share the pressure: the vessel's charge cannot be read any more without emptying it."),
        job.setting.fill,
    )


def _balance(job: Job) -> tuple[Target, ...]:
    """What each throttled row is set to."""
    rows = job.run.divided.rows
    if job.design.collector.feed.value != "throttled" or len(rows) < 2:
        return ()
    return tuple(Target(f"Row {n}", Quantity(row.flow, "flow")) for n, row in enumerate(rows, 1))


def _run_by_hand(job: Job) -> Step:
    return Step(
        "run",
        "Run it by hand",
        say("Vessel valve open and secured, caps on, hoses still in reach."),
        say(
            "Pump at full speed, bleed, correct the pressure; then the speed of the plan. Back to automatic is a tick of its own."
        ),
        say("The flow is read, and the store's hot port warms after the time reckoned. The hum proves nothing."),
        job.valves(opened="vessel between"),
        (*job.target("flow", "Flow"), *_balance(job), *job.target("arrival", "Heat arrives after")),
        HAND_S,
        gauge=job.setting.fill if job.setting else None,
    )


def settings_step(job: Job) -> Step:
    """Entering the controller's settings and reading them again."""
    control = job.design.control
    return Step(
        "settings",
        "Enter the settings",
        say("Clock and date first: every window follows them."),
        say("Differences, limits, protections from the settings card; then read every value once more."),
        say("Every sensor reads a sensible value, no warning stands, the card hangs beside the controller."),
        job.valves(opened="vessel between") if job.design.sealed else {},
        (
            Target("Start", Quantity(control.start_k.value, "difference"), "start"),
            Target("Stop", Quantity(control.stop_k.value, "difference"), "stop"),
            Target("Store limit", Quantity(job.design.store.maximum_c.value, "temperature")),
        ),
        caution=caution("mains"),
        gauge=job.setting.fill if job.setting else None,
    )


def _fluid(job: Job) -> Step:
    return Step(
        "fluid",
        "Prove the fluid",
        say("After the pump has run: the mix is one only when it has gone round."),
        say(
            "A drop on the refractometer, a strip for the pH. Water left in the coil has thinned it: exchange, run, read again."
        ),
        say("The frost point stands at or below the plan's, the pH as the maker says."),
        job.valves(opened="vessel between"),
        (
            Target("Frost point", Quantity(job.charge.frost_point, "temperature", 1), "frost_point"),
            Target("Glycol", Quantity(job.design.glycol_share, "share")),
            *job.target("exchange", "Exchange now"),
        ),
        gauge=job.setting.fill if job.setting else None,
    )


def _after_weeks(job: Job) -> Step:
    fill = job.setting.fill if job.setting else None
    return Step(
        "weeks",
        "After some weeks",
        say("In the diary today, for two to four weeks on. A cool morning, the loop at rest."),
        say("Bleed, read the pressure, top up with the mix, never with water unless it is logged."),
        say("Falling by steps is air that came out. Falling evenly is a leak: look for it, do not top it up."),
        job.valves(opened="vessel between"),
        job.target("fill", "Cold gauge"),
        gauge=fill,
    )


def direct_steps(job: Job) -> tuple[Step, ...]:
    """The steps of a direct loop: the drinking water itself runs through the collectors."""
    look, settings = inspect_step(job), settings_step(job)
    main = job.design.main_gauge_pa
    return (
        replace(look, valves=direct_valves("")),
        *direct_filling(job),
        _direct_run(job),
        replace(settings, valves=direct_valves("main"), gauge=main),
        Step(
            "weeks",
            "After some weeks",
            say("In the diary today, for two to four weeks on."),
            say("Vent the top, look for white crust at joints and valves, read the tempering valve again."),
            say("No air, no crust, the tap as it was set."),
            direct_valves("main"),
            (Target("Cold main", Quantity(main, "pressure")),),
            gauge=main,
        ),
    )


def direct_valves(opened: str) -> dict[str, bool]:
    """The valves of a loop that the main fills; `opened` lists the open ones."""
    return {name: name in opened.split() for name in ("main", "outlet", "vent")}


def direct_filling(job: Job) -> tuple[Step, Step, Step]:
    """Flushing, testing and filling a loop with the main's own water."""
    main = job.design.main_gauge_pa
    return (
        Step(
            "flush",
            "Flush",
            say("Drinking water will run here: only clean hoses, nothing that tastes."),
            say("Drain open before the main. To a drain till clear."),
            say("Clear, without chips, for a whole turn."),
            direct_valves("main outlet vent"),
            (*job.target("contents", "One turn"), *job.target("colour_time", "One turn takes")),
            (job.seconds("colour_time") or 0.0) * 3,
            _steam(),
        ),
        Step(
            "test",
            "Pressure test",
            say("Nothing in the loop that stands less than the test."),
            say("With water, by a hand pump: up in seconds, supply shut at once. Dry every joint and look again."),
            say("The needle stands while the temperature stands."),
            direct_valves(""),
            job.target("test_pressure", "Test at"),
            TEST_S,
            gauge=test_pressure(job.design),
        ),
        Step(
            "fill",
            "Fill from the main",
            say("Vent on top open, relief of the store free."),
            say("Main open slowly, till the vent gives water and no air; then shut the vent."),
            say("No bubble at the vent, the gauge at the pressure of the main."),
            direct_valves("main vent"),
            (Target("Cold main", Quantity(main, "pressure")), *job.target("contents", "Loop takes")),
            job.seconds("colour_time"),
            gauge=main,
        ),
    )


def _direct_run(job: Job) -> Step:
    return Step(
        "run",
        "Run it by hand",
        say("Tempering valve fitted and set, a thermometer at a tap."),
        say("Pump at the speed of the plan; listen on top for air, vent again."),
        say("The flow is read, the store's hot port warms after the time reckoned, no tap is hotter than set."),
        direct_valves("main"),
        (*job.target("flow", "Flow"), *_balance(job), *job.target("arrival", "Heat arrives after")),
        HAND_S,
        say("Water above {t} scalds: test the tap before anybody else does.", t=Quantity(50.0, "temperature")),
        job.design.main_gauge_pa,
    )
