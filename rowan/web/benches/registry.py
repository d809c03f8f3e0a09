"""The benches that are built."""

from __future__ import annotations

from rowan.web.benches.bench import Bench
from rowan.web.benches.charge.bench import BENCH as CHARGE

BENCHES: dict[str, Bench] = {bench.key: bench for bench in (CHARGE,)}
