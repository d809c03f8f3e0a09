"""Two planes told as one roof: what is shared is said once, what is a plane's own is said of either. Source: methods 12."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.roof import RoofPlane
from rowan.core.design.planes import in_whole, parts
from rowan.core.steps.roof.fitting import lies_clear
from rowan.core.steps.roof.result import RoofResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding

# the same on both planes: told once
SHARED_FIGURES = ("gust_pressure", "foot_holds", "rails_apart", "marking")
SHARED_FINDINGS = (
    "roof_in_doubt", "fixing_dropped", "fixing_discouraged", "marking_error", "rails_window", "collector_gust", "collector_snow",
    "eave_not_level", "roof_outlived", "out_of_square",
)  # fmt: skip


def joined(design: Design, first: RoofResult, beside: RoofResult | None) -> RoofResult:
    """The whole roof as it is handed on; cures are changes of the whole design."""
    if beside is None:
        findings = tuple(_elsewhere(design, finding) for finding in first.findings)
        return replace(first, findings=findings)
    plane = design.plane_beside
    assert plane is not None  # noqa: S101  what lies on the other plane has one
    own = [f for f in beside.figures if f.key not in SHARED_FIGURES]
    figures = (
        *(f if f.key in SHARED_FIGURES else replace(f, name=f"{f.name}, first plane") for f in first.figures),
        *(replace(f, key=f"{f.key}_beside", name=f"{f.name}, other plane") for f in own),
    )
    findings = (
        *(_of(design, finding, None) for finding in first.findings),
        *(_of(design, finding, plane) for finding in beside.findings if finding.key not in SHARED_FINDINGS),
    )
    return replace(first, beside=beside, figures=figures, findings=findings)


def _of(design: Design, finding: Finding, plane: RoofPlane | None) -> Finding:
    """A finding of one plane, said of the whole; a cure's figure is that plane's."""
    cures = tuple(
        replace(
            cure,
            changes=in_whole(design, cure.changes, plane),
            measure=f"{cure.measure}_beside"
            if plane is not None and cure.measure.startswith("foot_")
            else cure.measure,
        )
        for cure in finding.cures
    )
    if plane is None:
        return replace(finding, cures=cures)
    title = say("other plane: {title}", title=finding.title)
    return replace(finding, key=f"{finding.key}_beside", title=title, cures=cures)


def _elsewhere(design: Design, finding: Finding) -> Finding:
    """A field that does not fit may lie on two planes, where another one is known."""
    if finding.key != "field_off_roof":
        return finding
    return replace(finding, cures=(*finding.cures, *_on_another(design)))


def _on_another(design: Design) -> Iterator[Cure]:
    """As many on another plane as leave the rest a place on the first; each tried."""
    if design.collector.count.value < 2:
        return
    for plane in design.roof.planes:
        for count in range(1, design.collector.count.value):
            changes = _laid_on(design, plane, count)
            if all(lies_clear(part) for part in parts(changed(design, changes))):
                words = say("Lay {n} on the plane to {b}", n=str(count), b=Quantity(plane.azimuth_deg, "bearing"))
                yield Cure(words, changes, "solar_share")
                break


def _laid_on(design: Design, plane: RoofPlane, count: int) -> tuple[Change, ...]:
    path = f"roof.planes.{plane.id}"
    return (
        Change(f"{path}.count", count),
        Change("collector.rows", "1"),
        Change("roof.field_x_m", None),
        Change("roof.field_y_m", None),
    )
