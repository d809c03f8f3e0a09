"""Whether the tests notice: a seeded few of the core's formulas, thresholds and units are made wrong, one at a time.

A mutant that every test of the core lets through shows a rule without a guard. The working tree is never touched: each
mutant lives in a copy of its own.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
# where the rules of the job are; the compiled loop has its own guard, the same year in plain C
WHERE = ("steps", "appraise", "goods/prices.py", "weather", "fluid.py", "terms/units.py", "records")
LONGEST_S = 420
AT_ONCE = 2
NOTICED = 0.95  # least share; under it the command fails
SWAPS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.Pow: ast.Mult,
}
TURNS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.Gt,
    ast.Gt: ast.Lt,
    ast.LtE: ast.GtE,
    ast.GtE: ast.LtE,
}
FORMULA_SWAPS = ((" * ", " / "), (" / ", " * "), (" + ", " - "), (" - ", " + "))


@dataclass(frozen=True)
class Mutant:
    """One wrong place: file, line, what it says, and the whole file with it."""

    file: str
    line: int
    words: str
    source: str


def _replaced(source: str, node: ast.expr, text: str) -> str:
    lines = source.encode().splitlines(keepends=True)
    start = sum(len(line) for line in lines[: node.lineno - 1]) + node.col_offset
    end = sum(len(line) for line in lines[: (node.end_lineno or node.lineno) - 1]) + (node.end_col_offset or 0)
    raw = source.encode()
    return (raw[:start] + text.encode() + raw[end:]).decode()


def _wrong(node: ast.expr) -> str | None:
    """The node made wrong, as source; None where it is no formula, threshold or unit."""
    if isinstance(node, ast.BinOp) and type(node.op) in SWAPS:
        if any(
            isinstance(side, ast.Constant | ast.JoinedStr) and not _is_number(side) for side in (node.left, node.right)
        ):
            return None  # words put together
        swapped = ast.BinOp(node.left, SWAPS[type(node.op)](), node.right)
        return f"({ast.unparse(swapped)})"
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in TURNS:
        return f"({ast.unparse(ast.Compare(node.left, [TURNS[type(node.ops[0])]()], node.comparators))})"
    if (
        _is_number(node)
        and isinstance(node, ast.Constant)
        and isinstance(node.value, float)
        and node.value not in (0.0, 1.0)
    ):
        return repr(node.value * 1.25)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Expression":
        formula = node.args[0]
        if isinstance(formula, ast.Constant) and isinstance(formula.value, str):
            for old, new in FORMULA_SWAPS:
                if old in formula.value:
                    rest = ", ".join(ast.unparse(arg) for arg in node.args[1:])
                    return f"Expression({formula.value.replace(old, new, 1)!r}, {rest})"
    return None


def _is_number(node: ast.AST) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool)


def _sites(path: Path) -> Iterator[Mutant]:
    source = path.read_text(encoding="utf-8")
    tree = ast.parse(source)
    notes = {
        id(child) for node in ast.walk(tree) if isinstance(node, ast.AnnAssign) for child in ast.walk(node.annotation)
    }
    for node in ast.walk(tree):
        if not isinstance(node, ast.expr) or id(node) in notes:
            continue
        wrong = _wrong(node)
        if wrong is None:
            continue
        made = _replaced(source, node, wrong)
        try:
            ast.parse(made)
        except SyntaxError:
            continue
        words = f"{ast.unparse(node)[:60]} -> {wrong[:60]}"
        yield Mutant(path.relative_to(ROOT).as_posix(), node.lineno, words.replace("\n", " "), made)


def mutants(count: int, seed: int) -> list[Mutant]:
    """So many wrong places of the core, the same for the same seed; each file may give some."""
    core = ROOT / "rowan" / "core"
    files = [
        f
        for where in WHERE
        for f in ([core / where] if where.endswith(".py") else sorted((core / where).rglob("*.py")))
    ]
    every = [site for file in files for site in _sites(file)]
    return random.Random(seed).sample(every, min(count, len(every)))  # noqa: S311  no secret


def _tests_first(file: str) -> list[str]:
    """Every test file of the core: the quick ones first, then those that name the module."""
    module = file.removesuffix(".py").replace("/", ".")
    tests = sorted((ROOT / "tests" / "core").glob("test_*.py"))
    near = [t for t in tests if module in t.read_text(encoding="utf-8")]
    first = [
        ROOT / "tests" / "core" / name for name in ("test_reference.py", "test_reckoning.py", "test_one_answer.py")
    ]
    ordered = dict.fromkeys([*near, *first, *tests])
    return [t.relative_to(ROOT).as_posix() for t in ordered]


def killed(mutant: Mutant) -> bool:
    """Whether some test of the core fails with it."""
    with tempfile.TemporaryDirectory() as scratch:
        tree = Path(scratch)
        for name in ("rowan", "tests"):
            shutil.copytree(ROOT / name, tree / name, ignore=shutil.ignore_patterns("__pycache__", "browser"))
        for name in ("pyproject.toml", "docs"):
            (tree / name).symlink_to(ROOT / name)
        (tree / mutant.file).write_text(mutant.source, encoding="utf-8")
        environment = {**os.environ, "PYTHONPATH": scratch, "PYTHONDONTWRITEBYTECODE": "1"}
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *_tests_first(mutant.file)]
        try:
            done = subprocess.run(  # noqa: S603  our own interpreter on our own tests
                command, cwd=tree, env=environment, capture_output=True, timeout=LONGEST_S, check=False
            )
        except subprocess.TimeoutExpired:
            return True  # a loop that does not end is noticed too
        return done.returncode != 0


def run_mutants(count: int, seed: int) -> int:
    """Prints what became of each mutant, and the share that was noticed. The status is 1 where it is under `NOTICED`."""
    made = mutants(count, seed)
    lived = 0
    with ThreadPoolExecutor(AT_ONCE) as pool:
        for number, (mutant, dead) in enumerate(zip(made, pool.map(killed, made), strict=True), 1):
            lived += not dead
            print(
                f"{number}/{len(made)} {'noticed' if dead else 'LIVED'}: {mutant.file}:{mutant.line}  {mutant.words}",
                flush=True,
            )
    share = 1 - lived / max(len(made), 1)
    print(f"{len(made) - lived} of {len(made)} noticed ({100 * share:.0f} %), seed {seed}")
    return 0 if share >= NOTICED else 1
