"""The order of commissioning of a sealed glycol loop: three kits, two ways to test with liquid and one with air.

A high-pressure station and a drill pump go round the loop from fill to drain; a garden sprayer only fills, both legs rising, and
air leaves on top. Source: site, valves A, B and C; practice 14.
"""

from __future__ import annotations

from rowan.core.steps.charge.pressures import TwoStage
from rowan.core.steps.charge.ratings import TEST_RELIEF_SHARE
from rowan.core.steps.charge.result import sealed_charge
from rowan.core.steps.commission.deviations import (
    FILL,
    FILL_CLOSE_PA,
    FILL_OVER_PA,
    FLUID,
    FLUSH,
    FLUSHES,
    LATE_SHARE,
    OPEN,
    PREPARE,
    PURGE,
    RAISE,
    RELEASE,
    RUN,
    SHARE_CLOSE,
    SHARE_STRONG,
    STAYS_CLOSE,
    TUB_SHARE,
    VESSEL,
)
from rowan.core.steps.commission.flow_proof import balance_targets, run_fields
from rowan.core.steps.commission.legality import Supply
from rowan.core.steps.commission.order import (
    HAND_S,
    WEEKS_RULES,
    Job,
    act,
    closing_step,
    inspect_step,
    pressure_test,
    provoked_step,
    raised_pressure,
    settings_step,
    steam,
    taps_step,
    weeks_fields,
)
from rowan.core.steps.commission.pressure_test import LEAST_ALLOWANCE_PA
from rowan.core.steps.commission.result import Field, Stage, Step, Target
from rowan.core.terms.figure import Quantity, say

REST_S = 300.0  # s of rest between rounds, till foam is a thin skin; site, valves 8 and 9
BURP_S = 300.0  # s between burps; site, valves 8
HOLD_S = 600.0  # s that a pressure is held; site, valves 9
ROUNDS = 5  # of pump and rest with a sprayer; site, valves 9
SPRAYER_OVER_STATIC_PA = 50e3  # Pa the sprayer brings over the column; site, valves 8


# in the order in which they fill, from the fill port round to the drain
STAGES = (
    Stage("up the cold line", "plan_cold_line / fill_flow"),
    Stage("through the field", "(plan_cold_line + plan_field) / fill_flow"),
    Stage("down the hot line", "(plan_cold_line + plan_field + plan_hot_line) / fill_flow"),
    Stage("through the coil", "colour_due"),
)


def sealed_steps(job: Job) -> tuple[Step, ...]:
    """The steps of a sealed glycol loop; the vessel's are left out while no pressure can be set."""
    sprayer = job.design.commission.kit.value == "sprayer"
    wet = [_flush(job), pressure_test(job), _release(job)]
    filled = [_prepare(job), _fill(job), _rounds(job) if sprayer else _purge(job)]
    steps = [inspect_step(job), *([_precharge(job)] if job.setting else [])]
    match job.medium:
        case "water":
            steps += [*wet, *filled]
        case "air":
            steps += [pressure_test(job), _let_air_out(job), *filled]
        case "mix":
            steps += [*filled, *([] if sprayer else [_shut_for_test(job)]), pressure_test(job)]
    if job.setting is not None:
        steps += [_raise(job), _open(job)]
    steps += [
        _run_by_hand(job),
        settings_step(job),
        _fluid(job),
        *taps_step(job),
        provoked_step(job),
        closing_step(job),
    ]
    return (*steps, _after_weeks(job))


def kit_supply(job: Job) -> Supply:
    """What the kit brings; a sprayer gives a litre or two a minute, which carries no bubble down a pipe."""
    return Supply(job.design.charge.filling_gauge_pa.value, carries_air=job.design.commission.kit.value != "sprayer")


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
        say("The gauge stands at the charge, and still does after ten minutes; the pin is dry."),
        targets,
        600.0,
        acts=(act("dry"),),
        hand="the same gauge, hand pump, valve key",
        fields=(
            Field("vessel_found", "as it came", "pressure", needed=False, level=""),
            Field(
                "vessel_set",
                "set to",
                "pressure",
                f"plan_precharge - {LEAST_ALLOWANCE_PA:g}",
                f"plan_precharge + {LEAST_ALLOWANCE_PA:g}",
                "plan_precharge",
            ),
            Field(
                "vessel_after",
                "after ten minutes",
                "pressure",
                f"vessel_set - {LEAST_ALLOWANCE_PA:g}",
                expected="vessel_set",
                level="",
            ),
            Field("pin_dry", "the pin is dry: liquid there is a burst membrane"),
        ),
        rules=VESSEL,
    )


def _flush(job: Job) -> Step:
    return Step(
        "flush",
        "Flush",
        say("No frost, unless the mix follows at once: what cannot drain cannot be blown dry."),
        say(
            "Drain open before the fill, from the main through a check against backflow. Clear hose to a drain, never into the mixing tub."
        ),
        say("No bubble, no flux, no chip in the clear hose for a whole turn."),
        (*job.target("contents", "One turn"), *job.target("colour_time", "One turn takes")),
        (job.seconds("colour_time") or 0.0) * 3,
        steam(),
        acts=(act("flush", "vent open, outlet open, source on, supply open"),),
        closing=(act("flush", "vent shut, supply shut, source off, outlet shut"),),
        supply=Supply(job.design.charge.mains_gauge_pa.value),
        hand="clear hose, backflow device, bucket with marks",
        fields=(
            Field("flush_out", "run through", "volume", f"{FLUSHES:g} * plan_contents", level=""),
            Field("flush_clear", "clear for a whole turn"),
        ),
        rules=FLUSH,
    )


def _release(job: Job) -> Step:
    held = job.charge.contents
    return Step(
        "release",
        "Let the water out",
        say("Supply shut and its hose off."),
        say(
            "Fill port first, then the highest point, the drain and the valve between the ports; check valves held half open."
        ),
        say("What comes out is measured: what is missing stays in the coil and thins the mix."),
        (
            Target("Loop holds", Quantity(held.total, "volume"), "contents"),
            Target("of it in the coil", Quantity(held.coil, "volume")),
        ),
        acts=(act("release", "supply open, vent open, outlet open, between open"),),
        hand="cans with marks",
        fields=(
            Field(
                "release_out",
                "came out",
                "volume",
                f"plan_contents - plan_stays - {STAYS_CLOSE}",
                expected="plan_contents - plan_stays",
                level="",
            ),
        ),
        rules=RELEASE,
    )


def _let_air_out(job: Job) -> Step:
    return Step(
        "release",
        "Let the air out",
        say("Compressor off and its hose off. Nobody's face over a port."),
        say("Fill port opened a little at a time, then the vent and the drain."),
        say("The gauge at nought before anything is loosened."),
        acts=(act("release", "supply open, vent open, outlet open"),),
        fields=(Field("released", "gauge at nought"),),
    )


def _prepare(job: Job) -> Step:
    charge = sealed_charge(job.charge)
    sprayer = job.design.commission.kit.value == "sprayer"
    opened = "vessel shut, between open, vent open" if sprayer else "between shut, vent open"
    hoses = (
        say("Sprayer new, never one that held poison. Into its tank, pumped up; two people, one on top.")
        if sprayer
        else say(
            "Suction low in the tub on one side, return on the other, hoses weighted under the surface. Kit timed: five litres into a bucket."
        )
    )
    return Step(
        "prepare",
        "Mix and hoses",
        say("All of it mixed at once: what is topped up later from a can is never of one strength."),
        hoses,
        say("The refractometer, on its propylene scale and zeroed in water, shows what is to be filled in."),
        (*job.target("prepare", "Mix ready"), Target("Mixed to", Quantity(charge.tub.fill, "share_fine"))),
        caution=say("Goggles and gloves. Every litre caught in a can and labelled, none into a drain."),
        acts=(act("dry", f"check working, supply shut, outlet shut, {opened}"),),
        hand="two tubs, refractometer, drops of distilled water, towel",
        fields=(
            Field("mix_ready", "ready in the tub", "volume", "plan_prepare - 0.0005", expected="plan_prepare"),
            Field("tub_share", "refractometer, in the tub", "share_fine", f"plan_tub_share - {SHARE_CLOSE}", f"plan_tub_share + {SHARE_STRONG}", "plan_tub_share", level=""),
            Field("bucket_s", "five litres into the bucket took", "time", "1", needed=not sprayer, clock=True),
        ),
        rules=PREPARE,
    )  # fmt: skip


def _fill(job: Job) -> Step:
    sprayer = job.design.commission.kit.value == "sprayer"
    drill = job.design.commission.kit.value == "drill"
    tub = Field(
        "tub_fell",
        "the tub fell",
        "level",
        f"{1 - TUB_SHARE} * tub_due",
        f"{1 + TUB_SHARE} * tub_due",
        "tub_due",
        level="",
    )
    if sprayer:
        return Step(
            "fill",
            "Fill from below",
            say("Fill shut at each reload, or it runs back out."),
            say("Both legs rise at once; loads counted, a tenth of a bar for each metre of column. The one on top calls when liquid comes."),
            say("The litres reckoned are in, and the vent runs."),
            (*job.target("contents", "Loop takes"),),
            acts=(act("fill", "vent open, source on, supply open"),),
            supply=kit_supply(job),
            fields=(
                Field("filled_in", "gone in, loads times litres", "volume", f"plan_contents - plan_stays - {STAYS_CLOSE}", "plan_contents + 0.002", "plan_contents"),
            ),
        )  # fmt: skip
    return Step(
        "fill",
        "Fill",
        say("Field below {t} still. The watch starts when the fill opens.", t=Quantity(50.0, "temperature")),
        say("First liquid back is old water: into the second tub till the colour turns, then back to the first.{case}", case=" Fill shut before every stop of the drill." if drill else ""),
        say("The colour is back after the time reckoned, and the tub has fallen by what the loop holds."),
        (
            *job.target("colour_time", "Colour turns after"),
            *job.target("tub_falls", "Tub falls"),
            Target("Gauge, liquid on top", Quantity(job.charge.static, "pressure")),
        ),
        job.seconds("colour_time"),
        steam(),
        acts=(act("fill", "vent open, outlet open, source on, supply open"),),
        supply=kit_supply(job),
        hand="watch, rule in the tub, second tub",
        stages=STAGES,
        fields=(Field("colour_s", "colour back after", "time", "plan_front * colour_due", f"{LATE_SHARE} * colour_due", "colour_due", clock=True, level=""), tub),
        rules=FILL,
    )  # fmt: skip


def _purge(job: Job) -> Step:
    return Step(
        "purge",
        "Purge",
        say("Air goes out turn by turn; foam wants a rest till a thin skin is left, four or five rounds."),
        say(
            "Vent shut at liquid. Non-return half open for ten seconds fills the pump's cavity, the valve between cracked for thirty its own. "
            "Every five minutes the drain shut, pressure let rise, opened at once."
        ),
        say("The turns are done, and five minutes without a bubble at the end."),
        (*job.target("purge_time", "At least"), *job.target("purge_speed", "Speed in the pipe")),
        job.seconds("purge_time"),
        say("Never out of sight of the gauge while the drain is shut: well below the relief."),
        rest=REST_S,
        bells=tuple(BURP_S * n for n in range(1, int((job.seconds("purge_time") or 0.0) // BURP_S) + 1)),
        acts=(
            act("fill", "vent shut, check half, check working, between half, between shut"),
            act("raise", "outlet shut"),
            act("fill", "outlet open"),
        ),
        supply=kit_supply(job),
        fields=(
            Field("purge_s", "pumped", "minutes", "plan_turns * colour_due", level="", clock=True),
            Field("purge_rounds", "rounds with a rest", "count", low="1"),
            Field("no_bubble", "five minutes without a bubble"),
        ),
        rules=PURGE,
    )


def _rounds(job: Job) -> Step:
    over = Quantity(job.charge.static + SPRAYER_OVER_STATIC_PA, "pressure")
    return Step(
        "purge",
        "Rounds by its own pump",
        say("A sprayer fills and never purges: the loop's pump has to carry the air, pump on a minute, off five."),
        say(
            "Vent shut when it runs clear; up to {p}, fill shut. Then five rounds; vent cracked only with the pump off; each top-up is less.",
            p=over,
        ),
        say("The last top-up is a spoonful, the flow is the plan's."),
        (Target("Gauge between rounds", over),),
        caution=say("The pump never runs dry: it starts when the gauge says that liquid is above it."),
        acts=(
            act("raise", "vent shut, supply shut, source off"),
            act("fill", "pump on, pump off, vent open, vent shut"),
        ),
        supply=kit_supply(job),
        hand="somebody at the vent",
        rest=REST_S,
        fields=(
            Field("purge_rounds", "rounds", "count", low=str(ROUNDS), expected=str(ROUNDS)),
            Field("top_first", "first top-up", "volume", level=""),
            Field("top_last", "last top-up", "volume", high="0.3 * top_first + 0.0001"),
        ),
    )


def _shut_for_test(job: Job) -> Step:
    """Between purging and a test with the mix: pump away, loop shut."""
    return Step(
        "shut",
        "Shut the loop",
        say("The test is with what is in it now."),
        say("Drain shut, fill shut, pump off, hand test pump on the fill port."),
        say("Both ports shut."),
        acts=(act("raise", "outlet shut, supply shut, source off"),),
        supply=kit_supply(job),
        fields=(Field("ports_shut", "both ports shut"),),
    )


def _raise(job: Job) -> Step:
    assert job.setting is not None  # noqa: S101  only then is this step made
    stage = sealed_charge(job.charge).two_stage
    raised = raised_pressure(job.design, job.setting.fill)
    if stage is not None and stage.needed:
        raised = job.design.charge.filling_gauge_pa.value
    return Step(
        "raise",
        "Raise and hold",
        say("The vessel still shut off: what goes in now is air pressed together, and says how much."),
        say(
            "Non-return working again, drain shut, up to {p}, fill shut. Read what goes in.",
            p=Quantity(raised, "pressure"),
        ),
        say("It holds for ten minutes."),
        (Target("Raise to", Quantity(raised, "pressure")),),
        HOLD_S,
        say("Never more than a bar below the relief."),
        raised,
        acts=(
            act("fill", "check working"),
            act("raise", "outlet shut, source on, supply open, supply shut, source off"),
        ),
        supply=kit_supply(job),
        hand="measuring cup",
        fields=(
            Field("raise_before", "before", "pressure", level=""),
            Field("raise_litres", "gone in", "volume", "0"),
            Field(
                "raise_peak", "raised to", "pressure", high=f"plan_relief * {TEST_RELIEF_SHARE}", expected="plan_raise"
            ),
            Field(
                "raise_after",
                "after ten minutes",
                "pressure",
                "raise_peak - allowance_air",
                expected="raise_peak",
                level="",
            ),
        ),
        rules=RAISE,
    )


def _open(job: Job) -> Step:
    assert job.setting is not None  # noqa: S101  only then is this step made
    stage = sealed_charge(job.charge).two_stage
    if stage is not None and stage.needed:
        return _open_with_gas(job, stage)
    has = job.design.commission.vessel_valve.value
    return Step(
        "open",
        "Open the vessel",
        say("Its hose bled first: a pocket in it is a vessel that answers late.")
        if has
        else say("This vessel cannot be shut: it has filled with the loop."),
        say("Opened slowly. Shut, raise, open, read, till a little above the fill; let down at the drain to the value.")
        if has
        else say("Raise to a little above the fill, let down at the drain to the value."),
        say("The gauge stands at the cold fill with the vessel open. The litres that went in say what its charge is."),
        job.target("fill", "Cold fill"),
        None,
        say("Never more than a bar below the relief."),
        job.setting.fill,
        acts=(act("raise", "vessel open, source on, supply open, supply shut, source off, outlet half, outlet shut"),),
        supply=kit_supply(job),
        fields=(
            Field("hose_bled", "its hose bled", needed=has),
            Field("open_litres", "gone into the vessel", "volume", expected="plan_share", level="", needed=has),
            Field(
                "open_fill",
                "gauge, vessel open",
                "pressure",
                f"plan_fill - {FILL_CLOSE_PA:g}",
                f"plan_fill + {FILL_OVER_PA:g}",
                "plan_fill",
            ),
            Field("open_c", "at the gauge", "temperature", level="", needed=False),
        ),
        rules=OPEN,
    )


def _open_with_gas(job: Job, stage: TwoStage) -> Step:
    """The second stage of a charge for a pump that does not reach the fill pressure."""
    assert job.setting is not None  # noqa: S101  only then is this step made
    return Step(
        "open",
        "Bring it to pressure with gas",
        say("The vessel open, vent and drain shut."),
        say(
            "Fill till the pump gives no more, {p}: {v} are in the vessel then. Shut the fill. Pump gas in at the vessel's valve till the gauge stands at the fill.",
            p=Quantity(job.design.charge.filling_gauge_pa.value, "pressure"),
            v=Quantity(stage.liquid, "volume"),
        ),
        say("The gauge stands at the cold fill."),
        (
            Target("Pump brings it to", Quantity(job.design.charge.filling_gauge_pa.value, "pressure")),
            *job.target("fill", "Gas brings it to"),
        ),
        None,
        say("Gas and liquid now share the pressure: the vessel's charge cannot be read any more without emptying it."),
        job.setting.fill,
        acts=(act("raise", "vessel open, source on, supply open, supply shut, source off"),),
        supply=kit_supply(job),
        hand="hand pump for gas, the same gauge",
        fields=(
            Field("stage_first", "by the pump", "pressure", level=""),
            Field(
                "open_fill",
                "by the gas",
                "pressure",
                f"plan_fill - {FILL_CLOSE_PA:g}",
                f"plan_fill + {FILL_OVER_PA:g}",
                "plan_fill",
            ),
        ),
    )


def _run_by_hand(job: Job) -> Step:
    separator = "Separator opened till it drips steadily. " if job.design.run.separator.value else ""
    between = (
        "Valve between the ports to its setting: it is the flow setter here. "
        if job.design.commission.between_sets.value
        else "The valve between the ports open again. "
    )
    return Step(
        "run",
        "Run it by hand",
        say("Vessel valve open and secured, hoses still in reach, cover off."),
        say(
            "{between}{separator}Pump's own screw first, slow before fast, then full speed for twenty minutes; bleed, correct the pressure; then the speed of the plan.",
            between=between,
            separator=separator,
        ),
        say("The flow is read, and the store's hot port warms after the time reckoned. The hum proves nothing."),
        (*job.target("flow", "Flow"), *balance_targets(job), *job.target("arrival", "Heat arrives after")),
        HAND_S,
        gauge=job.setting.fill if job.setting else None,
        acts=(act("run", "between open, pump on"),),
        closing=(act("rest", "pump off"),),
        hand="thermometer at the store, watch",
        fields=(
            Field("between_open", "valve between the ports open"),
            *([Field("separator_drips", "separator: a steady drop")] if separator else []),
            *run_fields(job),
        ),
        rules=RUN,
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
        (
            Target("Frost point", Quantity(job.charge.frost_point, "temperature", 1), "frost_point"),
            Target("Glycol", Quantity(job.design.glycol_share, "share")),
            *job.target("exchange", "Exchange now"),
        ),
        gauge=job.setting.fill if job.setting else None,
        acts=(act("rest"),),
        hand="refractometer on its propylene scale, pH strips",
        fields=(
            Field("frost_c", "frost point", "temperature_fine", high="plan_frost + 0.5", expected="plan_frost"),
            Field(
                "fluid_share",
                "glycol by the refractometer",
                "share_fine",
                expected="plan_share_wanted",
                needed=False,
                level="",
            ),
            Field("fluid_ph", "pH", "ph", "plan_ph"),
        ),
        rules=FLUID,
    )


def _after_weeks(job: Job) -> Step:
    return Step(
        "weeks",
        "After some weeks",
        say("In the diary today, for two to four weeks on. Before sunrise or on a cool morning, pump off."),
        say("Bleed, read the pressure, top up with the mix, never with water unless it is logged."),
        say("Falling by steps is air that came out. Falling evenly is a leak: look for it, do not top it up."),
        job.target("fill", "Cold gauge"),
        gauge=job.setting.fill if job.setting else None,
        acts=(act("rest"),),
        fields=weeks_fields() if job.setting else (Field("weeks_bled", "bled at the top"),),
        rules=WEEKS_RULES,
    )
