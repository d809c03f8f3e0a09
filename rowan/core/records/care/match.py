"""Which fault a log looks like: each is put into the loop's twin, and what it would have shown is held against what was read.

Score of a supposition: Student-t log-likelihood (ν = 4) of the blocks by the spread of each channel and part of the day, after the loop's
own numbers have been fitted within their priors, less ½·k·ln(days) for its free sizes. A fault may begin on any day. Source: methods 17.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.blocks import blocks_of
from rowan.core.records.care.evidence import PLACES, SAYS, Evidence, evidence_of
from rowan.core.records.care.faults import FAULTS, Change, Fault
from rowan.core.records.care.fit import ALIKE, SIZE_OFF, Fit, Leaks, levers_of, likelihood
from rowan.core.records.care.scene import Scene, filled
from rowan.core.records.care.signs import Twins, hot_hours, read_signs, signs_of
from rowan.core.records.readings import Planned
from rowan.core.terms.record import record

Array = NDArray[np.float64]
# what a fault must be better than healthy by before it is named; by the trial logs of `bin/rowan bench care`
LEAST_GAIN = 4.8
REFINED = 10  # faults whose first day is looked for
LEAST_READ = 0.3  # of the field that have to be read before its probe can be told from another
TRIES = 3  # of the day from which one holds, each with the loop's numbers fitted anew
TEMPERATURE = 3.0  # by which scores are softened before they become shares: the twin is no loop


@record
class Supposed:
    """A fault in one of its sizes, with its score over healthy, the day from which it holds, and what each channel says of it."""

    fault: Fault
    change: Change
    gain: float
    begins: int
    speaks: dict[str, float]


@record
class Match:
    """The answer: suppositions by share of weight, the best of each fault; healthy's own share; what the healthy loop is off its plan
    (shares of 1, [K], gauge [Pa]); days compared; what the log cannot show; what tells the first."""

    ranked: tuple[tuple[Supposed, float], ...]
    healthy: float
    off: dict[str, float]
    days: int
    unseen: tuple[Fault, ...]
    evidence: tuple[Evidence, ...] = ()

    @property
    def named(self) -> Supposed | None:
        """The fault to name: one that is clearly likelier than healthy; None for nothing found."""
        if not self.ranked or self.ranked[0][0].gain < LEAST_GAIN:
            return None
        return self.ranked[0][0]


@record
class Class:
    """Faults that a log cannot tell apart, the likeliest first, with what they weigh together."""

    members: tuple[Supposed, ...]
    share: float

    @property
    def first(self) -> Supposed:
        """The likeliest of them."""
        return self.members[0]


def classes_of(found: Match, channels: frozenset[str]) -> list[Class]:
    """The suppositions of a match in classes, the likeliest class first."""
    members: dict[str, list[tuple[Supposed, float]]] = {}
    for supposed, share in found.ranked:
        members.setdefault(supposed.fault.class_in(channels), []).append((supposed, share))
    made = [Class(tuple(s for s, _ in rows), sum(share for _, share in rows)) for rows in members.values()]
    return sorted(made, key=lambda one: -one.first.gain)


def suppositions(scene: Scene) -> Iterator[tuple[Fault, Change]]:
    """Every fault that this log could show, in every size."""
    for fault in FAULTS:
        if can_be_seen(fault, scene):
            for change in fault.sizes:
                yield fault, change


def can_be_seen(fault: Fault, scene: Scene) -> bool:
    """Whether a log has the channels a fault shows in."""
    if fault.key == "swapped" and np.isfinite(scene.read["field_c"]).mean() < LEAST_READ:
        return False
    for key in fault.needs:
        if key == "sun_w_m2":
            if not scene.has_sun:
                return False
        elif not np.isfinite(scene.read[key]).any():
            return False
    return scene.gauge is not None or fault.needs != ("gauge_pa",)


def match(scene: Scene, planned: Planned, *, told: Callable[[float], None] = lambda _: None) -> Match:
    """Holds every supposition against a log; `told` hears how far it is, 0 to 1."""
    court = _Court(scene, planned)
    rough: list[_Rough] = []
    every = list(suppositions(scene))
    for count, (fault, change) in enumerate(every):
        rough.append(court.rough(fault, change))
        told((count + 1) / (len(every) + REFINED))
    rough.sort(key=lambda one: -one.gain)
    best: dict[str, Supposed] = {}
    for one in rough:
        if len(best) >= REFINED and one.fault.key not in best:
            continue
        entry = court.from_its_day(one)
        if one.fault.key not in best or entry.gain > best[one.fault.key].gain:
            best[one.fault.key] = entry
    told(1.0)
    ordered = sorted(best.values(), key=lambda entry: -entry.gain)
    healthy, shares = _shares([entry.gain for entry in ordered])
    named = ordered[0] if ordered and ordered[0].gain >= LEAST_GAIN else None
    return Match(
        tuple(zip(ordered, shares, strict=True)),
        healthy,
        court.off,
        scene.days,
        tuple(fault for fault in FAULTS if not can_be_seen(fault, scene)),
        () if named is None else court.evidence(named),
    )


def _shares(gains: list[float]) -> tuple[float, list[float]]:
    """Healthy's share of weight, and that of each supposition by its gain over healthy."""
    scores = np.array([0.0, *gains]) / TEMPERATURE
    weights = np.exp(scores - scores.max())
    shares = weights / weights.sum()
    return float(shares[0]), [float(share) for share in shares[1:]]


@record
class _Rough:
    """A supposition after a first look: what it is better by at most, the day that takes, and what it leaves over if it always held."""

    fault: Fault
    change: Change
    gain: float
    begins: int
    left: Array


class _Court:
    """A log and its healthy loop, before which every supposition is tried."""

    def __init__(self, scene: Scene, planned: Planned) -> None:
        """Fits the healthy loop."""
        self.scene, self.planned, self.twins = scene, planned, Twins(scene)
        signs, out = signs_of(self.twins, planned, Change())
        self.blocks = blocks_of(scene, read_signs(scene), signs)
        self.healthy = self.blocks.of(signs)
        levers, priors = levers_of(self.twins, planned, self.blocks, self.healthy)
        self.fit = Fit(self.blocks, levers)
        self.base = self.blocks.value - self.healthy
        self.left, self.numbers, cost = self.fit(self.base)
        self.zero = ALIKE * float(likelihood(self.left).sum()) - cost
        self.leaks = Leaks(self.blocks, hot_hours(scene, out))
        self.off = {
            name: float(value) * prior for (name, prior), value in zip(priors.items(), self.numbers, strict=False)
        }

    def rough(self, fault: Fault, change: Change) -> _Rough:
        """A first look at a supposition, with the loop's numbers fitted as if it always held."""
        left = self._residual(change)
        if self.leaks.is_of(change):
            begins, _ = self.leaks.best(self.fit, left, self.base, change)
            there, *_ = self._fitted(left, change, begins)
            return _Rough(fault, change, float((likelihood(there) - likelihood(self.left)).sum()) * ALIKE, begins, left)
        # its size is left as it is: else the fault could be fitted away to fit the days before it began
        there, *_ = self.fit(left, self.numbers)
        begins, gain = self._from_day(likelihood(there) - likelihood(self.left))
        return _Rough(fault, change, gain * ALIKE, begins, left)

    def from_its_day(self, one: _Rough) -> Supposed:
        """A supposition from the day on from which it fits best, with the loop's numbers fitted to both parts."""
        begins, best = one.begins, (-np.inf, one.begins, self.left)
        for _ in range(TRIES):
            there, numbers, cost = self._fitted(one.left, one.change, begins)
            free = 1.0 + (begins > 0)
            score = ALIKE * float(likelihood(there).sum()) - cost - 0.5 * free * np.log(self.scene.days)
            if score - one.change.price > best[0]:
                best = (score - one.change.price, begins, there)
            moved = self._turns(one, numbers)
            if moved == begins:
                break
            begins = moved
        score, begins, there = best
        speaks = self.blocks.by_channel(ALIKE * (likelihood(there) - likelihood(self.left)))
        return Supposed(one.fault, one.change, float(score - self.zero), begins, speaks)

    def _fitted(self, left: Array, change: Change, begins: int) -> tuple[Array, Array, float]:
        """The loop's numbers fitted from the plan's and from the healthy loop's, whichever explains more, with the fault's size."""
        mixed = np.where(self.blocks.day >= begins, self.leaks.left(left, change, begins), self.base)
        size = SIZE_OFF * (self.base - mixed)
        tried = [self.fit(mixed, size=size), self.fit(mixed, self.numbers, size)]
        return max(tried, key=lambda found: ALIKE * float(likelihood(found[0]).sum()) - found[2])

    def evidence(self, named: Supposed) -> tuple[Evidence, ...]:
        """What parts a named supposition from a healthy loop."""
        left = self.leaks.left(self._residual(named.change), named.change, named.begins)
        return evidence_of(self.blocks, self.base, left, named.begins)

    def _turns(self, one: _Rough, numbers: Array) -> int:
        """The day at which the log turns from healthy to a supposition, by the same fitted numbers."""
        if self.leaks.is_of(one.change):
            return one.begins
        fitted, spread = self.fit.fitted(numbers[:-1]), self.blocks.spread
        left = one.left - float(numbers[-1]) * SIZE_OFF * (self.base - one.left)
        return self._from_day(likelihood(left / spread - fitted) - likelihood(self.base / spread - fitted))[0]

    def _from_day(self, gain: Array) -> tuple[int, float]:
        """The day from which the gain of all later ones is highest, and that gain."""
        later = np.cumsum(self.blocks.by_day(gain, self.scene.days)[::-1])[::-1]
        return int(np.argmax(later)), float(later.max())

    def _residual(self, change: Change) -> Array:
        """What is left of what was read under a change; where it claims nothing, as healthy has it."""
        if change.swapped:
            return self._swapped()
        signs, _ = signs_of(self.twins, self.planned, change)
        found = self.blocks.value - self.blocks.of(signs)
        return np.where(np.isfinite(found), found, self.base)

    def _swapped(self) -> Array:
        """What is left with field and foot in each other's place; what the controller did, it did by what it was told."""
        scene = self.scene
        field, foot = scene.read["field_c"], scene.read["low_c"]
        given = scene.given.copy()
        given[:, 0], given[:, 6] = filled(field), foot
        turned = replace(scene, read={**scene.read, "field_c": foot, "low_c": field}, given=given)
        signs, _ = signs_of(Twins(turned), self.planned, Change())
        found = self.blocks.of(read_signs(turned)) - self.blocks.of(signs)
        told = sum((self.blocks.only(name) for name in PLACES["pump"]), np.zeros(len(self.base)))
        return np.where(np.isfinite(found) & (told == 0), found, self.base)


def speech(supposed: Supposed, best: Supposed) -> dict[str, str]:
    """What each place of the loop says of a supposition: `fits`, `against` where the best fits it better, or nothing."""
    found = {}
    for place, channels in PLACES.items():
        here = [name for name in channels if name in supposed.speaks]
        if not here:
            continue
        says, said = sum(supposed.speaks[name] for name in here), sum(best.speaks.get(name, 0.0) for name in here)
        found[place] = "against" if says < said - SAYS or says < -SAYS else "fits" if says > SAYS else ""
    return found
