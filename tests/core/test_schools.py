"""Schools side by side: they are this job's, they agree with the benches, and one of them is Rowan's."""

from __future__ import annotations

import re

import pytest

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.fluid import frost_point
from rowan.core.reckon import reckon
from rowan.core.simulation.day import run_day
from rowan.core.simulation.plan_day import Lens, made_ready, usual_day
from rowan.core.steps.duty.demand import heat_needed
from rowan.core.studies.choices import with_kind
from rowan.core.studies.schools import Matter, matters
from rowan.core.studies.schools.settings import PAIRS_K
from rowan.core.studies.standstill import ANSWERS, NAMES, advice, standing
from rowan.core.terms.finding import Change
from rowan.core.terms.units import LITRE, SYSTEMS
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, plan_a, plan_b, proposed
from tests.core.thermosiphons import roof_tank

PLANS = {
    "sealed": plan_a,
    "other": plan_b,
    "drainback": lambda: with_kind(plan_a(), "drainback"),
    "direct": lambda: proposed("maravel-8-gas"),
    "thermosiphon": roof_tank,
    "pool": pipwater,
}
NUMBER = r"[\d.]+"


def found(design: Design) -> dict[str, Matter]:
    """The matters of a design by key."""
    return {matter.key: matter for matter in matters(design, reckon(design))}


def plain(words: str) -> str:
    """Words with usual spaces and minus signs."""
    return re.sub(r"[\u00a0\u202f]", " ", words).replace("\N{MINUS SIGN}", "-")


def said(matter: Matter, name: str) -> str:
    """What the way of a name comes to."""
    return next(plain(way.comes_to.text()) for way in matter.ways if plain(way.name.text()).startswith(name))


@pytest.mark.parametrize("plan", PLANS)
def test_every_matter_has_ways_one_of_them_rowan_s_and_a_reason(plan: str) -> None:
    every = matters(PLANS[plan](), reckon(PLANS[plan]()))
    assert len({matter.key for matter in every}) == len(every)
    for matter in every:
        assert len(matter.ways) >= 2, matter.key
        assert sum(way.ours for way in matter.ways) == (0 if matter.key == "differences" else 1), matter.key
        for units in SYSTEMS:
            for way in matter.ways:
                words = way.name.text(units) + " " + way.comes_to.text(units) + " " + matter.why.text(units)
                assert "{" not in words, words
                assert not re.search(r"\b(nan|inf)\b", words)


def test_each_kind_of_loop_is_asked_its_own() -> None:
    keys = {plan: set(found(PLANS[plan]())) for plan in PLANS}
    assert {"charge", "gap", "fill", "standstill", "purge", "mix", "kind"} <= keys["sealed"]
    assert "fall" in keys["drainback"]
    assert not {"charge", "gap", "purge", "mix", "standstill"} & (
        keys["drainback"] | keys["direct"] | keys["thermosiphon"]
    )
    assert "frost" in keys["direct"]
    assert not {"differences", "speed", "night", "limit", "flow"} & keys["thermosiphon"]
    assert not {"hygiene", "limit", "night", "kind"} & keys["pool"]


def test_the_plan_s_own_way_carries_the_ring() -> None:
    design = altered(plan_a(), charge__school="equal", functions__night="always", commission__test="air")
    ways = {key: [way.planned for way in matter.ways] for key, matter in found(design).items()}
    assert ways["charge"] == [False, True, False]
    assert ways["night"] == [False, False, True]
    assert ways["medium"] == [False, True]
    assert ways["gap"] == [False, False, False], "another school has no reserve"


@pytest.mark.parametrize("gap", [30e3, 55e3, 70e3])
def test_a_reserve_holds_what_the_plan_with_it_would_hold(gap: float) -> None:
    tried = reckon(changed(plan_a(), [Change("charge.gap_pa", gap)])).sealed
    words = said(found(plan_a())["gap"], f"{gap / 1e5:.2f} bar")
    assert f"{tried.states['fill'].liquid / LITRE:.1f} L" in words
    assert f"{(tried.states['stagnation'].station or 0.0) / 1e5:.2f} bar" in words


def test_the_pairs_are_those_days_of_this_loop() -> None:
    design, result = plan_a(), reckon(plan_a())
    made = made_ready(design, result, Lens("broken", usual_day(design)))
    for name, start, stop in PAIRS_K:
        day = run_day(made, start=start, stop=stop, watch=False)
        words = said(found(design)["differences"], name)
        assert f"{day.total('coil') / 3.6e6:.1f} kWh" in words
        assert f"{day.total('starts'):.0f} starts" in words


def test_what_is_filled_in_freezes_where_it_says() -> None:
    result = reckon(plan_a())
    loop, left, share = result.charge.contents.total, 2.0 * LITRE, plan_a().charge.share.value
    thin = frost_point(volume_share=share * (loop - left) / loop)
    matter = found(plan_a())["mix"]
    assert f"freezes at {thin:.0f} °C" in said(matter, "exactly")
    wanted = frost_point(volume_share=share)
    assert f"freezes at {wanted:.0f} °C" in said(matter, "stronger")


def test_a_hotter_store_holds_the_heat_between() -> None:
    design = plan_a()
    contents = design.store.item.value.contents_l * LITRE
    for limit in (60.0, 80.0):
        heat = heat_needed(volume=contents, tap_temperature=limit, cold_temperature=design.duty.tap_c.value)
        assert f"{heat / 3.6e6:.1f} kWh" in said(found(design)["limit"], f"{limit:.0f} °C")


def test_without_a_tempering_valve_rowan_keeps_the_store_low_and_says_what_burns() -> None:
    matter = found(altered(plan_a(), store__tempering_valve=False))["limit"]
    assert [way.ours for way in matter.ways] == [True, False]
    assert all(way.comes_to.text().startswith("burns at the tap") for way in matter.ways)
    assert [way.ours for way in found(plan_a())["limit"].ways] == [False, True]


@pytest.mark.parametrize("vessel", [8.0, 18.0, 35.0])
def test_the_answer_to_standstill_is_that_of_its_own_page(vessel: float) -> None:
    design = altered(plan_a(), charge__vessel_l=vessel)
    ours = next(way.name.text() for way in found(design)["standstill"].ways if way.ours)
    words = advice(reckon(design).collector.stagnation, [(standing(design, key), None) for key in ANSWERS]).text()
    answer = next(key for key in ANSWERS if NAMES[key] == ours)
    assert {"boil": "Let it boil", "hold": "Hold it off", "dump": "Dump"}[answer] in words


def test_a_sensor_strapped_on_reads_colder_the_colder_the_air() -> None:
    def reads(design: Design) -> float:
        words = said(found(design)["sensor"], "strapped on bare")
        return float(re.findall(NUMBER, words)[0])

    assert reads(plan_a()) > reads(proposed("maravel-8-gas")) > 0


def test_slower_flow_comes_out_hotter() -> None:
    rises = [
        float(re.findall(rf"({NUMBER}) K", plain(way.comes_to.text()))[0]) for way in found(plan_a())["flow"].ways[:3]
    ]
    assert rises == sorted(rises)
    assert rises[0] > 0


def test_what_holds_a_field_under_slate_is_reckoned_for_each_way() -> None:
    matter = found(plan_a())["fixing"]
    assert [way.planned for way in matter.ways] == [True, False, False]
    assert said(matter, "flashed plate").startswith("8 feet; the hardest is pulled with 0.78 kN and holds 1.40 kN")
    assert said(matter, "a hook on the batten") == "not on this covering: it is made for another covering"
    tile = found(altered(plan_a(), survey__covering="tile"))["fixing"]
    assert "short of what is wanted" in said(tile, "a hook on the batten")
    assert "fixing" not in found(altered(plan_a(), roof__way="ground"))
    assert "fixing" not in found(altered(plan_a(), survey__covering="metal"))
