"""One home for a constant: a second one is refused, by its value where nature gives it, by its name everywhere."""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
CORE = ROOT / "rowan" / "core"
# what nature, the calendar or a definition gives, and the one module that says it
HOMES = {
    9.80665: "terms/constants.py",
    273.15: "terms/constants.py",
    101325.0: "terms/constants.py",
    5.670374419e-8: "terms/constants.py",
    8900.0: "terms/constants.py",
    0.0254: "terms/units.py",
    0.3048: "terms/units.py",
    6894.757293: "terms/units.py",
    3.6e6: "terms/units.py",
    23.45: "weather/sun.py",
    8760: "terms/calendar.py",
    86400: "terms/calendar.py",
}
# small words that mean something of their own in each module: a length of a row, a limit of a list
OWN = {"KEPT", "METHOD", "PRACTICE", "DATA"}


@cache
def _sources() -> dict[str, tuple[set[float], list[tuple[str, object]]]]:
    """Of every module the numbers that stand in it, and the plain numbers it names; its tree is let go."""
    found = {}
    for path in sorted(CORE.rglob("*.py")):
        if path.name != "fluid_tables.py":
            tree = ast.parse(path.read_text(encoding="utf-8"))
            constants = (node.value for node in ast.walk(tree) if isinstance(node, ast.Constant))
            numbers = {value for value in constants if type(value) in (int, float)}
            found[path.relative_to(CORE).as_posix()] = numbers, list(_named(tree))
    return found


def _named(tree: ast.Module) -> Iterator[tuple[str, object]]:
    """Names of plain numbers at the top of a module, with their values."""
    for node in tree.body:
        if not isinstance(node, ast.Assign):
            continue
        for target in node.targets:
            pairs = [(target, node.value)]
            if isinstance(target, ast.Tuple) and isinstance(node.value, ast.Tuple):
                pairs = list(zip(target.elts, node.value.elts, strict=False))
            for name, value in pairs:
                if isinstance(name, ast.Name) and name.id.isupper():
                    try:
                        yield name.id, ast.literal_eval(value)
                    except ValueError:
                        continue


@pytest.mark.parametrize(("value", "home"), HOMES.items())
def test_what_nature_gives_is_written_once(value: float, home: str) -> None:
    assert {name for name, (numbers, _) in _sources().items() if value in numbers} <= {home}


def test_a_constant_has_one_home() -> None:
    homes: dict[tuple[str, object], list[str]] = defaultdict(list)
    for module, (_, named) in _sources().items():
        for name, value in named:
            if isinstance(value, int | float) and not isinstance(value, bool) and name not in OWN:
                homes[name, value].append(module)
    assert {key: modules for key, modules in homes.items() if len(modules) > 1} == {}


def test_one_name_has_one_value_in_a_folder() -> None:
    values: dict[tuple[str, str], dict[object, str]] = defaultdict(dict)
    for module, (_, named) in _sources().items():
        for name, value in named:
            if isinstance(value, int | float) and not isinstance(value, bool) and name not in OWN:
                values[module.rpartition("/")[0], name][value] = module
    assert {key: found for key, found in values.items() if len(found) > 1} == {}


TEMPLATES = sorted((ROOT / "rowan" / "web").rglob("*.html"))
# words of a danger: they are the core's, asked for by their key
DANGER = re.compile(r"licensed|prove dead|scald|electrocut|never beside a loop|antifreeze|local code", re.IGNORECASE)


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda path: path.stem)
def test_no_page_words_a_danger_itself(path: Path) -> None:
    assert DANGER.findall(path.read_text(encoding="utf-8")) == []
