"""The plain C loop beside the compiled one: built with gcc where there is one, run on the same plant and feed."""

from __future__ import annotations

import ctypes
import shutil
import statistics
import subprocess
import tempfile
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.plant import Feed, Plant, State

Array = NDArray[np.float64]
SOURCE = Path(__file__).parent / "year.c"
HERE = ("field_gain", "field_capacity", "a1", "a2", "mcp", "pump_power", "pump_heat", "node_capacity", "node_volume", "conduction", "room", "rho_c",
        "start", "stop", "least", "store_maximum", "store_latch", "cut_out", "cut_out_latch", "tap", "stagnation", "backup_power", "step",
        "field_liquid", "refill", "frost_start", "frost_stop", "rise_field", "rise_hot", "fall_store", "fall_cold", "k1", "k2", "heat_capacity",
        "store_node", "limit_node", "backup_node", "return_node", "drains")  # fmt: skip
SUMS = ("collector", "coil", "line_loss", "pump_heat", "store_loss", "draw", "demand", "pump_time", "starts", "stagnation_time", "electric", "backup", "highest_field", "highest_store")  # fmt: skip


def available() -> bool:
    """Whether there is a C compiler."""
    return shutil.which("gcc") is not None


@cache
def _library() -> ctypes.CDLL:
    """The loop, built as plainly as can be: -O2, no fast arithmetic."""
    folder = tempfile.mkdtemp()
    built = Path(folder) / "year.so"
    subprocess.run(["gcc", "-O2", "-shared", "-fPIC", "-o", str(built), str(SOURCE), "-lm"], check=True)
    return ctypes.CDLL(str(built))


def year_of(plant: Plant, state: State, feed: Feed) -> Callable[[], dict[str, float]]:
    """A call that runs the year from the state and gives its sums [J, s, °C]; the state stays as it is.

    The store must stand in one room all year, with a backup that may heat every day, and nothing beside the two differences.
    """
    assert not plant.more.used
    assert plant.cold.shape == plant.hot.shape
    sizes = (plant.cold.shape[1], plant.field_nodes, plant.nodes.shape[1])
    numbers = np.array([*(float(getattr(plant, name)) for name in HERE), *map(float, sizes)])
    direct = plant.return_node >= 0
    passes = np.ones(sizes[2]) if direct else np.exp(-plant.nodes[0] / plant.mcp)
    nodes = np.stack((passes, plant.nodes[1]))
    start = np.concatenate(state[:4])
    inputs = [
        np.ascontiguousarray(part, dtype=float)
        for part in (feed.sun, feed.air, feed.minute, feed.days, feed.cold, feed.backup_on, feed.backup_off)
    ]
    lines = [np.ascontiguousarray(line, dtype=float) for line in (plant.cold, plant.hot)]
    found = np.zeros(len(SUMS))

    def at(values: Array) -> ctypes.c_void_p:
        return ctypes.c_void_p(values.ctypes.data)

    def run() -> dict[str, float]:
        temperatures = start.copy()
        _library().year(at(numbers), *map(at, lines), at(nodes), at(temperatures), *map(at, inputs), at(found))
        return dict(zip(SUMS, found.tolist(), strict=True))

    return run


def ratio_of(name: str, rounds: int = 9) -> tuple[float, float, float]:
    """The compiled year over the plain one, as the median of pairs run one after the other; and the median of each [s]."""
    from tests.core.plain_c.loops import SKIPPING, compiled_year, given_of

    plain = year_of(*given_of(name))
    pairs = []
    for _ in range(rounds + 1):
        start = time.perf_counter()
        compiled_year(name, SKIPPING)
        middle = time.perf_counter()
        plain()
        pairs.append((middle - start, time.perf_counter() - middle))
    ours, theirs = (statistics.median(column) for column in zip(*pairs[1:], strict=True))
    return statistics.median(a / b for a, b in pairs[1:]), ours, theirs
