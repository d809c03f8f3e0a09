"""What of a first design needs a reckoning: speed, pipe, vessel, differences, cut-out; so that it keeps the product's own rules.

A proposal that its own bench condemns teaches people to look past findings. Where one is left after the trade's rules were
followed, the cure that the bench would offer is taken, if it cures and nothing graver comes. Source: defaults, proposal.
"""

from __future__ import annotations

import math

from rowan.core.appraise.appraisal import appraise
from rowan.core.design.changes import changed, locate
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.steps.charge.result import states_of
from rowan.core.steps.charge.vessel import membrane_too_hot
from rowan.core.steps.control.conflicts import UNDER_BOILING_K, following
from rowan.core.steps.control.differences import START_ABOVE_STOP_K, proposed_stop
from rowan.core.studies.choices import with_what_belongs
from rowan.core.studies.cures import uncured
from rowan.core.terms.errors import ImpossibleInputError, RowanError
from rowan.core.terms.finding import Change, Finding
from rowan.core.terms.units import LITRE_H

USUAL_CUT_OUT_C = 130.0  # °C, where neither boiling nor a part asks for less
MOST_STOP_K = 30.0  # K, what the input takes
ROUNDS = 4  # cures taken one after another at most
FACTS = ("survey.", "duty.", "sun.")


def settled(design: Design) -> Design:
    """The design with what follows from its first reckoning. Raises ImpossibleInputError where no vessel suits it."""
    first = reckon(design)
    wanted = design.run.flow_l_h.value * LITRE_H
    flows = [(abs(p.flow - wanted), i) for i, p in enumerate(first.run.pump.points, 1) if p]
    design = changed(design, [Change("run.speed", min(flows)[1] if flows else 1)])
    # what hangs on the pipe is settled after it
    design, second = _cured(design, reckon(design), "run")
    stop = min(proposed_stop(floor=second.differences.floor), MOST_STOP_K)
    changes = [
        Change("control.stop_k", stop),
        Change("control.start_k", stop + START_ABOVE_STOP_K),
        Change("control.cut_out_c", proposed_cut_out(design, second)),
        *following(design, second.run),
        *(_vessel(design, second) if design.sealed else ()),
    ]
    tried = changed(design, changes)
    return _calmed(*_cured(tried, reckon(tried, Known(design, second))))


def proposed_cut_out(design: Design, result: Reckoning) -> float:
    """The cut-out [°C]: the usual one, and well under boiling on top of the hot loop and under what its parts stand."""
    lowest = min(design.run.joint_rating_c.value, design.run.pipe.value.rating_c)
    hot = states_of(result.charge).get("hot")
    boils = hot.boiling_on_top if hot else None
    limits = [USUAL_CUT_OUT_C, *(limit - UNDER_BOILING_K for limit in (lowest, boils) if limit is not None)]
    least = locate(design, "control.cut_out_c").spec.low or 0.0
    return max(float(math.floor(min(limits))), least)


def _vessel(design: Design, result: Reckoning) -> list[Change]:
    """The vessel that is needed, and a cooling vessel before it where the membrane would be too hot."""
    charge = result.sealed
    need = charge.need
    if need is None:
        raise ImpossibleInputError(
            "no vessel suits these facts: the field is too large or the house too high for a relief of {relief}",
            relief=(design.charge.relief_gauge_pa.value, "pressure"),
        )
    between = result.run.route.contents_of("cold")
    hot = membrane_too_hot(line_contents=between, taken_up=charge.expansion + charge.steam.volume)
    return [
        Change("charge.vessel_l", float(need.standard_l)),
        Change("charge.vessels", need.vessels),
        Change("charge.cooling_vessel", hot),
    ]


def _of(result: Reckoning, stage: str) -> tuple[Finding, ...]:
    """The findings of a stage, of all where none is named."""
    return tuple(finding for finding in result.findings if stage in ("", finding.stage))


def _cured(design: Design, result: Reckoning, stage: str = "") -> tuple[Design, Reckoning]:
    """The plan after the cures that its benches would offer for findings of a stage, or of all, gravest first, as far as they cure."""
    for _ in range(ROUNDS):
        found = _of(result, stage)
        better = next((tried for finding in found if (tried := _tried(design, result, finding, stage))), None)
        if better is None:
            return design, result
        design, result = better
    return design, result


def _tried(design: Design, result: Reckoning, finding: Finding, stage: str = "") -> tuple[Design, Reckoning] | None:
    """The plan after the first of a finding's cures that cures it and brings nothing as grave; None where none does."""
    before = _of(result, stage)
    for cure in finding.cures:
        # what somebody said of house and people is no proposal's to change
        if any(change.path.startswith(FACTS) for change in cure.changes):
            continue
        try:
            tried = changed(design, with_what_belongs(design, cure.changes))
            after = reckon(tried, Known(design, result))
        except RowanError:
            continue
        now = _of(after, stage)
        fewer = len(now) < len(before) or finding not in before
        if fewer and not uncured(result.findings, after.findings, finding):
            return tried, after
    return None


def _calmed(design: Design, result: Reckoning) -> Design:
    """The plan after what calms its pump, where its days say that it hunts: the cures offered have been run on them."""
    for finding in appraise(design, result, None, cures=True).findings:
        better = _tried(design, result, finding)
        if better is not None:
            return better[0]
    return design
