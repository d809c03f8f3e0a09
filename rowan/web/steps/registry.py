"""The benches that are built, in working order."""

from __future__ import annotations

from rowan.web.benches.bench import Bench
from rowan.web.steps.charge.bench import BENCH as CHARGE
from rowan.web.steps.charge.fluid import FLUID
from rowan.web.steps.collector.bench import BENCH as COLLECTOR
from rowan.web.steps.commission.bench import BENCH as COMMISSION
from rowan.web.steps.control.bench import BENCH as CONTROL
from rowan.web.steps.control.functions import FUNCTIONS
from rowan.web.steps.parts.bench import BENCH as PARTS
from rowan.web.steps.roof.bench import BENCH as ROOF
from rowan.web.steps.run.bench import BENCH as RUN
from rowan.web.steps.store.bench import BENCH as STORE
from rowan.web.steps.sun.bench import BENCH as SUN
from rowan.web.steps.survey.bench import BENCH as SURVEY

BENCHES: dict[str, Bench] = {
    bench.key: bench for bench in (SURVEY, SUN, COLLECTOR, STORE, ROOF, RUN, CHARGE, CONTROL, PARTS, COMMISSION)
}

# pages that work like a bench and stand on no step of the tape
ASIDE: dict[str, Bench] = {FLUID.key: FLUID, FUNCTIONS.key: FUNCTIONS}
PAGES: dict[str, Bench] = BENCHES | ASIDE
