"""A task on paper as a page has it: what is asked with what was answered, and what each answer was worth."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rowan.core.practice.sheet import Answer, Marked, Question, Sheet
from rowan.core.terms.figure import Quantity, Statement
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.practice.plots import facts_of, shown_drawing


def text_of(words: Statement | Quantity, units: System) -> str:
    """A statement or a quantity in the reader's units."""
    return words.text(units) if isinstance(words, Statement) else words.shown(units)


def sheet_context(sheet: Sheet, units: System) -> dict[str, Any]:
    """What is given: the goal, facts, and the drawing with the same in words."""
    return {
        "lead": sheet.lead.text(units),
        "given": [(name, text_of(words, units)) for name, words in sheet.given],
        "drawing": shown_drawing(sheet.shown, units).svg() if sheet.shown is not None else "",
        "facts": facts_of(sheet.shown, units) if sheet.shown is not None else [],
        "master": sheet.master.text(units),
    }


def asked(
    sheet: Sheet,
    answers: Mapping[str, Answer],
    units: System,
    *,
    hinted: frozenset[str] = frozenset(),
    wrong: Mapping[str, str] | None = None,
    typed: Mapping[str, str] | None = None,
) -> list[dict[str, Any]]:
    """Questions as they are asked, with what was answered so far, what was typed that is no number, and the hints that were taken."""
    found = []
    for one in sheet.questions:
        given = answers.get(one.key)
        chosen = given if isinstance(given, tuple) else (given,)
        found.append(
            {
                "key": one.key,
                "kind": one.kind,
                "asks": one.asks.text(units),
                "marks": one.marks,
                "dimension": one.dimension,
                "typed": (typed or {}).get(one.key) or _typed(one, given, units),
                "hint": one.hint.text(units) if one.key in hinted else "",
                "wrong": (wrong or {}).get(one.key, ""),
                "places": range(1, len(one.options) + 1),
                "options": [
                    {
                        "key": option.key,
                        "words": option.words.text(units),
                        "chosen": option.key in chosen,
                        "place": chosen.index(option.key) + 1 if option.key in chosen else 0,
                    }
                    for option in one.options
                ],
            }
        )
    return found


def _typed(one: Question, given: Answer | None, units: System) -> str:
    return shown(float(given), one.dimension, units) if one.kind == "number" and isinstance(given, float | int) else ""


def answered(marked: tuple[Marked, ...], units: System) -> list[dict[str, Any]]:
    """What each answer was worth, in the order asked: said, right, why, and what it would have come to."""
    return [
        {
            "asks": one.question.asks.text(units),
            "marks": one.marks,
            "of": one.question.marks,
            "full": one.full,
            "said": _said(one.question, one.given, units),
            "right": right_of(one, units),
            "words": [words.text(units) for words in one.words],
            "why": one.question.why.text(units),
        }
        for one in marked
    ]


def _said(one: Question, given: Answer | None, units: System) -> str:
    if given is None:
        return "nothing"
    if one.kind == "number" and isinstance(given, float | int):
        return shown(float(given), one.dimension, units, one.decimals if units == "metric" else None)
    chosen = given if isinstance(given, tuple) else (str(given),)
    return _named(one, chosen, units)


def _named(one: Question, keys: tuple[str, ...], units: System) -> str:
    names = {option.key: option.words.text(units) for option in one.options}
    joint = " → " if one.kind == "order" else "; "
    return joint.join(names[key] for key in keys if key in names)


def right_of(one: Marked, units: System) -> str:
    """What is right: a range with what a master says, or what is to be chosen."""
    question, held = one.question, one.held
    if question.kind == "number":
        if held is None:
            return "by the answer it hangs on"
        decimals = question.decimals if units == "metric" else None
        best, low, high = (
            shown(value, question.dimension, units, decimals) for value in (held.best, held.low, held.high)
        )
        return tr("{best}; right from {low} to {high}", best=best, low=low, high=high)
    if not question.answer:
        return "each is kept by somebody"
    joint = tuple(question.answer)
    return _named(question, joint if question.kind != "one" else joint[:1], units)
