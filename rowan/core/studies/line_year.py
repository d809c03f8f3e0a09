"""What the run costs in a year: heat the lines lose, and what the pump takes, out of the plan's own year."""

from __future__ import annotations

from rowan.core.reckon import Reckoning
from rowan.core.simulation.year import Year
from rowan.core.terms.record import record


@record
class LineYear:
    """A year of the run: heat into the store, heat lost by both lines, pump electricity [J]; running time [s]; legs [J]."""

    into_store: float
    lost: float
    pump: float
    running: float
    legs: tuple[tuple[str, str, float], ...]

    @property
    def share_lost(self) -> float:
        """Lost of what left the field [-]."""
        whole = self.into_store + self.lost
        return self.lost / whole if whole > 0 else 0.0


def line_year(reckoning: Reckoning, year: Year) -> LineYear:
    """The run's year. The lines' loss is divided over the legs by what each loses while the loop works."""
    run = reckoning.run
    total = sum(found.heat for found in run.loss.legs)
    lost = max(year.total("line_loss"), 0.0)
    legs = tuple(
        (found.leg.line, found.leg.id, lost * found.heat / total if total > 0 else 0.0) for found in run.loss.legs
    )
    running = year.total("pump_time")
    return LineYear(year.solar_heat, lost, running * run.pump_power, running, legs)
