"""Commissioning: the steps for this kind of loop with this job's litres, pressures and times."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cached_property

from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import LoopKind
from rowan.core.goods.ratings import HOSES_PA
from rowan.core.steps.charge.ratings import test_pressure
from rowan.core.steps.charge.result import ChargeResult, setting_of
from rowan.core.steps.commission.buried import buried_steps
from rowan.core.steps.commission.constants import plan_constants
from rowan.core.steps.commission.deviations import DERIVED
from rowan.core.steps.commission.direct import direct_steps
from rowan.core.steps.commission.drainback import drainback_steps
from rowan.core.steps.commission.figures import PURGE_M_S, commission_figures, station_flow
from rowan.core.steps.commission.kits import kit_findings
from rowan.core.steps.commission.loops import valve_graph
from rowan.core.steps.commission.order import Job, raised_pressure, with_handles
from rowan.core.steps.commission.pressure_test import air_energy, air_per_kelvin
from rowan.core.steps.commission.result import CommissionResult, Step
from rowan.core.steps.commission.sealed import sealed_steps
from rowan.core.steps.commission.service import service_steps
from rowan.core.steps.commission.thermosiphon import thermosiphon_steps
from rowan.core.steps.commission.valves import ValveGraph
from rowan.core.steps.control.stage import ControlResult
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Figure, Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE_H

WRITTEN: dict[LoopKind, Callable[[Job], tuple[Step, ...]]] = {
    "sealed": sealed_steps,
    "drainback": drainback_steps,
    "direct": direct_steps,
    "thermosiphon": thermosiphon_steps,
}
STEP_L_H = 50.0  # L/h, what a flow setter is read to
TEST_C = 15.0  # °C of the test water


@record
class Work:
    """The work on site for a design as it is reckoned; each part is made once, when somebody asks for it."""

    design: Design
    run: RunResult
    charge: ChargeResult
    control: ControlResult
    own: tuple[Figure, ...]

    @cached_property
    def graph(self) -> ValveGraph:
        """The valve graph of the loop."""
        return valve_graph(self.design)

    @cached_property
    def job(self) -> Job:
        """What the steps are written from."""
        figures = (*self.run.figures, *self.charge.figures, *self.control.figures, *self.own)
        by_key = {figure.key: figure for figure in figures}
        return Job(self.design, self.run, self.charge, self.control, by_key, self.graph)

    @cached_property
    def steps(self) -> tuple[Step, ...]:
        """The steps of this kind of loop, with their handles."""
        return with_handles(self.graph, WRITTEN[self.design.charge.kind.value](self.job))

    @cached_property
    def buried(self) -> tuple[Step, ...]:
        """The tests of what will be buried."""
        return with_handles(self.graph, buried_steps(self.job))

    @cached_property
    def service(self) -> tuple[Step, ...]:
        """The steps of the yearly service."""
        return service_steps(self.job, self.steps)

    @cached_property
    def constants(self) -> dict[str, float]:
        """The symbols that begin with `plan_` [SI]."""
        return plan_constants(self.job)


def reckon_commission(design: Design, run: RunResult, charge: ChargeResult, control: ControlResult) -> CommissionResult:
    """The steps of a design with their targets, its figures and findings."""
    figures = commission_figures(design, run, charge)
    purged = design.pumped and not design.drains
    sprayed = design.sealed and design.commission.kit.value == "sprayer"
    findings = (
        *(_purge(design, run.warm.widest) if purged and not sprayed else ()),
        *(kit_findings(design, charge) if design.sealed else ()),
        *_air(design, charge),
        *_hose(design, charge),
    )
    return CommissionResult(
        Work(design, run, charge, control, figures), test_pressure(design), figures, findings, DERIVED
    )


def _hose(design: Design, charge: ChargeResult) -> list[Finding]:
    """A hose that is given more than it stands: it whips, in the face of whoever kneels before the station."""
    if design.drains:
        return []
    setting, given = setting_of(charge), design.main_gauge_pa
    if design.sealed:
        water = test_pressure(design) if design.commission.test.value != "air" else 0.0
        given = max(water, raised_pressure(design, setting.fill) if setting else 0.0)
    stands = HOSES_PA[design.commission.hose.value]
    if given <= stands * (1 + 1e-9):
        return []
    cures = (
        (Cure(say("Take filling hoses"), (Change("commission.hose", "filling"),)),)
        if HOSES_PA["filling"] >= given and design.commission.hose.value != "filling"
        else ()
    )
    return [
        Finding(
            key="hose_over_rating",
            level="stop",
            stage="commission",
            part="gauge",
            title=say("the hose is given more than it stands"),
            reason=say(
                "Test, raising or the main bring {g}; it stands {s}. A hose that lets go whips, and what is in it is hot or stings.",
                g=Quantity(given, "pressure"),
                s=Quantity(stands, "pressure"),
            ),
            quantity=Quantity(given, "pressure"),
            limit=Quantity(stands, "pressure"),
            cures=cures,
            source=methods(13),
        )
    ]


def _purge(design: Design, bore: float) -> list[Finding]:
    area = math.pi / 4 * bore**2
    speed = station_flow(design) / area
    if speed >= PURGE_M_S:
        return []
    wanted = -(-PURGE_M_S * area / LITRE_H // STEP_L_H) * STEP_L_H
    return [
        Finding(
            key="purge_slow",
            level="fix",
            stage="commission",
            part="hot_line",
            title=say("the filling pump is too weak to purge this pipe"),
            reason=say(
                "{v} in a bore of {d} leaves bubbles behind in every line that runs downward. At least {l} carries them out.",
                v=Quantity(speed, "velocity"),
                d=Quantity(bore, "pipe_size"),
                l=Quantity(PURGE_M_S, "velocity"),
            ),
            quantity=Quantity(speed, "velocity"),
            limit=Quantity(PURGE_M_S, "velocity"),
            cures=(
                Cure(
                    say("Bring a pump that gives {q}", q=Quantity(wanted * LITRE_H, "flow")),
                    (Change("commission.station_flow_l_h", wanted),),
                    "purge_speed",
                ),
            ),
            source=methods(8),
        )
    ]


def _air(design: Design, charge: ChargeResult) -> list[Finding]:
    if design.commission.test.value != "air":
        return []
    pressure = test_pressure(design) + charge.atmosphere
    energy = air_energy(pressure_abs=pressure, volume=charge.contents.total, atmosphere_pa=charge.atmosphere)
    return [
        Finding(
            key="air_test",
            level="mind",
            stage="commission",
            part="gauge",
            title=say("an air test stores energy"),
            reason=say(
                "{e} come free at once if a joint lets go, and {k} of warming moves the gauge by {p}. Air only where water would freeze.",
                e=Quantity(energy, "work"),
                k=Quantity(1.0, "difference", 0),
                p=Quantity(
                    air_per_kelvin(p1=test_pressure(design), t1=TEST_C, atmosphere_pa=charge.atmosphere), "pressure"
                ),
            ),
            quantity=Quantity(energy, "work"),
            limit=None,
            cures=(Cure(say("Test with water"), (Change("commission.test", "water"),), "test_pressure"),),
            source=methods(13),
        )
    ]
