"""A step judged by its own table: symbols from the plan and from what was read, rules that fire, numbers out of their window.

Source: methods 13, 16. The same small language is read by the browser, so that a cellar without signal has the same answer.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping

from rowan.core.steps.commission.result import Derived, Field, Rule, Step, Verdict
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.expression import evaluated, names
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record

COMPARED = re.compile(r"\s(<=|>=|<|>)\s")
ORDER: tuple[Verdict, ...] = ("stop", "fix", "mind", "pass")
Symbols = Mapping[str, float]


@record
class Said:
    """What one rule, or one number out of its window, says."""

    key: str
    level: Verdict
    words: Statement


@record
class Judgement:
    """What stands of a step: `level` None while a needed reading is missing and nothing is wrong; what was said, the gravest first."""

    level: Verdict | None
    said: tuple[Said, ...]
    missing: tuple[str, ...]

    @property
    def passed(self) -> bool:
        """Whether everything needed was read and nothing speaks against it."""
        return not self.missing and self.level in ("pass", "mind")


def value_of(formula: str, symbols: Symbols) -> float | None:
    """A formula's value; None where a symbol has none yet, or it cannot be reckoned."""
    if not formula or not names(formula) <= symbols.keys():
        return None
    try:
        value = evaluated(formula, symbols)
    except (ZeroDivisionError, OverflowError, ValueError):
        return None
    return value if math.isfinite(value) else None


def holds(when: str, symbols: Symbols) -> bool:
    """Whether every comparison of a rule holds; False where one cannot be reckoned yet. Raises ImpossibleInputError for no comparison."""
    for clause in when.split(" and "):
        parts = COMPARED.split(clause)
        if len(parts) != 3:
            raise ImpossibleInputError("“{clause}” is no comparison", clause=clause)
        left, right = value_of(parts[0], symbols), value_of(parts[2], symbols)
        if left is None or right is None:
            return False
        if not {"<": left < right, "<=": left <= right, ">": left > right, ">=": left >= right}[parts[1]]:
            return False
    return True


def with_derived(symbols: Symbols, derived: Iterable[Derived]) -> dict[str, float]:
    """The symbols with all that can be reckoned from them; the first that can be reckoned of a name counts."""
    found = dict(symbols)
    for one in derived:
        if one.name not in found and (value := value_of(one.formula, found)) is not None:
            found[one.name] = value
    return found


def _rule(rule: Rule, symbols: Symbols) -> Said | None:
    if not holds(rule.when, symbols):
        return None
    amounts = {}
    for name, (formula, dimension) in rule.amounts.items():
        value = value_of(formula, symbols)
        if value is None:
            return None
        amounts[name] = Quantity(value, dimension)
    return Said(rule.key, rule.level, say(rule.words, **amounts))


def _window(field: Field, symbols: Symbols) -> Said | None:
    read = symbols.get(field.key)
    if read is None or not field.level or field.tick:
        return None
    low, high = value_of(field.low, symbols), value_of(field.high, symbols)
    limit = low if low is not None and read < low - 1e-9 else high if high is not None and read > high + 1e-9 else None
    if limit is None:
        return None
    words = "{n}: {r}, at least {l} is right." if limit == low else "{n}: {r}, at most {l} is right."
    amounts = {"r": Quantity(read, field.dimension), "l": Quantity(limit, field.dimension)}
    return Said(f"{field.key}_out", field.level, say(words, n=field.name, **amounts))


def judged(step: Step, symbols: Symbols) -> Judgement:
    """What a step's readings say; `symbols` the plan's constants and all that was read in the run [SI], with what derives from them."""
    missing = tuple(
        field.key for field in step.fields if field.needed and not {field.key, field.instead} & symbols.keys()
    )
    found = [said for rule in step.rules if (said := _rule(rule, symbols)) is not None]
    found += [said for field in step.fields if (said := _window(field, symbols)) is not None]
    found.sort(key=lambda said: ORDER.index(said.level))
    gravest = found[0].level if found else "pass"
    if gravest not in ("stop", "fix"):
        if missing:
            return Judgement(None, tuple(said for said in found if said.level != "pass"), missing)
        found = [said for said in found if said.level != "pass"] + [said for said in found if said.level == "pass"]
    else:
        found = [said for said in found if said.level != "pass"]
    return Judgement(gravest, tuple(found), missing)
