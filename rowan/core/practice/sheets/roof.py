"""Tasks on the roof: rails squared by their diagonals, a line to a drainback store without traps, a house that is told no.

Source: practice 2, 6 and 7, methods 2 and 12, site (drainback).
"""

from __future__ import annotations

import math

import numpy as np

from rowan.core.practice.sheet import Line, Option, Plot, Question, Rails, Range, Sheet, Slip, around
from rowan.core.practice.sheets.ground import Ground
from rowan.core.steps.roof.square import MARKED_FALL, SQUARE_RAD, Square, diagonal, square_check
from rowan.core.steps.run.draining import LEAST_FALL, Falls, Segment, falls
from rowan.core.terms.calendar import DAYS_IN_MONTH, MONTHS
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.weather.horizon import MONTH_LIMIT, VERDICTS
from rowan.core.weather.shading import WINDOW_FROM, WINDOW_TO, Shading

LEANS_RAD = (6e-3, 14e-3)  # that the rails of the task lean
CLOSE_M = 2e-3  # that what is moved may lie beside
LEGS, LETTERS = 6, "ABCDEF"
BORE_M = 0.020


def square(ground: Ground) -> Sheet:
    """Square two rails by their diagonals."""
    roof, dice = ground.result.roof, ground.dice("square")
    width, height = roof.grid
    if width <= 0 or height <= 0:
        width, height = 4.2, 1.6  # m, rails of two plates: this plan has no grid of its own
    lean = float(dice.uniform(*LEANS_RAD)) * (1 if dice.random() < 0.5 else -1)
    rising = round(math.hypot(width + lean * height, height), 3)
    falling = round(math.hypot(width - lean * height, height), 3)
    found = square_check(diagonal_1=rising, diagonal_2=falling, width=width, height=height)
    right = diagonal(width=width, height=height)
    to = "left" if found.move < 0 else "right"
    return Sheet(
        lead=say("Both rails lie level and parallel, nothing is tightened yet. The diagonals are taped from the ends of the rails."),
        given=(
            ("rail to rail", Quantity(height, "length")),
            ("length of the rails", Quantity(width, "length")),
            ("from low left to high right", Quantity(rising, "level", 0)),
            ("from low right to high left", Quantity(falling, "level", 0)),
        ),
        shown=Rails(width, height, rising, falling),
        questions=_square_asks(width, found, to, right),
        master=say("Loosens, moves, tapes again, goes down and looks from the street, photographs, and only then tightens."),
        slips=(
            Slip("moved the wrong way", {"which": "right" if to == "left" else "left"}, "which"),
            Slip("the whole difference moved", {"move": 2.2 * abs(rising - falling)}, "move"),
        ),
    )  # fmt: skip


def _square_asks(width: float, found: Square, to: str, right: float) -> tuple[Question, ...]:
    rise = MARKED_FALL * width
    return (
        Question(
            key="which",
            asks=say("Which way is the upper rail moved?"),
            marks=25,
            options=(
                Option("left", say("to the left"), say("The longer diagonal would become longer still")),
                Option("right", say("to the right"), say("The longer diagonal would become longer still")),
                Option("none", say("not at all: they agree well enough"), say("It leans by more than {s} in a metre", s=Quantity(SQUARE_RAD, "level", 0))),
            ),
            answer=(to,),
            hint=say("Toward the end from which the shorter diagonal goes up."),
            why=say("The longer diagonal shows the way it leans; it is moved back."),
        ),
        Question(
            key="move",
            asks=say("By how much?"),
            marks=30,
            dimension="level",
            decimals=0,
            right=around(abs(found.move), 0.2, CLOSE_M),
            hint=say("Half of what the diagonals differ by, times diagonal over width."),
            why=say("The squares of both diagonals differ by four times width times what it leans."),
        ),
        Question(
            key="right",
            asks=say("What do both diagonals measure then?"),
            marks=25,
            dimension="level",
            decimals=0,
            right=Range(right - 2 * CLOSE_M, right + 2 * CLOSE_M, right),
            hint=say("Width and height squared, added, and the root of it."),
            why=say("The same both ways: root of width and height squared."),
        ),
        Question(
            key="fall",
            asks=say("Were it a field that drains: how much higher stands the last foot than the first?"),
            marks=20,
            dimension="level",
            decimals=0,
            right=Range(LEAST_FALL * width - CLOSE_M, 1.25 * rise, rise),
            hint=say("A quarter of an inch in a foot, toward the tank."),
            why=say("One in forty-eight; under {s} is a fault. Not by eye: a level on it, and the number written.", s=Quantity(LEAST_FALL, "share")),
        ),
    )  # fmt: skip


def traps(ground: Ground) -> Sheet:
    """Lay a run without traps for a loop that drains."""
    dice = ground.dice("traps")
    kinds = dice.permutation(["good", "good", "good", "flat", "rises", "little"])
    segments: list[Segment] = []
    heights = [0.0]
    for kind in kinds:
        length = round(float(dice.uniform(1.5, 5.0)), 1)
        fall = {"good": dice.uniform(0.022, 0.06), "little": dice.uniform(0.006, 0.014), "flat": 0.0, "rises": -dice.uniform(0.01, 0.02)}[str(kind)]  # fmt: skip
        drop = round(float(fall) * length, 3)
        # the last two legs lie in the house, where any fall serves
        segments.append(Segment(length, drop, BORE_M, len(segments) < LEGS - 2))
        heights.append(heights[-1] - drop)
    found = falls(segments=segments)
    ends = [0.0]
    for segment in segments:
        ends.append(ends[-1] + segment.length)
    outdoors = [n for n in found.traps if segments[n - 1].outdoors]
    worst = (outdoors or list(found.traps))[0]
    traps_at = tuple(LETTERS[n - 1] for n in found.traps)
    others = next(LETTERS[n] for n in range(LEGS) if LETTERS[n] not in traps_at)
    return Sheet(
        lead=say("A line comes down from a field to its tank. When the pump stops it has to run empty, before it freezes. A to D lie outdoors, E and F in the house."),
        given=tuple(
            (
                f"leg {letter}" + ("" if segment.outdoors else ", in the house"),
                say("{l}, falls {d}", l=Quantity(segment.length, "length", 1), d=Quantity(segment.drop, "level")),
            )
            for letter, segment in zip(LETTERS, segments, strict=True)
        ),
        shown=Plot(
            across=("length", "along the line"),
            up=("length", "under the field's lowest point"),
            lines=(
                *(
                    Line(letter, ((ends[n], heights[n] - min(heights)), (ends[n + 1], heights[n + 1] - min(heights))))
                    for n, letter in enumerate(LETTERS)
                ),
                Line("one in forty-eight", ((0.0, -min(heights)), (ends[-1], max(-min(heights) - MARKED_FALL * ends[-1], 0.0))), "dashed"),
            ),
        ),
        questions=_traps_asks(found, worst, segments[worst - 1].length, traps_at),
        master=say("Clips every metre so that nothing sags, hangs it by a string and a block, writes a number for each leg, then drains it and takes the time."),
        slips=(
            Slip("judged by eye", {"proof": "eye"}, "proof"),
            Slip("a good leg blamed, the trap missed", {"traps": (others,)}, "traps"),
        ),
    )  # fmt: skip


def _traps_asks(found: Falls, worst: int, length: float, traps_at: tuple[str, ...]) -> tuple[Question, ...]:
    wanted, least = MARKED_FALL * length, LEAST_FALL * length
    return (
        Question(
            key="traps",
            asks=say("Which legs hold water when the pump stops?"),
            marks=40,
            several=True,
            options=tuple(
                Option(letter, say("leg {letter}", letter=f"{letter}"), say("It falls {f}", f=Quantity(fall, "share_fine")))
                for letter, fall in zip(LETTERS, found.fall, strict=True)
            ),
            answer=traps_at,
            hint=say("Outdoors under {s} counts as level; in the house only what is level or rises.", s=Quantity(LEAST_FALL, "share")),
            why=say("Outdoors {s} and more drains surely; in the house any fall does.", s=Quantity(LEAST_FALL, "share")),
        ),
        Question(
            key="held",
            asks=say("How much may they hold together, at most?"),
            marks=25,
            dimension="volume",
            decimals=2,
            right=around(found.held, 0.15, 5e-5),
            hint=say("Bore {b}: its area times the length of what does not fall.", b=Quantity(BORE_M, "pipe_size")),
            why=say("At most their whole bore over their length; enough to split a pipe, not enough to be missed at the tank."),
        ),
        Question(
            key="fall",
            asks=say("Leg {number} is hung anew. By how much has its end to lie lower than its beginning?", number=f"{LETTERS[worst - 1]}"),
            marks=20,
            dimension="level",
            decimals=0,
            right=Range(least, max(1.6 * wanted, least + 0.01), wanted),
            hint=say("One in forty-eight of its length is the mark."),
            why=say("A quarter of an inch in a foot; never under {s}.", s=Quantity(LEAST_FALL, "share")),
        ),
        Question(
            key="proof",
            asks=say("How is it proved?"),
            marks=15,
            options=(
                Option("level", say("a level on every leg, its number written, and the time to drain taken")),
                Option("eye", say("by eye, from the ladder"), say("Nobody sees one in forty-eight")),
                Option("blow", say("blown through"), say("Air passes over what stands in a trap")),
            ),
            answer=("level",),
            hint=say("What would an inspector ask to see?"),
            why=say("A number for each leg; then drained litres and seconds against what was reckoned."),
        ),
    )  # fmt: skip


def _months(found: Shading) -> tuple[tuple[str, Statement], ...]:
    # what a month's hours count of the year's: a share reads alike in both systems, and fine enough to be added up
    sun = found.weight[:, WINDOW_FROM:WINDOW_TO].sum(axis=1) * np.array(DAYS_IN_MONTH, dtype=float)
    counts = sun / max(float(sun.sum()), 1e-12)
    return tuple(
        (
            MONTHS[month],
            say(
                "{s} taken, counts {w}",
                s=Quantity(float(found.window_months[month]), "share"),
                w=Quantity(float(counts[month]), "share_fine"),
            ),
        )
        for month in range(len(MONTHS))
    )


def shade(ground: Ground) -> Sheet:
    """Say yes or no to a house by its shade."""
    found = ground.result.site.shading
    worst, verdict = found.worst_month, found.verdict
    clear, bearable, poor = (limit for limit, _ in VERDICTS)
    return Sheet(
        lead=say("The horizon of this plan has been walked. By month: what is taken of the sun between 9 and 15 h sun time, and what these hours of the month count of the year."),
        given=_months(found),
        shown=Plot(
            across=("count", "month"),
            up=("share", "taken of the sun between 9 and 15 h"),
            lines=(
                Line("taken", tuple((float(n + 1), float(share)) for n, share in enumerate(found.window_months)), "solid"),
                Line("a month's limit", ((1.0, MONTH_LIMIT), (12.0, MONTH_LIMIT)), "dashed"),
            ),
        ),
        questions=(
            Question(
                key="year",
                asks=say("Of the sun of those hours, over the year, the shade takes"),
                marks=35,
                dimension="share_fine",
                right=Range(max(found.window - 0.012, 0.0), found.window + 0.012, found.window),
                hint=say("Not the mean of the shares: a month counts by its sun."),
                why=say("Each month's share weighed by its sun."),
            ),
            Question(
                key="worst",
                asks=say("Which month is the worst?"),
                marks=20,
                options=tuple(Option(str(n), say(name), say("Look at the shares again")) for n, name in enumerate(MONTHS)),
                answer=tuple(str(n) for n in range(len(MONTHS)) if found.window_months[n] >= found.window_months[worst] - 5e-3),
                hint=say("When does the sun stand lowest behind what stands there?"),
                why=say("{m} loses {s}.", m=MONTHS[worst], s=Quantity(float(found.window_months[worst]), "share")),
            ),
            Question(
                key="say",
                asks=say("What is the customer told?"),
                marks=45,
                options=(
                    Option("clean", say("build it, nothing stands in the way"), _told(verdict, found.window)),
                    Option("acceptable", say("build it, and know what the shade costs"), _told(verdict, found.window)),
                    Option("poor", say("better elsewhere on this plot: another roof, a wall, the ground"), _told(verdict, found.window)),
                    Option("no", say("no, not here: that is a result too"), _told(verdict, found.window)),
                ),
                answer=(verdict,),
                hint=say("{a}, {b} and {c} of the year are the steps; a month over {m} is looked at by itself.",
                         a=Quantity(clear, "share"), b=Quantity(bearable, "share"), c=Quantity(poor, "share"), m=Quantity(MONTH_LIMIT, "share")),
                why=_told(verdict, found.window),
            ),
        ),
        master=say("Walks the horizon before he offers anything, shows the months, and says no where it is no. The day is paid for by the next customer he sends."),
        slips=(
            Slip("sold all the same", {"say": "no" if verdict == "clean" else "clean"}, "say"),
            Slip("shares added without their sun", {"year": found.window + 0.2}, "year"),
        ),
    )  # fmt: skip


def _told(verdict: str, window: float) -> Statement:
    words = {
        "clean": "Shade takes {w}: it does not matter",
        "acceptable": "Shade takes {w}: it costs that much, and is said",
        "poor": "Shade takes {w}: a better place is worth looking for",
        "no": "Shade takes {w}: who builds here sells a disappointment",
    }
    return say(words[verdict], w=Quantity(window, "share_fine"))
