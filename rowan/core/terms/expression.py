"""Small whitelisted expressions: evaluated for the figure and printed for its reason, from one text.

A figure's value is the value of its expression, so what is explained is what was computed.
The text uses plain names; each name is a `Symbol` with the letter printed for it and its number.
"""

from __future__ import annotations

import ast
import math
from collections.abc import Callable, Mapping
from functools import lru_cache
from types import CodeType
from xml.sax.saxutils import escape

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.language import spoken, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import number_text

_FUNCTIONS: dict[str, Callable[..., float]] = {
    "max": max,
    "min": min,
    "exp": math.exp,
    "ln": math.log,
    "sqrt": math.sqrt,
    "ceil": math.ceil,
    "cos": lambda degrees: math.cos(math.radians(degrees)),
    "sin": lambda degrees: math.sin(math.radians(degrees)),
}
_ALLOWED = {"__builtins__": {}, **_FUNCTIONS}  # what a formula finds beside its own names
_MOST_DIGITS = 12


@record
class Symbol:
    """A letter of a formula: `letter` with optional `index`, its number in `unit`, and what it is."""

    value: float
    letter: str
    index: str = ""
    unit: str = ""
    means: str = ""


@record
class Expression:
    """A formula over symbols. `text` is Python arithmetic with max, min, exp, ln, sqrt, sin and cos."""

    text: str
    symbols: Mapping[str, Symbol]

    def __post_init__(self) -> None:
        used = names(self.text)
        if not used <= self.symbols.keys():
            unknown = used - self.symbols.keys()
            raise ImpossibleInputError(
                "the formula names {unknown}, which has no value", unknown=", ".join(sorted(unknown))
            )

    def value(self) -> float:
        """The expression's value, in the units its symbols are in."""
        return evaluated(self.text, {name: s.value for name, s in self.symbols.items()})

    def printed_digits(self, printed: Callable[[float], str]) -> dict[str, str]:
        """Each symbol's number with as few digits as still give the printed result; `printed` prints a value."""
        target = printed(self.value())
        used = {name: self.symbols[name] for name in sorted(names(self.text))}
        for digits in range(3, _MOST_DIGITS + 1):
            texts = {
                name: significant(symbol.value, max(digits, whole_digits(symbol.value)))
                for name, symbol in used.items()
            }
            rounded = {name: plain_value(text) for name, text in texts.items()}
            try:
                if printed(evaluated(self.text, rounded)) == target:
                    return texts
            except (ValueError, ZeroDivisionError, OverflowError):
                continue
        return {name: significant(symbol.value, _MOST_DIGITS) for name, symbol in used.items()}

    def letters_mathml(self) -> str:
        """The formula in letters, as the inside of a MathML element."""
        return _Mathml(lambda name: _letter_mathml(self.symbols[name])).row(_tree(self.text))

    def numbers_mathml(self, digits: Mapping[str, str]) -> str:
        """The same formula with the numbers put in."""

        def number(name: str) -> str:
            """A symbol's number with its unit, as markup."""
            unit = self.symbols[name].unit
            tail = f"<mspace width='0.15em'/><mtext>{escape(unit)}</mtext>" if unit else ""
            return f"<mrow><mn>{escape(digits[name])}</mn>{tail}</mrow>"

        return _Mathml(number, self._with_unit).row(_tree(self.text))

    def _with_unit(self, name: str) -> bool:
        return bool(self.symbols[name].unit)

    def letters_text(self) -> str:
        """The formula in letters on one line, for paper and plain text."""
        return _Plain(lambda name: self.symbols[name].letter + _index_text(self.symbols[name].index)).of(
            _tree(self.text)
        )

    def numbers_text(self, digits: Mapping[str, str]) -> str:
        """The numbers put in, on one line."""

        def number(name: str) -> str:
            """A symbol's number with its unit."""
            unit = self.symbols[name].unit
            return digits[name] + (f" {unit}" if unit else "")

        return _Plain(number, self._with_unit).of(_tree(self.text))


def significant(value: float, digits: int) -> str:
    """A number with that many significant digits, trailing zeros after the point removed."""
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else str(value)
    decimals = digits - 1 - math.floor(math.log10(abs(value)))
    if decimals <= 0:
        return number_text(round(value, decimals), 0)
    text = number_text(round(value, decimals), decimals)
    mark = spoken().decimal
    return text.rstrip("0").rstrip(mark) if mark in text else text


def whole_digits(value: float) -> int:
    """Digits before the point: these are never rounded away, so that one quantity reads the same everywhere."""
    return len(str(abs(round(value)))) if math.isfinite(value) else 0


def plain_value(text: str) -> float:
    """The number a printed text stands for."""
    plain = text.replace("\N{NARROW NO-BREAK SPACE}", "").replace("\N{MINUS SIGN}", "-")
    return float(plain.replace(spoken().decimal, "."))


@lru_cache(maxsize=512)
def names(text: str) -> frozenset[str]:
    """The symbol names an expression uses."""
    return frozenset({n.id for n in ast.walk(_tree(text)) if isinstance(n, ast.Name)} - set(_FUNCTIONS))


@lru_cache(maxsize=512)
def _tree(text: str) -> ast.expr:
    tree = ast.parse(text, mode="eval").body
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            if not isinstance(node.func, ast.Name) or node.func.id not in _FUNCTIONS or node.keywords:
                raise ImpossibleInputError("the formula “{text}” calls something that is not allowed", text=text)
        elif isinstance(node, ast.Constant):
            if not isinstance(node.value, int | float):
                raise ImpossibleInputError("the formula “{text}” holds something that is no number", text=text)
        elif not isinstance(
            node,
            ast.BinOp | ast.UnaryOp | ast.Name | ast.Load | ast.Add | ast.Sub | ast.Mult | ast.Div | ast.Pow | ast.USub,
        ):
            raise ImpossibleInputError(
                "the formula “{text}” holds {name}, which is not allowed", text=text, name=f"{type(node).__name__}"
            )
    return tree


def evaluated(text: str, values: Mapping[str, float]) -> float:
    """The value of a formula with these numbers in the place of its names. Raises KeyError for a name without one."""
    try:
        return float(eval(_code(text), _ALLOWED, values))  # noqa: S307  `_tree` lets arithmetic through and nothing else
    except NameError as error:
        raise KeyError(error.name) from error


@lru_cache(maxsize=512)
def _code(text: str) -> CodeType:
    """A formula ready to run: seventy are asked at each reckoning, and walking their trees was a tenth of it."""
    return compile(ast.fix_missing_locations(ast.Expression(_tree(text))), "<formula>", "eval")


_PRECEDENCE = {ast.Add: 1, ast.Sub: 1, ast.Mult: 2, ast.Div: 2, ast.USub: 3, ast.Pow: 4}
_SIGNS = {ast.Add: "+", ast.Sub: "\N{MINUS SIGN}", ast.Mult: "×", ast.Div: "/"}


def _precedence(node: ast.expr) -> int:
    if isinstance(node, ast.BinOp | ast.UnaryOp):
        return _PRECEDENCE[type(node.op)]
    return 9


def _needs_brackets(child: ast.expr, parent: ast.BinOp, right: bool) -> bool:
    own, above = _precedence(child), _PRECEDENCE[type(parent.op)]
    return own < above or (own == above and right and isinstance(parent.op, ast.Sub | ast.Div))


def _constant_text(node: ast.Constant) -> str:
    assert isinstance(node.value, int | float)  # noqa: S101
    return f"{node.value:g}".replace("-", "\N{MINUS SIGN}").replace(".", spoken().decimal)


def _index_text(index: str) -> str:
    return f"({tr(index)})" if index else ""


def _letter_mathml(symbol: Symbol) -> str:
    letter = f"<mi>{escape(symbol.letter)}</mi>"
    return f"<msub>{letter}<mtext>{escape(tr(symbol.index))}</mtext></msub>" if symbol.index else letter


def _no_brackets(name: str) -> bool:
    return False


class _Mathml:
    """Renders a tree as MathML; `leaf` renders a name, `bracketed` says whether it takes brackets under a power."""

    def __init__(self, leaf: Callable[[str], str], bracketed: Callable[[str], bool] = _no_brackets) -> None:
        self.leaf, self.bracketed = leaf, bracketed

    def row(self, node: ast.expr) -> str:
        """A node as a row of its own."""
        return f"<mrow>{self.of(node)}</mrow>"

    def of(self, node: ast.expr) -> str:
        """A node of the formula."""
        if isinstance(node, ast.Constant):
            return f"<mn>{_constant_text(node)}</mn>"
        if isinstance(node, ast.Name):
            return self.leaf(node.id)
        if isinstance(node, ast.UnaryOp):
            return f"<mo>{_SIGNS[ast.Sub]}</mo>{self.of(node.operand)}"
        if isinstance(node, ast.Call):
            assert isinstance(node.func, ast.Name)  # noqa: S101
            inside = "<mo>,</mo>".join(self.row(a) for a in node.args)
            if node.func.id == "sqrt":
                return f"<msqrt>{inside}</msqrt>"
            return f"<mi mathvariant='normal'>{node.func.id}</mi><mo>(</mo>{inside}<mo>)</mo>"
        assert isinstance(node, ast.BinOp)  # noqa: S101
        if isinstance(node.op, ast.Div):
            return f"<mfrac>{self.row(node.left)}{self.row(node.right)}</mfrac>"
        left, right = self._side(node.left, node, False), self._side(node.right, node, True)
        if isinstance(node.op, ast.Pow):
            return f"<msup><mrow>{left}</mrow><mrow>{right}</mrow></msup>"
        return f"{left}<mo>{_SIGNS[type(node.op)]}</mo>{right}"

    def _side(self, child: ast.expr, parent: ast.BinOp, right: bool) -> str:
        fraction = isinstance(child, ast.BinOp) and isinstance(child.op, ast.Div)
        power = isinstance(parent.op, ast.Pow) and isinstance(child, ast.Name) and self.bracketed(child.id)
        if power or (_needs_brackets(child, parent, right) and not fraction):
            return f"<mo>(</mo>{self.row(child)}<mo>)</mo>"
        return self.row(child)


class _Plain:
    """Renders a tree on one line."""

    def __init__(self, leaf: Callable[[str], str], bracketed: Callable[[str], bool] = _no_brackets) -> None:
        self.leaf, self.bracketed = leaf, bracketed

    def of(self, node: ast.expr) -> str:
        """A node of the formula as text."""
        if isinstance(node, ast.Constant):
            return _constant_text(node)
        if isinstance(node, ast.Name):
            return self.leaf(node.id)
        if isinstance(node, ast.UnaryOp):
            return f"{_SIGNS[ast.Sub]}{self.of(node.operand)}"
        if isinstance(node, ast.Call):
            assert isinstance(node.func, ast.Name)  # noqa: S101
            return f"{node.func.id}({', '.join(self.of(a) for a in node.args)})"
        assert isinstance(node, ast.BinOp)  # noqa: S101
        left, right = self._side(node.left, node, False), self._side(node.right, node, True)
        if isinstance(node.op, ast.Pow):
            return f"{left}^{right}"
        return f"{left} {_SIGNS[type(node.op)]} {right}"

    def _side(self, child: ast.expr, parent: ast.BinOp, right: bool) -> str:
        text = self.of(child)
        power = isinstance(parent.op, ast.Pow) and isinstance(child, ast.Name) and self.bracketed(child.id)
        return f"({text})" if power or _needs_brackets(child, parent, right) else text
