"""What is entered at the controller: in its order, with its reason, and nothing of what is off."""

from __future__ import annotations

from typing import Any

import pytest

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.functions import BackupWindow
from rowan.core.reckon import reckon
from rowan.core.steps.control.settings import controller_settings
from rowan.core.studies.choices import with_kind
from tests.core.designs import altered, plan_b


def paths(design: Design) -> list[str]:
    return [setting.path for setting in controller_settings(design, reckon(design).control)]


def plain() -> Design:
    return altered(plan_b(), functions__least_run_s=0.0)


ALWAYS = ["control.start_k", "control.stop_k", "control.least_collector_c", "store.maximum_c", "control.cut_out_c"]


def test_a_plain_plan_enters_its_pair_its_limits_hygiene_and_backup() -> None:
    assert paths(plain()) == [*ALWAYS, "store.hygiene", "store.backup_hours", "store.backup_c"]


@pytest.mark.parametrize(
    ("values", "more"),
    [
        ({"functions__speed": "chopped"}, {"functions.speed", "functions.speed_floor", "functions.speed_full_k"}),
        ({"functions__least_run_s": 300.0}, {"functions.least_run_s"}),
        ({"functions__exercise_s": 20.0}, {"functions.exercise_s"}),
        ({"functions__cooling": True}, {"functions.cooling_c", "functions.cooling_store_c"}),
        ({"functions__night": "away"}, {"functions.night", "functions.night_c"}),
        ({"functions__dump": "pool"}, {"functions.dump_c"}),
        ({"control__frost": True}, {"control.frost_c"}),
        ({"control__frost": True, "functions__second_frost": True}, {"control.frost_c", "functions.second_frost_c"}),
        ({"functions__holiday": True}, {"functions.holiday"}),
        ({"functions__ring": True}, {"functions.ring_hours", "functions.ring_return_c"}),
        ({"functions__battery": True}, {"functions.cut_v", "functions.resume_v"}),
        ({"functions__locked": True}, {"functions.locked"}),
        ({"store__backup": "element"}, {"functions.boost_s"}),
    ],
)
def test_what_acts_is_entered_and_nothing_else(values: dict[str, Any], more: set[str]) -> None:
    design = altered(plain(), **values)
    assert set(paths(design)) - set(paths(plain())) == more


def test_windows_take_the_place_of_the_usual_hours() -> None:
    windows = [BackupWindow(id="w1"), BackupWindow(id="w2", starts="9:00", ends="9:00")]
    design = altered(plain(), functions__windows=windows)
    found = {setting.path: setting for setting in controller_settings(design, reckon(design).control)}
    assert "store.backup_hours" not in found
    assert found["functions.windows.w1.off_c"].name == "Backup 4:30 to 6:30"
    assert found["functions.windows.w2.off_c"].name.endswith("unused")
    assert "45" in found["functions.windows.w1.off_c"].reason.text()


def test_a_drainback_says_when_it_must_not_fill() -> None:
    assert "control.refill_c" in paths(with_kind(plain(), "drainback"))


def test_every_setting_is_an_input_and_has_a_reason_in_both_systems() -> None:
    everything = altered(
        plain(),
        functions__speed="chopped",
        functions__cooling=True,
        functions__night="away",
        functions__ring=True,
        functions__battery=True,
        control__frost=True,
        functions__frost_run_s=300.0,
        functions__frost_pause_s=300.0,
    )
    for setting in controller_settings(everything, reckon(everything).control):
        assert locate(everything, setting.path).spec.label
        assert len(setting.reason.text("metric")) > 8
        assert "{" not in setting.reason.text("us")
