"""What a task is made on: a plan with its reckoning, and the seed of what is left to chance."""

from __future__ import annotations

import numpy as np

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.control.stage import Differential
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record


@record
class Ground:
    """A plan, its reckoning, and a seed: the same give the same task."""

    design: Design
    result: Reckoning
    seed: int

    def dice(self, which: str) -> np.random.Generator:
        """Chance of one task; another task with the same seed has its own."""
        return np.random.default_rng([self.seed, *which.encode()])

    @property
    def sealed(self) -> SealedCharge:
        """The charge of a loop with a vessel. Raises ImpossibleInputError for another, or one whose vessel cannot be set."""
        charge = self.result.charge
        if not isinstance(charge, SealedCharge) or charge.setting is None:
            raise ImpossibleInputError("this task asks for a sealed loop whose vessel can be set")
        return charge

    @property
    def controlled(self) -> Differential:
        """The differences of a loop with a pump. Raises ImpossibleInputError for one without."""
        control = self.result.control
        if not isinstance(control, Differential):
            raise ImpossibleInputError("this task asks for a loop with a pump and a controller")
        return control
