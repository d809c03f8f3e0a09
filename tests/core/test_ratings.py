"""Every pressure against the weakest part, for every kind of loop; each finding fires, and its cures end it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import COLLECTORS, PIPES
from rowan.core.goods.ratings import BAR, RELIEFS_PA, pipe_stands
from rowan.core.reckon import reckon
from rowan.core.steps.charge.ratings import SEEPS_SHARE, rated_parts, weakest_part
from rowan.core.steps.charge.ratings import test_pressure as pressure_of_test
from rowan.core.terms.finding import Change, Finding
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered, plan_b

KEYS = ("relief_over_rating", "main_over_rating", "main_over_relief", "loop_over_rating")


def found(design: Design) -> dict[str, Finding]:
    """What presses too hard."""
    return {f.key: f for f in reckon(design).findings if f.key in KEYS}


def with_mats(design: Design, **more: object) -> Design:
    """The plan with mats that stand 2 bar."""
    return altered(design, collector__item=COLLECTORS["Mat unglazed"], **more)


@pytest.mark.parametrize(
    ("name", "temperature", "bar"),
    [
        ("Copper 28 × 1", 80, 16),
        ("Copper 35 × 1.2", 80, 10),
        ("Corrugated DN 16", 80, 10),
        ("Steel ¾", 80, 16),
        ("Plastic 20 × 2", 20, 6),
        ("Plastic 20 × 2", 95, 2),
        ("Plastic 20 × 2", 57.5, 4),
    ],
)
def test_pipes_stand_what_the_table_says(name: str, temperature: float, bar: float) -> None:
    assert pipe_stands(PIPES[name], temperature) == pytest.approx(bar * BAR)


def test_the_maker_s_word_wins() -> None:
    pipe = PIPES["Copper 18 × 1"].model_copy(update={"rated_gauge_pa": 3e5})
    assert pipe_stands(pipe, 80) == 3e5
    assert "relief_over_rating" in found(altered(plan_b(), run__pipe=pipe))


@pytest.mark.parametrize("design", [plan_b(), sandreef(), corrim(), pipwater()])
def test_usual_loops_are_quiet(design: Design) -> None:
    assert found(design) == {}


def test_mats_on_the_main_are_stopped_and_each_cure_ends_its_own() -> None:
    """The main brings 3 bar to mats that stand 2; the relief opens at 6."""
    pool = with_mats(sandreef(), charge__mains_gauge_pa=300e3, charge__relief_gauge_pa=600e3)
    stops = found(pool)
    assert set(stops) == {"relief_over_rating", "main_over_rating"}
    assert all(finding.level == "stop" and finding.cures for finding in stops.values())
    for key, finding in stops.items():
        for cure in finding.cures:
            assert key not in found(changed(pool, cure.changes)), cure.label.text()
    both = changed(pool, stops["relief_over_rating"].cures[0].changes)
    assert found(both) == {}
    assert both.main_gauge_pa <= SEEPS_SHARE * both.charge.relief_gauge_pa.value <= SEEPS_SHARE * 2e5


def test_a_draining_loop_s_own_pump_is_held_against_its_mats() -> None:
    """A pump of 9 m and a column of 6 are 1.5 bar: mats of 2 stand it, mats of 1.2 do not."""
    weak = COLLECTORS["Mat unglazed"].model_copy(update={"rated_gauge_pa": 1.2e5})
    assert found(with_mats(corrim())) == {}
    assert set(found(altered(corrim(), collector__item=weak))) == {"loop_over_rating"}


def test_a_main_that_keeps_the_relief_open_is_stopped() -> None:
    weeping = altered(sandreef(), charge__mains_gauge_pa=290e3, charge__relief_gauge_pa=300e3)
    finding = found(weeping)["main_over_relief"]
    assert "main_over_relief" not in found(changed(weeping, finding.cures[0].changes))


def test_a_sealed_loop_with_weak_collectors_is_stopped() -> None:
    assert "relief_over_rating" in found(with_mats(plan_b()))


def test_a_tall_house_gets_no_cure_that_leaves_its_top_dry() -> None:
    """Mats 18 m up: what holds the top would burst the foot, so nothing is offered."""
    tall = with_mats(sandreef(), charge__mains_gauge_pa=400e3, survey__gauge_to_top_m=18.0, survey__storeys=6)
    stops = found(tall)
    assert "main_over_rating" in stops
    assert stops["main_over_rating"].cures == ()


@given(
    main=st.floats(1e5, 10e5),
    relief=st.sampled_from(RELIEFS_PA),
    collector=st.sampled_from(sorted(COLLECTORS)),
    height=st.floats(3, 15),
)
def test_nothing_presses_harder_than_a_part_stands_unseen(
    main: float, relief: float, collector: str, height: float
) -> None:
    """Whatever main, relief, collector and height: it is found, or every part stands every pressure; and every cure cures."""
    design = altered(
        sandreef(),
        charge__mains_gauge_pa=main,
        charge__relief_gauge_pa=relief,
        survey__gauge_to_top_m=height,
        collector__item=COLLECTORS[collector],
    )
    stops = found(design)
    weakest = weakest_part(design).stands
    assert ("relief_over_rating" in stops) is (relief > weakest)
    assert ("main_over_rating" in stops) is (design.main_gauge_pa > weakest * (1 + 1e-9))
    for key, finding in stops.items():
        for cure in finding.cures:
            after = found(changed(design, cure.changes))
            assert key not in after
            assert set(after) <= set(stops), "no other pressure comes of it"


@given(collector=st.sampled_from(sorted(COLLECTORS)), stays=st.booleans())
def test_no_test_goes_over_the_weakest_part(collector: str, stays: bool) -> None:
    design = altered(plan_b(), collector__item=COLLECTORS[collector], commission__relief_stays=stays)
    tested = [part.stands for part in rated_parts(design) if part.part != "vessel"]
    assert pressure_of_test(design) <= min(tested)


def parts(design: Design) -> set[str]:
    """What is on the list."""
    return {part.key for part in reckon(design).parts.parts}


def test_a_loop_on_the_main_gets_its_relief_and_its_reducing_valve() -> None:
    assert {"loop_relief", "loop_gauge"} <= parts(sandreef())
    assert "reducer" not in parts(sandreef())
    assert "reducer" in parts(altered(sandreef(), charge__reducer_gauge_pa=150e3))
    assert not {"loop_relief", "reducer"} & (parts(plan_b()) | parts(corrim()))


def test_a_station_stands_the_usual_until_its_data_sheet_is_read() -> None:
    guessed = changed(plan_b(), [Change("commission.weakest_gauge_pa", 1.0e6, "assumed")])
    assert min(part.stands for part in rated_parts(guessed) if part.name == "solar station") == 6 * BAR
    read = changed(plan_b(), [Change("commission.weakest_gauge_pa", 1.0e6, "data sheet")])
    assert min(part.stands for part in rated_parts(read) if part.name == "solar station") == 10 * BAR


def test_a_test_that_no_pump_there_reaches_brings_a_hand_pump() -> None:
    """5.4 bar of test: a filling pump of 4 bar does not reach it, one of 6 does."""
    assert "hand_pump" in parts(altered(plan_b(), charge__filling_gauge_pa=400e3))
    assert "hand_pump" not in parts(altered(plan_b(), charge__filling_gauge_pa=600e3))
    assert "hand_pump" in parts(sandreef()), "the main brings 3 bar, the test 5.4"


def test_a_thermosiphon_buys_no_pump_and_no_controller() -> None:
    siphon = parts(altered(sandreef(), charge__kind="thermosiphon"))
    assert not {"pump", "non_return", "controller", "sensors", "cable"} & siphon
    assert {"pump", "controller", "sensors"} <= parts(sandreef())
