"""Hunting: how gravely a pump starts and stops without need, counted on a clear day and on one of broken cloud.

The rule of the differences alone condemns nearly every loop; the starts decide. Under broken cloud the sun itself comes back
some twenty times, and a pump that starts as often does its work: only what goes beyond the sky is hunting. Two days are a few
milliseconds where the year is fifty. Source: methods 7 and decision 0020.
"""

from __future__ import annotations

from rowan.core.appraise.calming import calming_cures
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.simulation.cache import Kept
from rowan.core.simulation.day import Kind, sun_returns
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.steps.control.differences import HEALTHY_STARTS, MOST_STARTS_A_DAY, cycling_level
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Cure, Finding, Level
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.weather.hours import Sky

DAYS_COUNTED: tuple[Kind, Kind] = ("clear", "broken")


_kept = Kept(64)


@record
class Starts:
    """How often a pump starts on a clear day and under broken cloud, and how often the sun came back while it was at work [-]."""

    clear: int
    broken: int
    returns: int

    @property
    def needless(self) -> int:
        """Starts that no sky asked for, on the worse of the two days: a clear day asks for one, broken cloud for one each time
        the sun comes back [-]."""
        return max(self.clear - 1, self.broken - self.returns, 0)


def starts_of(design: Design, result: Reckoning, measured: Sky | None = None) -> Starts | None:
    """A plan's starts on its two days; None for a plan that cannot be run, or has no pump."""
    if not design.pumped:
        return None
    pair = {"start": design.control.start_k.value, "stop": design.control.stop_k.value}
    # a page, what it says of the change and the next page's state before ask the same of one reckoning
    key = (id(result), tuple(pair.values()), "" if measured is None else measured.digest)
    kept: tuple[Reckoning, Starts | None] | None = _kept.get(key)
    if kept is None or kept[0] is not result:
        kept = _kept.keep(key, (result, _counted(design, result, measured, pair)))
    return kept[1]


def _counted(design: Design, result: Reckoning, measured: Sky | None, pair: dict[str, float]) -> Starts | None:
    number = usual_day(design)
    try:
        clear, broken = (
            race_day(made_ready(design, result, Lens(kind, number), measured=measured), **pair) for kind in DAYS_COUNTED
        )
    except RowanError:
        return None
    return Starts(clear.starts, broken.starts, sun_returns(broken, number))


def hunting(
    design: Design, result: Reckoning, starts: Starts | None, measured: Sky | None = None, *, cures: bool = False
) -> tuple[Finding, ...]:
    """What the needless starts say of the pump; nothing where there is no pump, and nothing where they are few.

    Cures are run on both days before they are offered, a tenth of a second or more: for whoever asks for them.
    """
    if not design.pumped or starts is None or starts.needless <= HEALTHY_STARTS:
        return ()
    stable = not result.differences.cycles
    level = cycling_level(stable=stable, starts_per_day=starts.needless)
    if level == "none":
        return ()

    def calm(tried: Design, reckoned: Reckoning) -> bool:
        """Whether a changed plan's needless starts are few."""
        counted = starts_of(tried, reckoned, measured)
        return counted is not None and counted.needless <= HEALTHY_STARTS

    calming = calming_cures(design, result, calm) if cures else ()
    return (_many(starts, calming) if stable else _hunts(design, result, level, starts, calming),)


def _told(starts: Starts) -> dict[str, str]:
    """The counts as a sentence takes them."""
    return {"clear": f"{starts.clear}", "broken": f"{starts.broken}", "returns": f"{starts.returns}"}


def _hunts(design: Design, result: Reckoning, level: Level, starts: Starts, cures: tuple[Cure, ...]) -> Finding:
    """The rule of the differences is broken: graded by the count."""
    control = result.differences
    words = (
        "Less sun starts it than holds it. A start or two at breakfast are healthy; hunting all day is not: {clear} starts on "
        "a clear day, and {broken} under broken cloud, where the sun comes back {returns} times."
    )
    if level == "fix":
        words += f" More than {MOST_STARTS_A_DAY} that no cloud asks for wear pump and relay."
    words += " Lower flow or a speed that follows first, then a least run, the sensor's place, the differences."
    return Finding(
        key="hunting",
        level=level,
        stage="control",
        part="pump",
        title=say(
            "between {a} and {b} the pump hunts",
            a=Quantity(control.band.start_irradiance, "irradiance"),
            b=Quantity(control.band.hold_irradiance, "irradiance"),
        ),
        reason=say(words, **_told(starts)),
        quantity=Quantity(design.control.stop_k.value, "difference"),
        limit=Quantity(control.largest_stop, "difference"),
        cures=cures,
        source=methods(7),
    )


def _many(starts: Starts, cures: tuple[Cure, ...]) -> Finding:
    return Finding(
        key="many_starts",
        level="mind",
        stage="control",
        part="pump",
        title=say("the pump starts more often than the sky asks"),
        reason=say(
            "{clear} times on a clear day, and {broken} under broken cloud, where the sun comes back {returns} times; more than {most_starts_a_day} that no cloud asks for wear pump and relay. The differences keep the rule against hunting: a least run calms it.",
            most_starts_a_day=f"{MOST_STARTS_A_DAY}",
            **_told(starts),
        ),
        quantity=Quantity(float(starts.needless), "count"),
        limit=Quantity(float(MOST_STARTS_A_DAY), "count"),
        cures=cures,
        source=methods(7),
    )
