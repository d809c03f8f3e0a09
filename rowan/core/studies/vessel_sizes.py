"""Other sizes of vessel on the same loop, by the same school."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.charge.result import ChargeResult, SchoolView, SealedCharge
from rowan.core.steps.charge.stage import school_in
from rowan.core.steps.charge.vessel import STANDARD_L, VesselState
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

SMALLER, LARGER = 2, 3  # sizes tried beside the plan's


@record
class SizeTried:
    """A standard size [L] in the plan's number of vessels: its view by the plan's school, and whether it will do."""

    size_l: float
    view: SchoolView
    chosen: bool

    @property
    def stagnation(self) -> VesselState | None:
        """Its state standing hot."""
        return self.view.states.get("stagnation")

    def does(self, end: float) -> bool:
        """Whether it stays at or under the highest planned pressure [Pa] with its membrane in its travel."""
        state = self.stagnation
        return (
            state is not None
            and not state.full
            and state.station is not None
            and state.station <= end
            and not state.over_travel
            and not self.view.states["cold"].empty
        )


def sizes_tried(design: Design, run: RunResult, charge: ChargeResult) -> tuple[SizeTried, ...]:
    """The plan's vessel between the sizes next to it; none where the loop has no vessel."""
    if not isinstance(charge, SealedCharge):
        return ()
    own, count = design.charge.vessel_l.value, design.charge.vessels.value
    smaller = [size for size in STANDARD_L if size < own][-SMALLER:]
    larger = [size for size in STANDARD_L if size > own][:LARGER]
    return tuple(
        SizeTried(float(size), school_in(design, run, charge, vessel=size * count * LITRE), size == own)
        for size in (*smaller, own, *larger)
    )
