"""What is left at the pump's inlet: the vessel stands behind the pump, so the pump pulls its own side down."""

from __future__ import annotations

import math

from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import KPA

FILL_STEP_PA = 10e3  # Pa, the steps in which a fill is typed as a cure


def inlet_head(run: RunResult) -> float | None:
    """Head of the pump on the cold loop [Pa], where it pulls hardest; the warm loop's where it does not turn in the cold."""
    pump = run.pump
    point = pump.cold_points[pump.speed - 1] or pump.point
    return point.head if point else None


def inlet_figures(run: RunResult, charge: SealedCharge) -> tuple[Figure, ...]:
    """The pressure at the pump's inlet, gauge; none where the school cannot be or the pump moves nothing."""
    head = inlet_head(run)
    if charge.setting is None or head is None:
        return ()
    return (
        closed_form(
            key="inlet",
            name="At the pump's inlet",
            basis=say("pump running, filled cold"),
            dimension_name="pressure",
            part="pump",
            sentence=say(
                "The vessel stands on the field's side of the pump and keeps its pressure there; what the pump lifts is missing at its inlet."
            ),
            expression=Expression(
                "fill - lift",
                {
                    "fill": Symbol(charge.setting.fill / KPA, "p", "fill", "kPa"),
                    "lift": Symbol(head / KPA, "p", "pump", "kPa"),
                },
            ),
            letter="p",
            letter_index="inlet",
            result_unit="kPa",
            scale=KPA,
            window=Window(0.0, None, "under the air's pressure every joint before the pump draws air"),
            source=methods(10),
        ),
    )


def inlet_findings(run: RunResult, charge: SealedCharge) -> tuple[Finding, ...]:
    """A pump that pulls its inlet under the air's pressure, and the fill at which it no longer does."""
    head = inlet_head(run)
    if charge.setting is None or head is None or charge.setting.fill >= head:
        return ()
    wanted = math.ceil(head / FILL_STEP_PA) * FILL_STEP_PA
    cures = (
        Cure(
            say("Fill to {p}", p=Quantity(wanted, "pressure")),
            (Change("charge.school", "typed"), Change("charge.typed_fill_gauge_pa", wanted)),
            "inlet",
        ),
    )
    return (
        Finding(
            key="inlet_low",
            level="fix",
            stage="charge",
            part="pump",
            title=say("the pump pulls air in before it"),
            reason=say(
                "It lifts {h} and the loop is filled to {p}: its inlet stands under the air's pressure, and joints and glands there draw air that no vent gets rid of.",
                h=Quantity(head, "pressure"),
                p=Quantity(charge.setting.fill, "pressure"),
            ),
            quantity=Quantity(charge.setting.fill - head, "pressure"),
            limit=Quantity(0.0, "pressure"),
            cures=cures if wanted < charge.end else (),
            source=methods(10),
        ),
    )
