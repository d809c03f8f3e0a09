"""Design in, Reckoning out: each stage in working order, without the year. The one door for pages, papers, command line and tests."""

from __future__ import annotations

from functools import cached_property

from rowan.core.design.design import Design
from rowan.core.steps.charge.pressures import Setting
from rowan.core.steps.charge.result import (
    ChargeResult,
    DrainbackCharge,
    SealedCharge,
    sealed_charge,
    setting_of,
    states_of,
)
from rowan.core.steps.charge.stage import reckon_charge
from rowan.core.steps.charge.tub import Tub
from rowan.core.steps.charge.vessel import VesselState
from rowan.core.steps.collector.stage import CollectorResult, reckon_collector
from rowan.core.steps.commission.result import CommissionResult
from rowan.core.steps.commission.stage import reckon_commission
from rowan.core.steps.control.stage import ControlResult, Differential, differential, reckon_control
from rowan.core.steps.duty.stage import DutyResult, reckon_duty
from rowan.core.steps.parts.stage import PartsResult, reckon_parts
from rowan.core.steps.roof.holes import line_ends
from rowan.core.steps.roof.result import RoofResult
from rowan.core.steps.roof.stage import reckon_roof
from rowan.core.steps.run.drainback import Draining
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.run.stage import reckon_run
from rowan.core.steps.site.rows import rows_behind
from rowan.core.steps.site.stage import SiteResult, Sunlight, reckon_site
from rowan.core.steps.store.result import StoreResult
from rowan.core.steps.store.stage import reckon_store
from rowan.core.terms.figure import Figure
from rowan.core.terms.finding import Finding, in_order
from rowan.core.terms.record import record

# told with every saved state; raised where the same plan gives other figures
ENGINE_VERSION = "0.4.0"
# which stages' figures a bench shows
BENCH_STAGES = {
    "survey": ("site", "duty"),
    "sun": ("sunlight",),
    "collector": ("collector",),
    "store": ("store",),
    "roof": ("roof",),
    "run": ("run",),
    "charge": ("charge",),
    "control": ("control",),
    "parts": ("parts",),
    "commission": ("commission",),
}


@record
class Reckoning:
    """Everything reckoned of one design."""

    site: SiteResult
    duty: DutyResult
    run: RunResult
    store: StoreResult
    roof: RoofResult
    collector: CollectorResult
    charge: ChargeResult
    control: ControlResult
    parts: PartsResult
    commission: CommissionResult

    @property
    def sunlight(self) -> Sunlight:
        """The sun on the collectors' plane, a part of the site."""
        return self.site.sunlight

    @property
    def sealed(self) -> SealedCharge:
        """The charge of a sealed loop. Raises TypeError for a loop of another kind: ask `design.sealed` first."""
        return sealed_charge(self.charge)

    @property
    def setting(self) -> Setting | None:
        """Charge and fill of a loop with a vessel; None without one, or where the school cannot be."""
        return setting_of(self.charge)

    @property
    def differences(self) -> Differential:
        """The controller's differences. Raises TypeError for a loop without a pump: ask `design.pumped` first."""
        return differential(self.control)

    @property
    def vessel_states(self) -> dict[str, VesselState]:
        """The vessel's states by name; none without a vessel."""
        return states_of(self.charge)

    @property
    def tub(self) -> Tub | None:
        """The mixing tub of a loop that is filled with glycol."""
        return self.charge.tub if isinstance(self.charge, SealedCharge) else None

    @property
    def draining(self) -> Draining | None:
        """How the loop empties, of a loop that does."""
        return self.charge.draining if isinstance(self.charge, DrainbackCharge) else None

    @cached_property
    def figures(self) -> dict[str, Figure]:
        """Every figure by its key."""
        return {figure.key: figure for bench in BENCH_STAGES for figure in self.bench_figures(bench)}

    def bench_figures(self, bench: str) -> tuple[Figure, ...]:
        """The figures a bench shows."""
        return tuple(figure for stage in BENCH_STAGES[bench] for figure in getattr(self, stage).figures)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """Every finding, gravest first."""
        found: list[Finding] = []
        for stage in ("site", "collector", "store", "roof", "run", "charge", "control", "parts", "commission"):
            found += getattr(self, stage).findings
        return in_order(found)

    def bench_findings(self, bench: str) -> tuple[Finding, ...]:
        """The findings that belong on a bench, gravest first."""
        return tuple(f for f in self.findings if f.stage == bench)


def bench_of_figure(result: Reckoning, key: str) -> str:
    """The bench that shows a figure; empty where none does."""
    return next((bench for bench in BENCH_STAGES if any(f.key == key for f in result.bench_figures(bench))), "")


@record
class Known:
    """A design that has been reckoned already: what a change leaves alone is taken over from it."""

    design: Design
    result: Reckoning

    def runs_alike(self, design: Design) -> bool:
        """Whether nothing changed that the stages up to the run and the field are reckoned from."""
        old = self.design
        return (
            all(
                getattr(old, stage) == getattr(design, stage)
                for stage in ("survey", "sun", "duty", "collector", "store", "run")
            )
            and old.tilt_deg == design.tilt_deg
            and line_ends(old) == line_ends(design)
            and rows_behind(old) == rows_behind(design)
            and old.roof.way == design.roof.way
            and old.roof.planes == design.roof.planes
            and old.charge.kind == design.charge.kind
            and old.charge.fluid == design.charge.fluid
            and old.charge.share == design.charge.share
        )

    def lies_alike(self, design: Design) -> bool:
        """Whether nothing changed that the roof is reckoned from."""
        return all(getattr(self.design, stage) == getattr(design, stage) for stage in ("survey", "collector", "roof"))


def reckon(design: Design, known: Known | None = None) -> Reckoning:
    """Reckon a whole design without the year. Pure: the same design gives the same reckoning, `known` or not."""
    if known is not None and known.runs_alike(design):
        same = known.result
        site, duty, run, store, collector = same.site, same.duty, same.run, same.store, same.collector
    else:
        site = reckon_site(design)
        duty = reckon_duty(design, site)
        run = reckon_run(design, site)
        store = reckon_store(design, site)
        collector = reckon_collector(design, site, duty, run, store)
    roof = known.result.roof if known is not None and known.lies_alike(design) else reckon_roof(design)
    charge = reckon_charge(design, run)
    control = reckon_control(design, site, run, collector, charge)
    parts = reckon_parts(design, roof, run, charge)
    commission = reckon_commission(design, run, charge, control)
    return Reckoning(site, duty, run, store, roof, collector, charge, control, parts, commission)
