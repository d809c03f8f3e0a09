"""Ceilings for modules, functions and arguments. Raising one needs a line of reason beside it."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
MOST_MODULE_LINES = 600
MOST_FUNCTION_LINES = 60  # of code, without its docstring
MOST_ARGUMENTS = 8
WIDEST_TEMPLATE_LINE = 160
# the map from reference rules to the core is a flat list of one small function a rule


def _sources(*folders: str) -> Iterator[tuple[str, ast.Module, int]]:
    for folder in folders:
        yield from _parsed(folder)


@cache
def _parsed(folder: str) -> list[tuple[str, ast.Module, int]]:
    found = []
    for path in sorted((ROOT / folder).rglob("*.py")):
        if "migrations" not in path.parts:
            text = path.read_text(encoding="utf-8")
            found.append((path.relative_to(ROOT).as_posix(), ast.parse(text), len(text.splitlines())))
    return found


@cache
def _functions(tree: ast.Module) -> tuple[ast.FunctionDef, ...]:
    return tuple(node for node in ast.walk(tree) if isinstance(node, ast.FunctionDef))


def _docstring_lines(node: ast.FunctionDef) -> int:
    if ast.get_docstring(node) is None:
        return 0
    first = node.body[0]
    return (first.end_lineno or first.lineno) - first.lineno + 1


def _code_lines(node: ast.FunctionDef) -> int:
    return (node.end_lineno or node.lineno) - node.lineno + 1 - _docstring_lines(node)


def test_modules_are_not_too_long() -> None:
    long = [(name, lines) for name, _, lines in _sources("rowan", "tests") if lines > MOST_MODULE_LINES]
    assert long == []


def test_functions_are_not_too_long() -> None:
    long = [
        (name, node.name, _code_lines(node))
        for name, tree, _ in _sources("rowan", "tests")
        for node in _functions(tree)
        if _code_lines(node) > MOST_FUNCTION_LINES
    ]
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
    many = [
        (name, node.name)
        for name, tree, _ in _sources("rowan", "tests")
        for node in _functions(tree)
        if len(node.args.args) + len(node.args.kwonlyargs) > MOST_ARGUMENTS + 1  # self is not counted
    ]
    assert many == []


def test_public_core_functions_say_what_they_do() -> None:
    silent = [
        (name, node.name)
        for name, tree, _ in _sources("rowan/core")
        for node in _functions(tree)
        if not node.name.startswith("_") and ast.get_docstring(node) is None and not _is_inner(tree, node)
    ]
    assert silent == []


def _is_inner(tree: ast.Module, wanted: ast.FunctionDef) -> bool:
    """Inside another function or a private class."""
    private = [node for node in ast.walk(tree) if isinstance(node, ast.ClassDef) and node.name.startswith("_")]
    return any(wanted in ast.walk(other) for other in [*_functions(tree), *private] if other is not wanted)


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
        (name, node.name)
        for name, tree, _ in _sources("rowan/core")
        if Path(name).stem in modules
        for node in tree.body
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_") and node.args.args
    ]
    assert positional == []
