"""What is said of the horizon: its losses as figures, and the verdict as findings."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.terms.calendar import MONTHS
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.source import methods
from rowan.core.weather.horizon import MONTH_LIMIT, VERDICTS
from rowan.core.weather.shading import WINDOW_FROM, WINDOW_TO, Shading

CLEAN, ACCEPTABLE, POOR = (limit for limit, _ in VERDICTS)
_METHOD = "The mean day of each month with the horizon and without it; the even sky's hidden share by patches."


def shade_figures(shade: Shading, later: Shading | None = None) -> tuple[Figure, ...]:
    """Loss in the window, in its worst month, and over all hours; in the window of year 25 where trees grow."""
    worst = shade.worst_month
    return (
        *_later_figure(later),
        by_method(
            key="window_loss",
            better=-1,
            name="Shade takes, 9 to 15 h",
            basis=say("of the sun in those hours, a year"),
            value=shade.window,
            dimension_name="share_fine",
            part="collector",
            sentence=say(
                "Between {window_from} and {window_to} o'clock sun time nothing should stand before the collectors, least of all in winter.",
                window_from=f"{WINDOW_FROM}",
                window_to=f"{WINDOW_TO}",
            ),
            method=say(_METHOD),
            window=Window(None, ACCEPTABLE, "methods 2, rule of thumb: up to there its cost is bearable"),
            source=methods(2),
        ),
        by_method(
            key="worst_month_loss",
            name="In its worst month",
            basis=say("{month}, 9 to 15 h", month=MONTHS[worst])
            if shade.window > 0
            else say("no month loses anything"),
            value=float(shade.window_months[worst]),
            dimension_name="share_fine",
            part="collector",
            sentence=say("What misses the field in June can cross it in December, when the sun is low."),
            method=say(_METHOD),
            window=Window(None, MONTH_LIMIT, "methods 2, rule of thumb for a single month"),
            source=methods(2),
        ),
        by_method(
            key="shade_loss",
            name="Shade takes, all hours",
            basis=say("of the sun on the collectors, a year"),
            value=shade.year,
            dimension_name="share_fine",
            part="collector",
            sentence=say("Sun and sky that hills, houses and trees keep from the collectors in a year."),
            method=say(_METHOD),
            source=methods(2),
        ),
    )


def _later_figure(later: Shading | None) -> tuple[Figure, ...]:
    if later is None:
        return ()
    return (
        by_method(
            key="window_loss_grown",
            better=-1,
            name="Shade takes in year 25",
            basis=say("9 to 15 h, trees grown as told"),
            value=later.window,
            dimension_name="share_fine",
            part="collector",
            sentence=say(
                "A system lives for decades, and so do trees: what misses the field today stands before it then."
            ),
            method=say(_METHOD),
            window=Window(None, ACCEPTABLE, "methods 2, rule of thumb: up to there its cost is bearable"),
            source=methods(2),
        ),
    )


def _growing(design: Design, shade: Shading, later: Shading | None) -> list[Finding]:
    """Trees that turn the verdict within the system's life."""
    ranks = [verdict for _, verdict in VERDICTS] + ["no"]
    if later is None or ranks.index(later.verdict) <= ranks.index(shade.verdict):
        return []
    grow = [o for o in design.sun.obstacles if o.grown_m is not None and o.grown_m > o.height_m]
    kept = tuple(Change(f"sun.obstacles.{o.id}.grown_m", None) for o in grow)
    return [
        Finding(
            key="trees_grow",
            level="mind",
            stage="sun",
            part="collector",
            title=say("what grows will stand before the field"),
            reason=say(
                "Today shade takes {n} between 9 and 15 h, in year 25 {t}. Say so now, and agree who trims what.",
                n=Quantity(shade.window, "share"),
                t=Quantity(later.window, "share"),
            ),
            quantity=Quantity(later.window, "share"),
            limit=Quantity(ACCEPTABLE, "share"),
            cures=(Cure(say("Agreed: kept at today's height"), kept, "window_loss_grown"),),
            source=methods(2),
        )
    ]


def shade_findings(design: Design, shade: Shading, later: Shading | None = None) -> tuple[Finding, ...]:
    """The verdict where it is not clean, a month that stands out, and trees that will make it worse."""
    found: list[Finding] = [*_growing(design, shade, later)]
    if shade.verdict in ("poor", "no"):
        no = shade.verdict == "no"
        level: Level = "stop" if no else "fix"
        found.append(
            Finding(
                key="shaded",
                level=level,
                stage="sun",
                part="collector",
                title=say("too much shade to build here" if no else "the field stands in shade too often"),
                reason=say(
                    "Between 9 and 15 h the year loses {s}; {l} is the limit. {case}",
                    case="Say no, or find another place for the collectors."
                    if no
                    else "It works, but every square metre brings less than it costs elsewhere.",
                    s=Quantity(shade.window, "share"),
                    l=Quantity(POOR if no else ACCEPTABLE, "share"),
                ),
                quantity=Quantity(shade.window, "share"),
                limit=Quantity(POOR if no else ACCEPTABLE, "share"),
                cures=_cures(design),
                source=methods(2),
            )
        )
    elif shade.verdict == "acceptable":
        found.append(_some_shade(design, shade))
    worst = shade.worst_month
    month = float(shade.window_months[worst])
    if month > MONTH_LIMIT and shade.verdict in ("clean", "acceptable"):
        found.append(
            Finding(
                key="shaded_month",
                level="mind",
                stage="sun",
                part="collector",
                title=say("{worst} loses much of its sun", worst=MONTHS[worst]),
                reason=say(
                    "{s} of its sun between 9 and 15 h; {l} is where a single month is worth knowing of. Winter heat suffers, the year little.",
                    s=Quantity(month, "share"),
                    l=Quantity(MONTH_LIMIT, "share"),
                ),
                quantity=Quantity(month, "share"),
                limit=Quantity(MONTH_LIMIT, "share"),
                cures=(),
                source=methods(2),
            )
        )
    return tuple(found)


def _some_shade(design: Design, shade: Shading) -> Finding:
    return Finding(
        key="some_shade",
        level="mind",
        stage="sun",
        part="collector",
        title=say("shade has its price here"),
        reason=say(
            "Between 9 and 15 h the year loses {s}. Below {l} one would not speak of it.",
            s=Quantity(shade.window, "share"),
            l=Quantity(CLEAN, "share"),
        ),
        quantity=Quantity(shade.window, "share"),
        limit=Quantity(CLEAN, "share"),
        cures=_cures(design),
        source=methods(2),
    )


def _cures(design: Design) -> tuple[Cure, ...]:
    """Trees can go, with their owner's leave; a roof and a hill cannot."""
    trees = [o for o in design.sun.obstacles if o.kind == "tree"]
    if not trees:
        return ()
    left = [o for o in design.sun.obstacles if o.kind != "tree"]
    words = "the tree" if len(trees) == 1 else f"the {len(trees)} trees"
    return (
        Cure(say("Fell {words}, if the owner agrees", words=words), (Change("sun.obstacles", left),), "window_loss"),
    )
