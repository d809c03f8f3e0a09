"""How long a loop's fluid stood hot by its log, and what that does to its pH a year. Source: methods 9, 19."""

from __future__ import annotations

import numpy as np

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.logs.log import GAP_STEPS, Log
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.simulate import sky_of
from rowan.core.steps.charge.tub import Ageing, ageing
from rowan.core.terms.calendar import DAY_S, DAYS
from rowan.core.terms.record import record


@record
class FluidAge:
    """Time a field stood hot and time it was read [s], and how the fluid ages at that rate; None for a loop without glycol."""

    hot: float
    read: float
    ageing: Ageing | None


def fluid_age(design: Design, result: Reckoning, log: Log) -> FluidAge | None:
    """What a log says of the fluid's age; None where its field was not logged. Raises ImpossibleInputError as `system_of`."""
    field = log.columns.get("field_c")
    if field is None or not np.isfinite(field).any():
        return None
    until = np.diff(log.at, append=log.at[-1] + log.step).astype(float)
    lasts = np.where(until > GAP_STEPS * log.step, float(log.step), until)
    good = np.isfinite(field)
    stands = system_of(design, result, sky_of(design).weather).stagnation
    hot, read = float(lasts[good & (field >= stands)].sum()), float(lasts[good].sum())
    a_year = hot / read * DAYS * DAY_S if read > 0 else 0.0
    return FluidAge(hot, read, ageing(design, a_year) if design.glycol_share else None)
