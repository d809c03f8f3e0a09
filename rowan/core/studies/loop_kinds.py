"""Which kind of loop suits a job: what stops one, what each brings with it, and a recommendation. Source: practice 5."""

from __future__ import annotations

from collections.abc import Sequence

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning, reckon
from rowan.core.simulation.year import Year
from rowan.core.steps.charge.findings import freezes_from
from rowan.core.steps.store.own import OWN_LOOP
from rowan.core.steps.store.water import hard
from rowan.core.studies.choices import with_kind
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.language import Message
from rowan.core.terms.record import record
from rowan.core.weather.air import WATER_OUTSIDE_FROM_C

KINDS = ("sealed", "drainback", "direct", "thermosiphon")
NAMES = {
    "sealed": "sealed glycol loop",
    "drainback": "drainback",
    "direct": "direct",
    "thermosiphon": "thermosiphon",
}
PARTS = {
    "sealed": Message("glycol, vessel, relief, air removal, gauge"),
    "drainback": Message("reservoir or open store, pump that lifts, pipe with fall"),
    "direct": Message("valves and vents that stand tap water"),
    "thermosiphon": Message("store over the field, tempering valve; no pump, no controller"),
}
UPKEEP = {
    "sealed": Message("pressure, frost point and pH each year; fluid in some years"),
    "drainback": Message("level mark each year; no fluid, no vessel"),
    "direct": Message("scale and frost protection each year"),
    "thermosiphon": Message("scale; relief and frost each year"),
}
MANY_HOURS = 50.0  # h a year standing hot, from which draining pays, rule of thumb
LOW_STORE_M = 0.0  # m; a thermosiphon's store must not lie below the field's top


@record
class Objection:
    """What speaks against a kind: a hard stop, or something to mend; `key` as a finding's."""

    level: Level
    words: Statement
    key: str = ""


@record
class Judgement:
    """A kind with its objections, its year if it has one, and why it has none."""

    kind: str
    objections: tuple[Objection, ...]
    year: Year | None
    refusal: RowanError | None = None

    @property
    def possible(self) -> bool:
        """Whether nothing stops it."""
        return self.year is not None and all(o.level != "stop" for o in self.objections)

    @property
    def stands_hours(self) -> float:
        """Hours a year in which the field stands hot [h]."""
        return self.year.total("stagnation_time") / 3600 if self.year else 0.0


def objections(design: Design, result: Reckoning, kind: str) -> tuple[Objection, ...]:
    """What stops a kind here, and what would have to be mended for it."""
    if kind == "drainback":
        return _drainback(design)
    if kind in ("direct", "thermosiphon") and design.own_store and not design.is_pool:
        return (Objection("stop", OWN_LOOP, "own_loop"),)
    if kind in ("direct", "thermosiphon"):
        return (*_water_outside(design, kind), *(_above(design, result) if kind == "thermosiphon" else ()))
    if design.is_pool:
        return (Objection("fix", say("A pool's water needs an exchanger between it and the glycol.")),)
    return ()


def _drainback(design: Design) -> tuple[Objection, ...]:
    """What the stages find of this plan as a drainback: it does not empty, or the pump does not lift."""
    found = reckon(with_kind(design, "drainback")).findings
    stops = [f for f in found if f.key == "does_not_drain"]
    mend = [f for f in found if f.key in ("lift_short", "return_narrow", "no_fall")]
    traps = sum(f.key.startswith("trap_") for f in found)
    against = [Objection("stop", f.title, f.key) for f in stops] + [Objection("fix", f.title, f.key) for f in mend]
    if traps:
        words = "a leg does" if traps == 1 else f"{traps} legs do"
        against.append(Objection("fix", say("{words} not fall toward the store", words=words), "traps"))
    return tuple(against)


def _water_outside(design: Design, kind: str) -> tuple[Objection, ...]:
    found = []
    coldest = design.survey.design_minimum_c.value
    if coldest < WATER_OUTSIDE_FROM_C and not design.is_pool:
        found.append(
            Objection(
                "stop",
                say("Water stands outside and the coldest night is {c}.", c=Quantity(coldest, "temperature")),
            )
        )
    elif kind == "thermosiphon" and coldest < freezes_from(design) and not design.is_pool:
        # a direct loop's controller guards it; here is no pump that could
        words = say(
            "Under a clear sky this field freezes from {f} of air on; the coldest night is {c}, and no pump guards it.",
            f=Quantity(freezes_from(design), "temperature"),
            c=Quantity(coldest, "temperature"),
        )
        found.append(Objection("stop", words, "sky_frost"))
    if hard(design) and not design.is_pool:
        found.append(Objection("fix", say("Hard water scales the collectors shut.")))
    return tuple(found)


def _above(design: Design, result: Reckoning) -> tuple[Objection, ...]:
    """A plan that is a thermosiphon already has its own input for where the store stands."""
    if result.run.route.top <= LOW_STORE_M or not design.pumped:
        return ()
    return (
        Objection(
            "fix",
            say(
                "The store stands {h} below the field; it would have to stand above it, and the roof to carry it.",
                h=Quantity(result.run.route.top, "length"),
            ),
        ),
    )


def recommendation(design: Design, judged: Sequence[Judgement]) -> Statement:
    """Which kind to take, and why; what the field brings beside what stops it and what it makes of its heat."""
    by_kind = {j.kind: j for j in judged}
    ready = [j for j in judged if j.possible]
    if not ready:
        return say("No kind of loop is possible here as it stands: mend what stops them first.")
    clean = {j.kind for j in ready if not j.objections}
    if "direct" in clean:
        return say(
            "Take the direct loop: no frost to fear and soft water; it has the fewest parts and no exchanger between."
        )
    sealed, drains = by_kind.get("sealed"), by_kind.get("drainback")
    if sealed and drains and sealed.possible and drains.possible and sealed.stands_hours > MANY_HOURS:
        mend = "" if "drainback" in clean else ", once what speaks against it is mended"
        return say(
            "Take the drainback{mend}: sealed, the field would stand hot {h} a year and cook its glycol; empty it does no harm.",
            mend=mend,
            h=Quantity(sealed.stands_hours * 3600, "hours"),
        )
    if sealed and sealed.possible:
        words = "its pipes run where they like"
        if drains and not drains.possible:
            words += ", and a drainback cannot be built here"
        elif drains and drains.objections:
            words += ", while a drainback would want " + ("its pipes relaid" if _falls(drains) else "another pump")
        return say(
            "Take the sealed glycol loop: {words}. It stands hot {h} a year.",
            words=words,
            h=Quantity(sealed.stands_hours * 3600, "hours"),
        )
    best = max(ready, key=lambda j: j.year.saved if j.year else 0.0)
    return say("Take the {kind}: it is the one that can be built here.", kind=NAMES[best.kind])


def _falls(judgement: Judgement) -> bool:
    return any(o.key in ("no_fall", "traps") for o in judgement.objections)
