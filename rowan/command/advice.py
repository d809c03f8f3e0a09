"""`bin/rowan bench advice`: how often each finding fires, how many first designs are clean, and whether cures cure.

Facts and mutations are drawn from a seed, so that two runs of one tree give one table. Advice that condemns every plan says
nothing, and a cure that leaves its finding or brings a graver one is no cure: both are rates, and rates are counted here.
"""

from __future__ import annotations

import math
import random
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from rowan.core.appraise.appraisal import all_findings, appraised
from rowan.core.design.changes import changed, inputs
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.goods.places import PLACES, Place
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.studies.choices import chosen, with_what_belongs
from rowan.core.studies.cures import uncured
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import LEVELS, Change, Finding

FACT_SETS, MUTATED_PLANS = 200, 300
SEED = 14
ROOFS_SPREAD_DEG = 45.0  # of a roof's bearing about the equator: most people who ask have a fair roof
PEOPLE = (1, 2, 2, 3, 3, 4, 4, 4, 5, 5, 6, 8)  # households as they come
COVERINGS = ("slate", "tile", "metal", "shingle")


def fact_sets(count: int, seed: int = SEED) -> Iterator[Facts]:
    """Realistic facts: places like the catalogue's and between them, roofs from east by the equator to west, households, three heaters."""
    dice = random.Random(seed)  # noqa: S311  dice of a count keep no secret
    for _ in range(count):
        place = _place(dice)
        equator = 180.0 if place.latitude_deg >= 0 else 0.0
        bearing = (equator + max(-90.0, min(90.0, dice.gauss(0, ROOFS_SPREAD_DEG)))) % 360
        yield Facts(
            place=place,
            roof_azimuth_deg=round(bearing),
            roof_tilt_deg=round(dice.uniform(15, 50)),
            covering=dice.choice(COVERINGS),
            persons=dice.choice(PEOPLE),
            heater=dice.choice(("oil", "gas", "electric")),
            storeys=dice.choice((1, 2, 2, 2, 3)),
        )


def _place(dice: random.Random) -> Place:
    """A place near one of the catalogue's: some degrees colder or warmer, sunnier or duller, hard or soft."""
    base = dice.choice(list(PLACES.values()))
    warmer, sun = dice.gauss(0, 2.0), dice.uniform(0.9, 1.1)
    return replace(
        base,
        altitude_m=max(0.0, round(base.altitude_m + dice.uniform(-80, 300))),
        design_minimum_c=round(base.design_minimum_c + warmer + dice.uniform(-2, 2)),
        hardness_mol_m3=round(dice.choice((0.8, 1.2, 1.9, 3.0)), 1),
        ghi_kwh_m2_day=tuple(round(g * sun, 3) for g in base.ghi_kwh_m2_day),
        air_c=tuple(round(t + warmer, 2) for t in base.air_c),
    )


def mutated(design: Design, dice: random.Random) -> Design:
    """The plan with one to three inputs set otherwise, as a hand might: near what they were, or another choice."""
    for _ in range(dice.randint(1, 3)):
        for _ in range(20):
            try:
                design = changed(design, _mutation(design, dice))
                reckon(design)
                break
            except RowanError:
                continue
    return design


def _mutation(design: Design, dice: random.Random) -> list[Change]:
    """One change, with what goes with it."""
    if dice.random() < 0.1:
        return chosen(design, "collector.item", dice.choice(list(COLLECTORS.values())))
    held = dice.choice([one for one in inputs(design) if one.spec.kind in ("number", "whole", "choice", "flag")])
    if held.spec.kind in ("choice", "flag"):
        return chosen(design, held.path, dice.choice([key for key, _ in held.spec.choices]))
    now = float(held.value) if held.value is not None else (held.spec.low or 1.0)
    value = now * math.exp(dice.gauss(0, 0.5)) if now else dice.uniform(-1, 1)
    low, high = held.spec.low, held.spec.high
    value = min(max(value, low if low is not None else value), high if high is not None else value)
    return chosen(design, held.path, round(value) if held.spec.kind == "whole" else value)


@dataclass
class Tally:
    """What was counted over some plans."""

    plans: int = 0
    clean: int = 0
    fired: Counter[str] = field(default_factory=Counter)
    levels: dict[str, set[str]] = field(default_factory=dict)
    offered: Counter[str] = field(default_factory=Counter)
    cured: Counter[str] = field(default_factory=Counter)
    failures: list[str] = field(default_factory=list)

    @property
    def clean_share(self) -> float:
        """Share of plans without stop and fix [-]."""
        return self.clean / max(self.plans, 1)

    @property
    def cured_share(self) -> float:
        """Share of the cures offered that cure [-]."""
        return sum(self.cured.values()) / max(sum(self.offered.values()), 1)


def findings_of(design: Design) -> tuple[Reckoning, tuple[Finding, ...]]:
    """A plan's findings, those of its year among them."""
    result = reckon(design)
    return result, all_findings(result, appraised(design, result, cures=True))


def note(tally: Tally, design: Design, *, cures: bool) -> None:
    """Counts a plan's findings, and what each of its cures does."""
    result, found = findings_of(design)
    tally.plans += 1
    tally.clean += not any(f.level in ("stop", "fix") for f in found)
    for key in {f.key for f in found}:
        tally.fired[key] += 1
    for one in found:
        tally.levels.setdefault(one.key, set()).add(one.level)
    if cures:
        for one in found:
            for index, cure in enumerate(one.cures):
                tally.offered[one.key] += 1
                failure = failure_of(design, result, found, one, index)
                if failure:
                    tally.failures.append(f"{one.key}, “{cure.label.text()}”: {failure}")
                else:
                    tally.cured[one.key] += 1


def failure_of(design: Design, result: Reckoning, before: tuple[Finding, ...], finding: Finding, index: int) -> str:
    """Why a cure does not cure: refused, its finding stands still, or a graver one has come; empty where it cures."""
    try:
        tried = changed(design, with_what_belongs(design, finding.cures[index].changes))
        after = reckon(tried, Known(design, result))
    except RowanError as error:
        return f"refused: {error}"
    return uncured(before, all_findings(after, appraised(tried, after)), finding)


def measured(facts: int = FACT_SETS, plans: int = MUTATED_PLANS, seed: int = SEED) -> tuple[Tally, Tally]:
    """Proposals of that many fact sets, and that many mutated plans with their cures tried."""
    first, second = Tally(), Tally()
    proposals = [propose(one) for one in fact_sets(facts, seed)]
    for design in proposals:
        note(first, design, cures=False)
    dice = random.Random(seed + 1)  # noqa: S311
    for number in range(plans):
        note(second, mutated(proposals[number % len(proposals)], dice), cures=True)
    return first, second


def run_advice_bench() -> None:
    """Print the tables, as `docs/advice.md` has them."""
    first, second = measured()
    print(f"Of {first.plans} first designs {first.clean_share:.1%} are clean: no stop, no fix.\n")
    _print_rates(first, cures=False)
    offered = sum(second.offered.values())
    print(f"\nOn {second.plans} mutated plans {offered} cures were proposed; {second.cured_share:.1%} cure.\n")
    _print_rates(second, cures=True)
    if second.failures:
        print("\nThose that do not:\n")
    for line, count in Counter(second.failures).most_common():
        print(f"- {count} × {line}")


def _print_rates(tally: Tally, *, cures: bool) -> None:
    print("| finding | level | plans |" + (" cures that cure |" if cures else ""))
    print("|---|---|---|" + ("---|" if cures else ""))
    for key, count in tally.fired.most_common():
        levels = ", ".join(level for level in LEVELS if level in tally.levels[key])
        cured = f" {tally.cured[key]} of {tally.offered[key]} |" if cures else ""
        print(f"| {key} | {levels} | {count / tally.plans:.1%} |{cured}")
