"""The page's drawings of pipe and standstill."""

from __future__ import annotations

from rowan.web.steps.charge.bench import BENCH as CHARGE
from rowan.web.steps.run.bench import BENCH as RUN
from tests.core.designs import altered, plan_b
from tests.core.thermosiphons import roof_tank
from tests.web.test_runs import finished, sheet


def test_three_answers_stand_side_by_side_and_the_plan_s_is_marked() -> None:
    text = finished("standstill", sheet(plan_b()))
    for words in (
        "hold boiling off",
        "let it boil",
        "dump the heat",
        "this plan",
        "steam reaches into the lines",
        "fails where",
    ):
        assert words in text
    assert "Let it boil" in text
    dumps = finished("standstill", sheet(altered(plan_b(), functions__dump="radiator", functions__dump_c=95.0)))
    assert dumps.count("this plan") == 1


def test_only_a_sealed_loop_is_asked_what_it_does_in_sun() -> None:
    assert [block.run for block in CHARGE.blocks(sheet(plan_b())) if block.run] == ["standstill"]
    assert not [block for block in CHARGE.blocks(sheet(roof_tank())) if block.run]


def test_the_run_is_priced_by_kind_of_pipe_over_its_length() -> None:
    block = next(block for block in RUN.blocks(sheet(plan_b())) if block.title == "What kind of pipe")
    assert block.drawing is not None
    text = block.drawing.svg()
    for words in ("straight lengths", "off the coil", "corrugated", "this run 43.0"):
        assert words in text
    assert not [block for block in RUN.blocks(sheet(roof_tank())) if block.title == "What kind of pipe"]
