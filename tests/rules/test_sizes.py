"""Ceilings for modules, functions and arguments. Raising one needs a line of reason beside it."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
MOST_MODULE_LINES = 600
MOST_FUNCTION_LINES = 60  # of code, without its docstring
MOST_ARGUMENTS = 8
WIDEST_TEMPLATE_LINE = 160
# the map from reference rules to the core is a flat list of one small function a rule


@dataclass(frozen=True)
class Function:
    """What is held of a function: its tree is let go, for half a million nodes would slow all that follows."""

    name: str
    lines: int
    arguments: int
    by_position: bool
    silent: bool
    top: bool
    # inside another function or a private class
    inner: bool


@dataclass(frozen=True)
class Module:
    """A source file with its functions."""

    name: str
    lines: int
    functions: tuple[Function, ...]


@cache
def _modules(folder: str) -> tuple[Module, ...]:
    found = []
    for path in sorted((ROOT / folder).rglob("*.py")):
        if "migrations" not in path.parts:
            text = path.read_text(encoding="utf-8")
            functions = tuple(_functions(ast.parse(text), top=True, inner=False))
            found.append(Module(path.relative_to(ROOT).as_posix(), len(text.splitlines()), functions))
    return tuple(found)


def _functions(tree: ast.AST, *, top: bool, inner: bool) -> Iterator[Function]:
    """The functions below a node; `top` where they stand in the module itself."""
    for node in ast.iter_child_nodes(tree):
        if isinstance(node, ast.FunctionDef):
            taken = node.args
            yield Function(
                node.name,
                _code_lines(node),
                len(taken.args) + len(taken.kwonlyargs),
                bool(taken.args),
                ast.get_docstring(node) is None,
                top,
                inner,
            )
            yield from _functions(node, top=False, inner=True)
        else:
            private = isinstance(node, ast.ClassDef) and node.name.startswith("_")
            yield from _functions(node, top=False, inner=inner or private)


def _docstring_lines(node: ast.FunctionDef) -> int:
    if ast.get_docstring(node) is None:
        return 0
    first = node.body[0]
    return (first.end_lineno or first.lineno) - first.lineno + 1


def _code_lines(node: ast.FunctionDef) -> int:
    return (node.end_lineno or node.lineno) - node.lineno + 1 - _docstring_lines(node)


def _all() -> tuple[Module, ...]:
    return _modules("rowan") + _modules("tests")


def test_functions_are_seen_where_they_stand() -> None:
    text = "def a(x):\n    'said'\n    def b(): ...\nclass _C:\n    def d(self): ...\nclass E:\n    def f(self, *, y): ...\n"
    found = {f.name: f for f in _functions(ast.parse(text), top=True, inner=False)}
    assert {name: (f.top, f.inner, f.silent, f.arguments) for name, f in found.items()} == {
        "a": (True, False, False, 1),
        "b": (False, True, True, 0),
        "d": (False, True, True, 1),
        "f": (False, False, True, 2),
    }


def test_modules_are_not_too_long() -> None:
    assert [(module.name, module.lines) for module in _all() if module.lines > MOST_MODULE_LINES] == []


def test_functions_are_not_too_long() -> None:
    long = [(m.name, f.name, f.lines) for m in _all() for f in m.functions if f.lines > MOST_FUNCTION_LINES]
    assert long == []


def test_template_lines_can_be_read_without_scrolling() -> None:
    wide = [
        (path.relative_to(ROOT).as_posix(), number)
        for path in sorted((ROOT / "rowan").rglob("*.html"))
        for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1)
        if len(line) > WIDEST_TEMPLATE_LINE
    ]
    assert wide == []


def test_functions_do_not_take_too_much() -> None:
    # self is not counted
    many = [(m.name, f.name) for m in _all() for f in m.functions if f.arguments > MOST_ARGUMENTS + 1]
    assert many == []


def test_public_core_functions_say_what_they_do() -> None:
    silent = [
        (m.name, f.name)
        for m in _modules("rowan")
        if m.name.startswith("rowan/core/")
        for f in m.functions
        if f.silent and not f.inner and not f.name.startswith("_")
    ]
    assert silent == []


def test_formulas_are_called_by_name() -> None:
    """Public functions of the core's formula modules take physical arguments by keyword only."""
    modules = (
        "friction",
        "insulation",
        "vessel",
        "pressures",
        "efficiency",
        "differences",
        "demand",
        "sizing",
        "media",
        "sun",
        "cold_main",
    )
    positional = [
        (m.name, f.name)
        for m in _modules("rowan")
        if m.name.startswith("rowan/core/") and Path(m.name).stem in modules
        for f in m.functions
        if f.top and f.by_position and not f.name.startswith("_")
    ]
    assert positional == []
