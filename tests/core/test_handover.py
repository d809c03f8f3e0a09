"""What is handed over: the gauge by months against the vessel's own sums, modes that the valve graph allows, what each paper lacks."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.design import Design
from rowan.core.fluid import properties
from rowan.core.reckon import reckon
from rowan.core.records.handover import (
    HandoverFacts,
    discharge,
    hidden_legs,
    modes,
    normal_and_not,
    papers,
    safety_devices,
)
from rowan.core.records.house_look import SLACK_PA, Look, asked_of, gauge_months, judge_look
from rowan.core.steps.commission.legality import Supply, illegal
from rowan.core.steps.commission.loops import valve_graph
from rowan.core.studies.choices import with_kind
from tests.core.designs import plan_b, proposed

KINDS = ("sealed", "direct", "drainback", "thermosiphon")


def design_of(kind: str) -> Design:
    return plan_b() if kind == "sealed" else with_kind(proposed("aldersund-5-oil"), kind)


def test_the_gauge_of_a_month_is_what_the_gas_law_says_of_the_liquid_s_growth() -> None:
    """Worked anew from densities and Boyle, without the product's own vessel."""
    design = plan_b()
    result = reckon(design)
    charge = result.sealed
    assert charge.setting is not None
    air, vessel = charge.atmosphere, charge.vessel
    held = vessel * (1 - (charge.setting.precharge + air) / (charge.setting.fill + air))
    field = design.collector.item.value.contents_l * design.collector.count.value / 1000
    outside = sum(leg.contents for leg in result.run.route.legs() if leg.outdoors) + field
    share = design.glycol_share

    def grown(volume: float, at: float) -> float:
        return volume * (
            properties(volume_share=share, temperature=10.0).density
            / properties(volume_share=share, temperature=at).density
            - 1
        )

    for month in gauge_months(design, result):
        room = design.survey.room_c.value
        liquid = held + grown(outside, month.dawn_c) + grown(charge.contents.total - outside, room)
        gauge = (charge.setting.precharge + air) * vessel / (vessel - liquid) - air
        assert month.expected == pytest.approx(gauge, abs=5.0)
        assert month.low == month.expected - SLACK_PA
        assert month.low < month.expected < month.working < month.high


@pytest.mark.parametrize("kind", [kind for kind in KINDS if kind != "sealed"])
def test_a_loop_without_a_vessel_has_no_window(kind: str) -> None:
    design = design_of(kind)
    assert gauge_months(design, reckon(design)) == ()
    assert "gauge" not in asked_of(design)


DESIGN = plan_b()
MONTHS = gauge_months(DESIGN, reckon(DESIGN))


@pytest.mark.parametrize(("gauge", "level", "words"), [
    (1.77e5, None, "As it should be"), (1.2e5, "fix", "0.58 bar under the 1.78 bar"), (0.1e5, "stop", "lost its pressure"),
    (2.6e5, "fix", "higher than a cold loop"), (5.6e5, "stop", "relief opens"), (1.58e5, None, "As it should be"), (1.56e5, "fix", "under the"),
])  # fmt: skip
def test_a_look_is_judged_by_the_window_of_its_month(gauge: float, level: str | None, words: str) -> None:
    told = judge_look(DESIGN, MONTHS, Look(gauge=gauge, pump_ran=True), 6)
    assert told[0].level == level
    assert words in told[0].words.text("metric").replace("\N{NO-BREAK SPACE}", " ")


@given(st.floats(0, 1e6, allow_nan=False), st.integers(1, 12))
def test_no_gauge_out_of_its_window_is_called_right(gauge: float, month: int) -> None:
    told = judge_look(DESIGN, MONTHS, Look(gauge=gauge), month)
    inside = MONTHS[month - 1].low <= gauge <= MONTHS[month - 1].high
    assert (told[0].level is None) is inside


def test_a_pump_that_stood_and_a_drip_are_told_gravest_first() -> None:
    told = judge_look(DESIGN, MONTHS, Look(gauge=0.0, pump_ran=False, drips=True), 6)
    assert [one.level for one in told] == ["stop", "fix", "fix"]


@pytest.mark.parametrize("kind", KINDS)
def test_no_mode_is_one_the_graph_forbids(kind: str) -> None:
    """Each mode in its phase: at work and away nothing at all; topped up and drained nothing but what the work itself wants open."""
    graph = valve_graph(design_of(kind))
    for mode in modes(graph):
        supply = Supply(2e5 if mode.key == "topped" else 0.0)
        wrong = {hazard.key for hazard in illegal(graph, mode.state, mode.phase, supply)}
        assert wrong == set(), mode.key


def test_what_a_paper_lacks_is_said_and_nothing_else() -> None:
    bare = {
        paper.key: [lack.level for lack in paper.lacks]
        for paper in papers(DESIGN, HandoverFacts(settings=9, hidden_legs=("shaft",)))
    }
    assert bare == {
        "card": ["fix", "fix"], "how": [], "normal": [], "modes": [], "route": ["mind"], "safety": ["fix"], "records": ["fix"],
        "whom": ["fix", "mind"],
    }  # fmt: skip
    whole = HandoverFacts(9, 9, 9, True, True, ("shaft",), True, True, True)
    assert all(paper.lacks == () for paper in papers(DESIGN, whole))
    assert hidden_legs(DESIGN)


@pytest.mark.parametrize("kind", KINDS)
def test_steam_is_a_fault_in_a_sealed_loop_alone(kind: str) -> None:
    design = design_of(kind)
    normal, faults = ([one.text("metric") for one in part] for part in normal_and_not(design))
    assert any("Steam" in one for one in faults) is (kind == "sealed")
    assert any("puff of steam" in one for one in normal) is (kind in ("direct", "thermosiphon"))
    found = discharge(design, reckon(design))
    assert (found is None) is (kind == "drainback")
    if kind == "sealed":
        assert found is not None
        assert math.isclose(found.litres, reckon(design).charge.contents.total)
    names = [device.name for device in safety_devices(design, reckon(design))]
    assert ("Expansion vessel" in names) is (kind == "sealed")
