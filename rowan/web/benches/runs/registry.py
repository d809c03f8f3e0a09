"""The runs there are, by their keys, and the bench each belongs to."""

from __future__ import annotations

from rowan.web.benches.runs.ageing import AGEING
from rowan.web.benches.runs.band import BAND
from rowan.web.benches.runs.candidates import CANDIDATES
from rowan.web.benches.runs.functions import FUNCTIONS_YEAR
from rowan.web.benches.runs.kinds import RunKind
from rowan.web.benches.runs.lines import LINES
from rowan.web.benches.runs.pair_year import PAIR_YEAR
from rowan.web.benches.runs.planes import PLANES
from rowan.web.benches.runs.sizes import SIZES
from rowan.web.benches.runs.systems import SYSTEMS

RUNS: dict[str, tuple[RunKind, str]] = {
    CANDIDATES.key: (CANDIDATES, "collector"),
    SYSTEMS.key: (SYSTEMS, "collector"),
    PLANES.key: (PLANES, "sun"),
    BAND.key: (BAND, "store"),
    AGEING.key: (AGEING, "fluid"),
    LINES.key: (LINES, "run"),
    SIZES.key: (SIZES, "store"),
    PAIR_YEAR.key: (PAIR_YEAR, "control"),
    FUNCTIONS_YEAR.key: (FUNCTIONS_YEAR, "functions"),
}
