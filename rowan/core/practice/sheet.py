"""A task on paper: what is given, what is asked, in what range an answer is right, and what each answer would have come to.

Numbers are right in a range, never at one value; what is chosen is told what it would have come to. The right answers are the core's
own sums on the loop of the plan, or on a case made from a seed; no task has a formula of its own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from typing import Literal

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record, record_by_names

Kind = Literal["number", "one", "many", "order"]
Answer = float | str | tuple[str, ...]
Answers = Mapping[str, Answer]
NEAR = 0.5  # of a range's width, beside it, that is worth half: read from the right line, badly; rule of thumb
BESIDE = 0.5
HINT = 0.75  # of its marks that an answer after a hint is worth; rule of thumb
ALL_MARKS = 100.0


@record
class Range:
    """Between what a number is right [SI], both ends included, and what a master would say."""

    low: float
    high: float
    best: float

    def worth(self, value: float) -> float:
        """Share of the marks that a number is worth: all inside, half just beside."""
        slack = 1e-9 * max(abs(self.low), abs(self.high), 1e-9)
        if self.low - slack <= value <= self.high + slack:
            return 1.0
        beside = NEAR * (self.high - self.low)
        return BESIDE if self.low - beside <= value <= self.high + beside else 0.0


def around(best: float, share: float, least: float = 0.0) -> Range:
    """A range of a share about what is right, never narrower than `least` each way."""
    wide = max(abs(best) * share, least)
    return Range(best - wide, best + wide, best)


@record
class Option:
    """Something to choose: what it says, and what comes of choosing it."""

    key: str
    words: Statement
    comes: Statement | None = None


@record
class Pair:
    """Of an order: what has to come before what, and what happens where it does not."""

    first: str
    then: str
    comes: Statement


@record_by_names
class Question:
    """Something that is asked: a number of a dimension in a range, or what is chosen or put in order; worth so many marks.

    `by` gives a range for each answer to the question `follows`: every school is judged by its own rule. Where `answer` is empty and
    there are options, each is right: it is asked because others follow from it. `grave` are the options that could hurt somebody.
    """

    key: str
    asks: Statement
    marks: float
    hint: Statement
    why: Statement
    dimension: str = ""
    decimals: int | None = None
    right: Range | None = None
    follows: str = ""
    by: Mapping[str, Range] = field(default_factory=dict)
    options: tuple[Option, ...] = ()
    answer: tuple[str, ...] = ()
    several: bool = False
    pairs: tuple[Pair, ...] = ()
    grave: frozenset[str] = frozenset()

    @property
    def kind(self) -> Kind:
        """How it is answered."""
        if self.dimension:
            return "number"
        return "order" if self.pairs else "many" if self.several else "one"

    def range_for(self, answers: Answers) -> Range | None:
        """The range that counts, by what was answered before; None where that is missing."""
        if not self.follows:
            return self.right
        return self.by.get(str(answers.get(self.follows, "")))


@record
class Line:
    """A line of a drawing: its name, its points [SI], how it is drawn."""

    name: str
    points: tuple[tuple[float, float], ...]
    style: Literal["solid", "dashed", "dots"] = "solid"


@record
class Plot:
    """A drawing of lines: what goes across and up, by dimension and name; `both` gives each axis its scale in the other units too."""

    across: tuple[str, str]
    up: tuple[str, str]
    lines: tuple[Line, ...]
    both: bool = False
    level: bool = True  # whether the axis up begins at nothing


@record
class Rails:
    """Two rails on a roof, seen from the street: their length and distance, and both taped diagonals [m]."""

    width: float
    height: float
    rising: float
    falling: float


@record
class Circuit:
    """A wiring with its contacts, closed or open as they should be."""

    arrangement: str
    closed: Mapping[str, bool]


@record
class Scene:
    """A cellar and a roof with numbered places: each a key, and whether it is drawn as it should be."""

    places: tuple[tuple[str, bool], ...]


@record
class Column:
    """A loop as far as its pressure goes: height from gauge to top [m], its vessel [m³], its relief [Pa gauge]."""

    height: float
    vessel: float
    relief: float


@record
class Rows:
    """Two rows of collectors on one pair of pipes: how many in each, how far apart their tees [m], what the near row takes [m³/s]."""

    each: int
    apart: float
    near: float


@record
class Tub:
    """A tub with what is prepared, and the loop that it goes into, with water in its coil that nobody knows [m³]; what was read [-]."""

    prepared: float
    loop: float
    read: float


@record
class Leads:
    """A meter on two unmarked cables at a controller: ohms by terminal [Ω], and what both ends are at by hand [°C]."""

    ohms: tuple[tuple[str, float], ...]
    felt: tuple[tuple[str, float], ...]


@record
class Runs:
    """The same field and store with lines of some lengths [m], to one scale: name and length of the lines there and back."""

    lengths: tuple[tuple[str, float], ...]


@record
class Menu:
    """A controller's menu as it stands: names and values."""

    rows: tuple[tuple[str, Quantity], ...]


@record
class Fold:
    """A data sheet whose headings are lost in its fold: the lines that are left."""

    lines: tuple[str, ...]


@record
class Parts:
    """Parts of a station as they lie on the floor: keys with their names."""

    lying: tuple[tuple[str, str], ...]


Shown = Plot | Rails | Circuit | Scene | Column | Rows | Tub | Leads | Runs | Menu | Fold | Parts


@record
class Slip:
    """A usual mistake: what is answered by it, and the question that it costs."""

    name: str
    answers: Answers
    costs: str


@record
class Sheet:
    """A task: its goal, what is given, its drawing, its questions, a master's words, and mistakes that are usual."""

    lead: Statement
    given: tuple[tuple[str, Statement | Quantity], ...]
    questions: tuple[Question, ...]
    master: Statement
    slips: tuple[Slip, ...]
    shown: Shown | None = None

    def __post_init__(self) -> None:
        marks = sum(one.marks for one in self.questions)
        if abs(marks - ALL_MARKS) > 1e-6:
            raise ImpossibleInputError("the marks of a task are a hundred together, not {marks}", marks=f"{marks:g}")

    def masters(self) -> dict[str, Answer]:
        """What a master would answer, every mark."""
        found: dict[str, Answer] = {}
        for one in self.questions:
            if one.kind == "number":
                held = one.range_for(found)
                found[one.key] = 0.0 if held is None else held.best
            elif one.kind == "one":
                found[one.key] = one.answer[0] if one.answer else one.options[0].key
            else:
                found[one.key] = one.answer
        return found


@record
class Marked:
    """An answer and what it was worth: its question, marks, and the words to it, of what was wrong first."""

    question: Question
    given: Answer | None
    marks: float
    held: Range | None
    words: tuple[Statement, ...]

    @property
    def full(self) -> bool:
        """Whether nothing was lost."""
        return self.marks >= self.question.marks - 1e-9


def mark(sheet: Sheet, answers: Answers, hinted: frozenset[str] = frozenset()) -> tuple[Marked, ...]:
    """What each answer was worth; `hinted` are the questions answered after a hint."""
    found = []
    for one in sheet.questions:
        given = answers.get(one.key)
        held = one.range_for(answers)
        share, words = (0.0, (say("Not answered"),)) if given is None else _worth(one, given, held)
        if one.key in hinted:
            share *= HINT
        found.append(Marked(one, given, round(one.marks * share, 1), held, words))
    return tuple(found)


def total(marked: tuple[Marked, ...]) -> float:
    """All marks, of a hundred."""
    return sum(one.marks for one in marked)


def _worth(one: Question, given: Answer, held: Range | None) -> tuple[float, tuple[Statement, ...]]:
    if one.kind == "number":
        return _number(one, given, held)
    if one.kind == "one":
        return _one(one, str(given))
    chosen = tuple(given) if isinstance(given, tuple) else (str(given),)
    return _many(one, frozenset(chosen)) if one.kind == "many" else _order(one, chosen)


def _number(one: Question, given: Answer, held: Range | None) -> tuple[float, tuple[Statement, ...]]:
    if held is None or not isinstance(given, float | int):
        return 0.0, (say("It hangs on an answer before it, which is missing"),)
    share = held.worth(float(given))
    if share == 1.0:
        return share, ()
    words = say(
        "Said {s}; right from {l} to {h}",
        s=Quantity(float(given), one.dimension, one.decimals),
        l=Quantity(held.low, one.dimension, one.decimals),
        h=Quantity(held.high, one.dimension, one.decimals),
    )
    return share, (words,)


def _one(one: Question, given: str) -> tuple[float, tuple[Statement, ...]]:
    option = next((option for option in one.options if option.key == given), None)
    if option is None:
        return 0.0, (say("Not answered"),)
    right = not one.answer or given in one.answer
    return (1.0, ()) if right else (0.0, () if option.comes is None else (option.comes,))


def _many(one: Question, given: frozenset[str]) -> tuple[float, tuple[Statement, ...]]:
    """Every right one found counts, every wrong one takes as much back; what could hurt somebody costs all."""
    right = frozenset(one.answer)
    missed, wrong = right - given, given - right
    known = {option.key: option for option in one.options}
    words = tuple(option.comes for key, option in known.items() if key in missed | wrong and option.comes is not None)
    if (missed | wrong) & one.grave:
        return 0.0, words
    if not right:
        return (1.0, ()) if not wrong else (0.0, words)
    return max(len(right & given) - len(wrong), 0) / len(right), words


def _order(one: Question, given: tuple[str, ...]) -> tuple[float, tuple[Statement, ...]]:
    """Every pair that must come in its order counts; other orders are as good."""
    places = {key: number for number, key in enumerate(given)}
    broken = [pair for pair in one.pairs if not _is_before(places, pair)]
    return 1.0 - len(broken) / len(one.pairs), tuple(pair.comes for pair in broken)


def _is_before(places: Mapping[str, int], pair: Pair) -> bool:
    return pair.first in places and pair.then in places and places[pair.first] < places[pair.then]
