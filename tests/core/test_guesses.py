"""Guesses are told by how much the plan moves if they are wrong."""

from __future__ import annotations

from rowan.core.design.changes import assumed, changed
from rowan.core.reckon import reckon
from rowan.core.studies.guesses import guesses
from rowan.core.terms.finding import Change
from tests.core.designs import plan_a, proposed


def test_every_guess_is_told_once_and_the_weightiest_first() -> None:
    design = proposed("aldersund-5-oil")
    found = guesses(design, reckon(design))
    assert sorted(guess.found.path for guess in found) == sorted(one.path for one in assumed(design))
    measured = [guess for guess in found if not guess.decided]
    assert found[: len(measured)] == tuple(measured), "what can be measured comes before what is decided"
    weights = [round(guess.weight, 4) for guess in measured]
    assert weights == sorted(weights, reverse=True)
    assert weights[0] > 0.1
    assert weights[-1] == 0.0


def test_a_height_that_is_a_guess_names_the_pressure_it_moves() -> None:
    design = changed(plan_a(), [Change("survey.gauge_to_top_m", 9.5, "assumed")])
    told = {guess.found.path: guess for guess in guesses(design, reckon(design))}
    height = told["survey.gauge_to_top_m"]
    assert height.moves is not None
    assert height.moves.before is not None
    assert height.moves.after is not None
    assert height.moves.before.value < height.moves.after.value


def test_no_guess_tells_itself_or_what_nobody_sees() -> None:
    design = proposed("maravel-8-gas")
    for guess in guesses(design, reckon(design)):
        if guess.moves is None:
            continue
        before, after = guess.moves.before, guess.moves.after
        assert before is not None
        assert after is not None
        assert before.shown() != after.shown(), guess.found.path
        assert before.shown("us") != after.shown("us"), guess.found.path
        assert guess.moves.key not in ("offcut", "pipe_pieces")
    limit = next(g for g in guesses(design, reckon(design)) if g.found.path == "store.maximum_c")
    assert limit.moves is None or limit.moves.key != "store_limit"


def test_a_guess_that_would_bring_a_stop_comes_first() -> None:
    design = changed(
        plan_a(),
        [Change("survey.design_minimum_c", -15.9, "assumed"), Change("charge.share", 0.4, "assumed")],
    )
    found = [guess for guess in guesses(design, reckon(design)) if not guess.decided]
    leading = [guess for guess in found if guess.brings is not None]
    assert leading
    assert found[: len(leading)] == leading
