"""The runs there are, by their keys, and the bench each belongs to."""

from __future__ import annotations

from rowan.web.steps.charge.ageing import AGEING
from rowan.web.studies.band import BAND
from rowan.web.studies.candidates import CANDIDATES
from rowan.web.studies.functions import FUNCTIONS_YEAR
from rowan.web.studies.kinds import RunKind
from rowan.web.studies.lines import LINES
from rowan.web.studies.pair_year import PAIR_YEAR
from rowan.web.studies.planes import PLANES
from rowan.web.studies.sizes import SIZES
from rowan.web.studies.standstill import STANDSTILL
from rowan.web.studies.systems import SYSTEMS

RUNS: dict[str, tuple[RunKind, str]] = {
    CANDIDATES.key: (CANDIDATES, "collector"),
    SYSTEMS.key: (SYSTEMS, "collector"),
    PLANES.key: (PLANES, "sun"),
    BAND.key: (BAND, "store"),
    AGEING.key: (AGEING, "fluid"),
    LINES.key: (LINES, "run"),
    STANDSTILL.key: (STANDSTILL, "charge"),
    SIZES.key: (SIZES, "store"),
    PAIR_YEAR.key: (PAIR_YEAR, "control"),
    FUNCTIONS_YEAR.key: (FUNCTIONS_YEAR, "functions"),
}
