"""Two choices with their consequences side by side: what the run is laid in, and what happens when it stands in sun."""

from __future__ import annotations

import re
from types import SimpleNamespace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.goods.catalogue import COLLECTORS, PIPES
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.steps.parts.pricing import (
    ENDS_H,
    METRE_H,
    SOLDERED_ENDS_H,
    SOLDERED_METRE_H,
    piece_price,
    work_hours,
)
from rowan.core.studies.pipe_kinds import PipeKind, pipe_advice, pipe_kinds
from rowan.core.studies.standstill import ANSWERS, advice, answer_changes, chosen_answer, standing
from tests.core.designs import altered, plan_b, proposed


def kinds(**changes: object) -> tuple[PipeKind, ...]:
    design = altered(plan_b(), **changes)
    return pipe_kinds(design, reckon(design))


def test_straight_copper_by_hand() -> None:
    """18 mm: 5.4 for pipe, 6 for lagging, 4.5/1.8 for bends and 0.15 h at 40 make 19.9 a metre; four ends and 4 h 178."""
    straight, coil, corrugated = kinds()
    assert straight.per_metre == pytest.approx(0.3 * 18 + 6 + 0.25 * 18 / 1.8 + 0.15 * 40)
    assert straight.fixed == pytest.approx(4 * 0.25 * 18 + 4 * 40)
    assert straight.cost(43) == pytest.approx(straight.fixed + 43 * straight.per_metre)
    assert coil.per_metre < straight.per_metre, "fewer fittings, fewer hours"
    assert corrugated.drop > straight.drop == coil.drop, "corrugated takes more of the pump"
    assert corrugated.per_metre > straight.per_metre > 0
    assert corrugated.fixed < straight.fixed


def test_the_length_at_which_it_turns_is_where_both_cost_the_same() -> None:
    design = plan_b()
    found = kinds()
    text = pipe_advice(design, reckon(design), found).text().replace("\N{NO-BREAK SPACE}", " ")
    turns = float(re.search(r"up to ([\d.]+) m", text)[1])  # type: ignore[index]
    straight, _, corrugated = found
    assert straight.cost(turns) == pytest.approx(corrugated.cost(turns), rel=5e-3)
    cheapest = min(found, key=lambda kind: kind.cost(reckon(design).run.route.length))
    assert cheapest.name in text


@given(hour=st.floats(5, 300))
def test_dear_hours_speak_for_what_is_quick(hour: float) -> None:
    cheap, dear = kinds(money__hour_price=hour), kinds(money__hour_price=hour * 1.5)
    gained = [b.cost(40) - a.cost(40) for a, b in zip(cheap, dear, strict=True)]
    assert gained[0] > gained[1] > gained[2]
    design = altered(plan_b(), money__hour_price=hour)
    assert pipe_advice(design, reckon(design), cheap).text()


def test_the_kind_that_is_planned_is_marked() -> None:
    assert [kind.key for kind in kinds() if kind.chosen] == ["straight"]
    assert [kind.key for kind in kinds(run__pipe=PIPES["Corrugated DN 16"]) if kind.chosen] == ["corrugated"]


def test_the_answer_a_plan_gives_is_known() -> None:
    for key in ANSWERS:
        assert (
            chosen_answer(
                altered(plan_b(), **{c.path.replace(".", "__"): c.value for c in answer_changes(plan_b(), key)})
            )
            == key
        )


def test_each_answer_is_judged_in_the_vessel_it_wants() -> None:
    found = {key: standing(plan_b(), key) for key in ANSWERS}
    boil, hold, dump = found["boil"], found["hold"], found["dump"]
    own = reckon(plan_b())
    assert boil.boils == pytest.approx(own.sealed.states["stagnation"].boiling_on_top or 0)
    assert hold.boils is not None
    assert boil.boils is not None
    assert hold.boils > boil.boils, "at more pressure it boils later"
    assert hold.margin is not None
    assert hold.margin > 0
    assert hold.design.charge.vessel_l.value == hold.needs_l > plan_b().charge.vessel_l.value
    assert not hold.liquid
    assert hold.reach == boil.reach == dump.reach > 0, "a field that comes hotter than it holds boils all the same"


def test_what_is_held_off_stays_liquid_by_itself() -> None:
    """A painted plate comes to less; what its liquid reaches without steam holds it, and nothing is pushed into the lines."""
    cool = altered(plan_b(), collector__item=COLLECTORS["Plate 2.0 painted"])
    found, dry = standing(cool, "hold"), reckon(cool).collector.stagnation
    assert found.liquid
    assert found.boils is not None
    assert found.boils >= dry
    assert found.reach == 0 < standing(cool, "boil").reach
    cooks = SimpleNamespace(total=lambda _: 400 * 3600.0)  # a year that stands hot for 400 h
    rows = [(standing(cool, key), cooks) for key in ANSWERS]
    assert "Hold it off" in advice(dry, rows).text()  # type: ignore[arg-type]
    short = [(standing(plan_b(), key), cooks) for key in ANSWERS]
    assert "Hold it off" not in advice(reckon(plan_b()).collector.stagnation, short).text()  # type: ignore[arg-type]


def test_list_and_study_lay_a_corrugated_run_at_one_price() -> None:
    """What the study says of corrugated by the metre is what the list pays: pipe, lagging, hours."""
    design = altered(plan_b(), run__pipe=PIPES["Corrugated DN 16"], run__hot_pipe=None)
    result, corrugated = reckon(design), kinds(run__pipe=PIPES["Corrugated DN 16"])[-1]
    longer = altered(design, parts__pipe_piece_m=1.0)
    pipe = next(p for p in reckon(longer).parts.parts if p.key == "pipe")
    lagging = next(p for p in reckon(longer).parts.parts if p.key.startswith("lagging"))
    metre = piece_price(longer, pipe) + piece_price(longer, lagging)
    straight = altered(design, run__pipe=plan_b().run.pipe.value)
    saved = work_hours(straight, reckon(straight).run) - work_hours(design, result.run)
    length = result.run.route.length
    hour = design.money.hour_price.value
    assert corrugated.per_metre == pytest.approx(metre + METRE_H["corrugated"] * hour)
    assert saved == pytest.approx(
        SOLDERED_ENDS_H - ENDS_H["corrugated"] + (SOLDERED_METRE_H - METRE_H["corrugated"]) * length
    )


def test_a_dump_starts_under_the_cut_out_and_takes_heat() -> None:
    house = altered(proposed("aldersund-5-oil"), collector__count=6)
    dumped = standing(house, "dump").design
    assert dumped.functions.dump_c.value <= dumped.control.cut_out_c.value - 10
    years = {
        key: simulate(standing(house, key).design, reckon(standing(house, key).design)) for key in ("boil", "dump")
    }
    assert years["dump"].total("dumped") > 0 == years["boil"].total("dumped")
    assert years["dump"].total("stagnation_time") <= years["boil"].total("stagnation_time")
    assert {"heat_dump"} <= {part.key for part in reckon(dumped).parts.parts}


def test_the_advice_names_what_decides_it() -> None:
    calm = [(standing(plan_b(), key), simulate(plan_b(), reckon(plan_b()))) for key in ANSWERS]
    dry = reckon(plan_b()).collector.stagnation
    assert "Let it boil: it stands hot" in advice(dry, calm).text()
    big = altered(proposed("aldersund-5-oil"), collector__count=8, duty__persons=2)
    rows = []
    for key in ANSWERS:
        found = standing(big, key)
        rows.append((found, simulate(found.design, reckon(found.design))))
    assert rows[1][1].total("stagnation_time") > 50 * 3600
    assert "Let it boil: it" not in advice(dry, rows).text()


@pytest.mark.parametrize("key", ANSWERS)
@pytest.mark.parametrize("vessel", [8.0, 25.0])
def test_an_answer_is_the_same_from_what_the_plan_has_reckoned_already(key: str, vessel: float) -> None:
    design = altered(plan_b(), charge__vessel_l=vessel)
    alone, known = standing(design, key), standing(design, key, reckon(design))
    assert (alone.boils, alone.margin, alone.needs_l, alone.reach) == (
        known.boils,
        known.margin,
        known.needs_l,
        known.reach,
    )
    assert alone.liquid == known.liquid
