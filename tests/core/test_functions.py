"""Functions of the controller: as inputs, on the day and in the year, and where they do not go together."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.appraise.appraisal import appraise
from rowan.core.appraise.calming import ways
from rowan.core.appraise.hunting import Starts, starts_of
from rowan.core.design.changes import assumed, changed, inputs
from rowan.core.design.design import Design
from rowan.core.design.inputs.functions import ONLY_WITH, BackupWindow, FunctionInputs, matters
from rowan.core.design.inputs.hours import clock_minute
from rowan.core.reckon import reckon
from rowan.core.simulation.day import Day, cloud_pattern
from rowan.core.simulation.from_design import tank_of
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.switching import (
    away,
    cooling_days,
    heating_days,
    heating_minutes,
    more_of,
    ring_times,
)
from rowan.core.simulation.system import NEVER_C
from rowan.core.steps.control.conflicts import KEYS, conflicts
from rowan.core.studies.choices import with_kind
from rowan.core.studies.pairs import weights_of
from rowan.core.studies.trials import battery_preset, calming_trials, function_trials, sensor_trials
from rowan.core.terms.errors import JobFileError, TypedNumberError
from rowan.core.terms.finding import Change
from tests.core.designs import altered, plan_a, plan_b

KWH = 3.6e6


def day_of(design: Design, kind: str = "broken") -> Day:
    made = made_ready(design, reckon(design), Lens(kind, usual_day(design)))  # type: ignore[arg-type]
    return race_day(made, start=design.control.start_k.value, stop=design.control.stop_k.value)


def windows(*rows: tuple[str, str, float, float]) -> list[BackupWindow]:
    return [
        BackupWindow(id=f"w{n}", starts=start, ends=end, on_c=on, off_c=off)
        for n, (start, end, on, off) in enumerate(rows, 1)
    ]


# inputs


@pytest.mark.parametrize(
    ("text", "minute"), [("4:30", 270), ("16", 960), ("0:00", 0), ("24:00", 1440), (" 7.15 ", 435)]
)
def test_a_time_of_day_is_read(text: str, minute: int) -> None:
    assert clock_minute(text) == minute


@pytest.mark.parametrize("text", ["", "noon", "25:00", "7:60", "4:30-6:30", "24:01"])
def test_what_is_no_time_is_refused(text: str) -> None:
    with pytest.raises(TypedNumberError):
        clock_minute(text)
    with pytest.raises(JobFileError):
        changed(
            altered(plan_b(), functions__windows=windows(("4:30", "6:30", 40, 50))),
            [Change("functions.windows.w1.starts", text)],
        )


def test_a_window_fires_unless_its_times_or_temperatures_meet() -> None:
    one, two, three = windows(("4:30", "6:30", 40, 50), ("6:00", "6:00", 40, 50), ("7:00", "8:00", 50, 50))
    assert one.fires
    assert not two.fires
    assert not three.fires


def test_a_window_stands_once_in_the_list() -> None:
    twice = [BackupWindow(id="w1"), BackupWindow(id="w1")]
    with pytest.raises(JobFileError, match="w1"):
        altered(plan_b(), functions__windows=twice)


def test_settings_of_functions_that_are_off_are_no_guess() -> None:
    off = changed(plan_b(), [Change("functions.cooling_c", 100.0, "assumed")])
    assert "functions.cooling_c" not in {found.path for found in assumed(off)}
    on = changed(off, [Change("functions.cooling", True)])
    assert "functions.cooling_c" in {found.path for found in assumed(on)}


def test_every_setting_of_a_function_names_a_switch_that_there_is() -> None:
    held = FunctionInputs()
    for name, (switch, states) in ONLY_WITH.items():
        assert not matters(held, name)
        assert hasattr(held, switch)
        assert all(state != getattr(held, switch).value for state in states)
    paths = {found.path for found in inputs(plan_b())}
    assert {f"functions.{name}" for name in ONLY_WITH} <= paths


# minutes and days


def test_without_windows_the_usual_hours_heat_to_the_usual_temperature() -> None:
    start, stop = heating_minutes(altered(plan_b(), store__backup_hours="4:30-6:30"), 60.0)
    assert stop[270] == 60.0
    assert start[270] == 55.0
    assert stop[269] == stop[390] == NEVER_C


def test_windows_have_their_own_temperatures_and_the_warmer_one_counts() -> None:
    design = altered(
        plan_b(),
        functions__windows=windows(
            ("4:00", "6:00", 35, 45), ("5:00", "7:00", 50, 60), ("23:00", "1:00", 30, 40), ("9:00", "9:00", 30, 40)
        ),
    )
    start, stop = heating_minutes(design, 60.0)
    assert (start[250], stop[250]) == (35, 45)
    assert (start[330], stop[330]) == (50, 60)
    assert stop[30] == stop[1400] == 40, "a window may go over midnight"
    assert stop[540] == NEVER_C, "what ends when it begins never fires"


@given(ahead=st.integers(-720, 720))
def test_a_clock_that_is_ahead_brings_every_window_forward(ahead: int) -> None:
    right = altered(plan_b(), functions__windows=windows(("4:00", "6:00", 35, 45)))
    wrong = altered(right, functions__clock_ahead_s=60.0 * ahead)
    _, stop = heating_minutes(right, 60.0)
    _, shifted = heating_minutes(wrong, 60.0)
    assert np.array_equal(np.roll(shifted, ahead), stop)
    assert (shifted > NEVER_C).sum() == 120


def test_a_boost_heats_outside_the_hours_then_ends_by_itself() -> None:
    evening = altered(plan_b(), store__backup_hours="20:00-21:00")
    pressed = altered(evening, functions__boost_at="17:00", functions__boost_s=3600.0, functions__clock_ahead_s=3600.0)
    start, stop = heating_minutes(pressed, 60.0)
    assert stop[1019] == stop[1080] == NEVER_C
    assert stop[1020] == stop[1079] == 60.0
    assert start[1020] == 55.0
    assert stop[1140] == 60.0, "the window goes by the wrong clock, the hand does not"
    plain, boosted = (simulate(d, reckon(d)) for d in (evening, altered(evening, functions__boost_at="5:00")))
    assert boosted.backup > plain.backup
    with pytest.raises(JobFileError):
        altered(evening, functions__boost_at="soon")


def test_days_and_minutes_on_which_functions_may() -> None:
    plain = plan_b()
    assert heating_days(plain) is None
    assert cooling_days(plain) is None
    assert ring_times(plain) is None
    gone = altered(plain, duty__away="1-14 Jul", functions__holiday=True, functions__night="away", functions__ring=True)
    assert away(gone).sum() == 14
    rests = heating_days(gone)
    assert rests is not None
    assert rests.sum() == 365 - 14
    cools = cooling_days(gone)
    assert cools is not None
    assert cools.sum() == 14
    ring = ring_times(altered(gone, functions__ring_hours="6:00-7:00"))
    assert ring is not None
    assert ring.sum() == 60


def test_nothing_on_is_nothing_more() -> None:
    design = altered(plan_b(), functions__least_run_s=0.0)
    assert more_of(design, tank_of(design, reckon(design))) is None
    frost = altered(design, functions__second_frost=True)
    assert more_of(frost, tank_of(frost, reckon(frost))) is None, "a second level without a first does nothing"


# on the day and in the year


def quiet() -> Design:
    return altered(plan_b(), functions__least_run_s=0.0)


def test_a_least_run_and_a_following_speed_calm_the_pump() -> None:
    plain = day_of(quiet())
    longer = day_of(altered(quiet(), functions__least_run_s=300.0))
    follows = day_of(altered(quiet(), functions__speed="chopped"))
    assert longer.starts < plain.starts
    assert follows.starts < plain.starts
    assert follows.total("electric") < 0.4 * plain.total("electric"), "power goes with the cube of the speed"


def test_a_strapped_sensor_starts_late_and_often() -> None:
    rows = {trial.key: day_of(changed(quiet(), trial.changes)) for trial in sensor_trials(quiet())}
    assert rows["bare"].total("coil") < rows["strapped"].total("coil") < rows["right"].total("coil")
    assert rows["high"].total("electric") > rows["right"].total("electric") > rows["low"].total("electric")
    assert rows["right"].total("coil") == day_of(quiet()).total("coil")


@pytest.mark.parametrize(
    ("values", "name", "more"),
    [
        ({"functions__night": "always"}, "wasted", True),
        ({"control__frost": True}, "frost", True),
        ({"functions__ring": True}, "ring", True),
        ({"store__hygiene": "weekly"}, "backup", True),
        ({"functions__exercise_s": 60.0}, "pump_time", True),
        ({"functions__battery": True, "functions__battery_wh": 60.0}, "pump_time", False),
        ({"functions__strapped_share": 0.2}, "coil", False),
        ({"functions__holiday": True, "duty__away": "1-28 Jul"}, "backup", False),
    ],
)
def test_a_function_moves_the_year_s_sums(values: dict[str, Any], name: str, more: bool) -> None:
    base = altered(quiet(), duty__away=values.get("duty__away", "never"))
    plain, moved = (simulate(d, reckon(d)) for d in (base, altered(quiet(), **values)))
    assert moved.residual < 1e-6
    assert (moved.total(name) > plain.total(name)) is more
    assert moved.total(name) != plain.total(name)


def test_cooling_and_dump_spare_the_field_where_it_stands_hot() -> None:
    hot = altered(
        quiet(),
        collector__count=8,
        collector__rows="8",
        functions__cooling_c=95.0,
        functions__dump_c=95.0,
        duty__away="1-28 Jul",
    )
    plain = simulate(hot, reckon(hot))
    assert plain.total("stagnation_time") > 0
    for switch in ({"functions__cooling": True}, {"functions__dump": "radiator"}):
        helped = altered(hot, **switch)
        year = simulate(helped, reckon(helped))
        assert year.total("stagnation_time") < plain.total("stagnation_time")
        assert year.residual < 1e-6


def test_windows_and_a_wrong_clock_move_the_year() -> None:
    early = altered(quiet(), functions__windows=windows(("4:00", "6:00", 40, 50)))
    right, wrong = (simulate(d, reckon(d)) for d in (early, altered(early, functions__clock_ahead_s=-8 * 3600.0)))
    assert right.backup != wrong.backup
    assert right.highest_store <= 95.0


def test_a_thermosiphon_has_no_function_of_a_controller() -> None:
    siphon = with_kind(quiet(), "thermosiphon")
    assert function_trials(siphon) == ()
    assert starts_of(siphon, reckon(siphon)) is None
    turned = altered(siphon, functions__night="always", functions__speed="chopped")
    assert simulate(turned, reckon(turned)).solar_heat == simulate(siphon, reckon(siphon)).solar_heat


@pytest.mark.parametrize("trial", function_trials(plan_b()), ids=lambda trial: trial.key)
def test_every_trial_turns_what_it_says(trial: Any) -> None:
    design = plan_b()
    turned = changed(design, trial.changes)
    assert turned != design
    back = {t.key: t for t in function_trials(turned)}
    if trial.key != "evening":
        assert back[trial.key].name != trial.name, "turned again it says the other way"


# what does not go together


def drain(**values: Any) -> Design:
    return altered(with_kind(plan_b(), "drainback"), **values)


def conflict_cases() -> list[tuple[str, Design]]:
    b = plan_b()
    direct = with_kind(b, "direct")
    electronic = b.run.pump.value.model_copy(update={"kind": "electronic"})
    tube = b.collector.item.value.model_copy(update={"kind": "tube"})
    return [
        ("frost_on_glycol", altered(b, control__frost=True)),
        ("frost_on_drainback", drain(control__frost=True)),
        (
            "frost_levels",
            altered(direct, control__frost=True, functions__second_frost=True, functions__second_frost_c=6.0),
        ),
        ("night_drainback", drain(functions__night="away")),
        ("night_tubes", altered(b, collector__item=tube, functions__night="away")),
        ("night_always", altered(b, functions__night="always")),
        ("cooling_late", altered(b, functions__cooling=True, functions__cooling_c=140.0)),
        ("dump_late", altered(b, functions__dump="pool", functions__dump_c=135.0)),
        ("cooling_drainback", drain(functions__cooling=True)),
        ("cooling_scalds", altered(b, functions__cooling=True, store__tempering_valve=False)),
        ("cut_out_early", altered(b, control__cut_out_c=90.0)),
        ("cut_out_over_boiling", altered(b, control__cut_out_c=140.0)),
        ("cut_out_direct_boils", altered(with_kind(b, "direct"), charge__mains_gauge_pa=130e3)),
        ("cut_out_open_boils", drain(control__cut_out_c=130.0)),
        ("chopped_mains", altered(b, run__pump=electronic, functions__speed="chopped")),
        ("no_signal", altered(b, functions__speed="signal")),
        ("slow_floor", altered(b, functions__speed="chopped", functions__speed_floor=0.2)),
        ("never_stops", altered(b, functions__field_offset_k=4.0)),
        ("timer_blind", altered(b, functions__timer=True)),
        ("timer_never", altered(b, functions__timer=True, functions__timer_from_h=18)),
        ("backup_before_sun", altered(b, store__backup_hours="5:00-9:00")),
        ("backup_before_sun", altered(b, functions__windows=windows(("4:00", "8:00", 50, 60)))),
        ("backup_before_sun", altered(b, functions__windows=windows(("7:00", "9:00", 40, 50)))),
        ("window_unused", altered(b, functions__windows=windows(("16:00", "20:00", 50, 60), ("9:00", "9:00", 40, 50)))),
        ("window_unused", altered(b, functions__windows=windows(("18:00", "20:00", 60, 50)))),
        ("clock_wrong", altered(b, store__backup_hours="16:00-20:00", functions__clock_ahead_s=3600.0)),
        ("hygiene_powerless", altered(b, store__backup="instant", store__hygiene="weekly")),
        ("ring_all_day", altered(b, functions__ring=True, functions__ring_hours="always")),
        ("battery_hunts", altered(b, functions__battery=True, functions__resume_v=11.7)),
    ]


@pytest.mark.parametrize(("key", "design"), conflict_cases(), ids=lambda part: part if isinstance(part, str) else "")
def test_a_conflict_is_found_and_every_cure_ends_it(key: str, design: Design) -> None:
    result = reckon(design)
    found = next((f for f in result.control.findings if f.key == key), None)
    assert found is not None
    assert found.cures, "what does not go together can be mended by a button"
    for cure in found.cures:
        after = reckon(changed(design, cure.changes))
        assert key not in {f.key for f in after.control.findings}, cure.label.text()


def test_every_conflict_has_a_case() -> None:
    assert {key for key, _ in conflict_cases()} == set(KEYS)


def test_a_plain_plan_has_none_but_its_cut_out() -> None:
    design = altered(quiet(), control__cut_out_c=120.0)
    result = reckon(design)
    assert conflicts(design, result.charge, result.run) == []


def test_an_early_modest_window_and_always_are_left_alone() -> None:
    for design in (altered(quiet(), functions__windows=windows(("4:00", "6:00", 40, 50))), quiet()):
        assert "backup_before_sun" not in {f.key for f in reckon(design).control.findings}


def test_the_battery_preset_does_not_hunt_by_its_sag() -> None:
    for ohm in (0.05, 0.4, 1.5):
        base = altered(quiet(), functions__wire_ohm=ohm)
        design = changed(base, battery_preset(base, reckon(base).run))
        assert "battery_hunts" not in {f.key for f in reckon(design).control.findings}
        assert design.control.stop_k.value == 5.0, "three kelvins under the start"
        assert weights_of(design).electricity == 5.0


def test_weights_are_by_price_until_they_are_typed() -> None:
    by_price = weights_of(quiet())
    assert by_price.electricity == pytest.approx(
        0.28 / (quiet().money.fuel_price.value / quiet().money.heater_efficiency.value)
    )
    typed = weights_of(altered(quiet(), functions__electricity_weight=4.0, functions__start_worth_j=0.0))
    assert (typed.electricity, typed.start) == (4.0, 0.0)


# hunting by its starts


def test_hunting_is_graded_by_the_starts_that_no_sky_asks_for() -> None:
    restless, quick, calmed = altered(plan_a(), run__speed=3), plan_a(), plan_b()
    counted = [starts_of(d, reckon(d)) for d in (restless, quick, calmed)]
    needless = [found.needless for found in counted if found is not None]
    assert needless[0] > 20 >= needless[1] > 10 >= needless[2]
    levels = [
        [f.level for f in appraise(d, reckon(d), None).findings if f.key == "hunting"]
        for d in (restless, quick, calmed)
    ]
    assert levels == [["fix"], ["mind"], []]
    assert all(f.key != "hunting" for f in reckon(restless).findings), "without a run it is not known"


def test_a_start_each_time_the_sun_comes_back_is_no_hunting() -> None:
    assert Starts(clear=1, broken=19, returns=19).needless == 0
    assert Starts(clear=1, broken=40, returns=19).needless == 21
    assert Starts(clear=30, broken=19, returns=19).needless == 29


def test_the_sun_comes_back_as_often_as_the_pattern_says() -> None:
    found = starts_of(plan_b(), reckon(plan_b()))
    assert found is not None
    lit = cloud_pattern(106) > 0.5
    all_day = int(np.count_nonzero(np.diff(lit.astype(int)) == 1))
    assert 10 < found.returns < all_day


def test_what_keeps_the_rule_and_starts_often_is_minded() -> None:
    steady = altered(quiet(), control__start_k=9.0, control__stop_k=0.0, control__sensor_error_k=0.0)
    found = {f.key: f for f in appraise(steady, reckon(steady), None).findings}
    starts = starts_of(steady, reckon(steady))
    assert "hunting" not in found
    assert ("many_starts" in found) is (starts is not None and starts.needless > 20)


def test_what_would_calm_it_does() -> None:
    design = altered(plan_a(), functions__strapped_share=0.1)
    result = reckon(design)
    trials = calming_trials(design, result.run)
    assert [trial.key for trial in trials][:1] in (["slower"], ["follows"])
    assert {"follows", "least_run", "pocket", "wider"} <= {trial.key for trial in trials}
    before = starts_of(design, result)
    assert before is not None
    for trial in trials:
        tried = changed(design, trial.changes)
        after = starts_of(tried, reckon(tried))
        assert after is not None
        assert after.broken < before.broken, trial.name


@given(start=st.integers(5, 7), limit=st.integers(62, 80), spare=st.integers(0, 6))
def test_a_wider_start_keeps_the_cut_out_over_the_store(start: int, limit: int, spare: int) -> None:
    design = altered(
        plan_b(),
        control__start_k=float(start),
        store__maximum_c=float(limit),
        control__cut_out_c=float(limit + start + 15 + spare),
    )
    result = reckon(design)
    assert "cut_out_early" not in {f.key for f in result.findings}
    wider = ways(design, result.run)["wider"]
    assert wider
    for cure in wider:
        assert "cut_out_early" not in {f.key for f in reckon(changed(design, cure.changes)).findings}
