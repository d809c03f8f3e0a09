"""The benches that are built, in working order."""

from __future__ import annotations

from rowan.web.benches.bench import Bench
from rowan.web.benches.charge.bench import BENCH as CHARGE
from rowan.web.benches.charge.fluid import FLUID
from rowan.web.benches.collector.bench import BENCH as COLLECTOR
from rowan.web.benches.commission.bench import BENCH as COMMISSION
from rowan.web.benches.control.bench import BENCH as CONTROL
from rowan.web.benches.control.functions import FUNCTIONS
from rowan.web.benches.parts.bench import BENCH as PARTS
from rowan.web.benches.run.bench import BENCH as RUN
from rowan.web.benches.store.bench import BENCH as STORE
from rowan.web.benches.sun.bench import BENCH as SUN
from rowan.web.benches.survey.bench import BENCH as SURVEY

BENCHES: dict[str, Bench] = {
    bench.key: bench for bench in (SURVEY, SUN, COLLECTOR, STORE, RUN, CHARGE, CONTROL, PARTS, COMMISSION)
}

# pages that work like a bench and stand on no step of the tape
ASIDE: dict[str, Bench] = {FLUID.key: FLUID, FUNCTIONS.key: FUNCTIONS}
PAGES: dict[str, Bench] = BENCHES | ASIDE
