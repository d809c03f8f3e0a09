"""The inputs inside a bench's sentence: shown, opened in place, typed, refused beside the field."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any

from pydantic import BaseModel

from rowan.core.design.changes import Located, locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import ORIGINS, InputSpec, Origin
from rowan.core.design.inputs.hours import away_days, clock_minute, day_minutes, press_minute
from rowan.core.design.inputs.rows import MOST_IN_ROW, row_counts
from rowan.core.goods.catalogue import COLLECTORS, PIPES, PUMPS, STORES
from rowan.core.studies.choices import chosen
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.expression import significant
from rowan.core.terms.finding import Change
from rowan.core.terms.language import Language, spoken, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, dimension, shown, typed_to_si, unit_label, worded
from rowan.web.ui.errors import WebError
from rowan.web.ui.sentences import capital
from rowan.web.ui.sentences import sentence as begun

TYPED_DIGITS = 6
CATALOGUE: dict[str, dict[str, Any]] = {
    "collector.item": dict(COLLECTORS),
    "store.item": dict(STORES),
    "run.pipe": dict(PIPES),
    "run.hot_pipe": dict(PIPES),
    "run.pump": dict(PUMPS),
}


def goods(path: str) -> dict[str, Any]:
    """The catalogue an input is chosen from, by name; a leg's pipe is a pipe."""
    return CATALOGUE.get("run.pipe" if path.startswith("run.") and path.endswith(".pipe") else path, {})


class RefusedInputError(WebError):
    """What was typed cannot be taken; the text is shown beside the field, `readings` are what it may have meant."""

    def __init__(self, message: str, readings: tuple[str, ...] = ()) -> None:
        self.readings = readings
        super().__init__(message)


@record
class Blank:
    """One input as a page shows it."""

    path: str
    label: str
    shown: str
    typed: str
    unit: str
    kind: str
    origin: Origin
    choices: tuple[tuple[str, str], ...]
    limits: str
    help: str
    note: str
    error: str = ""
    open: bool = False
    tail: str = ""
    readings: tuple[tuple[str, str], ...] = ()
    offers: tuple[str, ...] = ()
    # the origin somebody chose for what was not saved
    chosen: Origin | None = None

    @property
    def key(self) -> str:
        """An id for the page."""
        return "in-" + self.path.replace(".", "-")

    @property
    def assumed(self) -> bool:
        """Whether nobody has measured, read or agreed it."""
        return self.origin == "assumed"

    @property
    def new_origin(self) -> Origin:
        """The origin a typed value gets unless another is chosen."""
        return self.chosen or ("measured" if self.assumed else self.origin)

    @property
    def picked(self) -> str:
        """The choice that stands in the field: what was chosen and not saved, else what the plan has."""
        if self.open and any(key == self.typed for key, _ in self.choices):
            return self.typed
        return next((key for key, words in self.choices if words == self.shown or key == self.typed), "")

    @property
    def origins(self) -> tuple[Origin, ...]:
        """The origins to choose from."""
        return ORIGINS


def shown_value(found: Located, system: System) -> str:
    """An input's value as printed in running text."""
    spec, value = found.spec, found.value
    if value is None:
        return spec.empty
    if spec.kind == "item":
        return str(getattr(value, "name", "as the place"))
    if spec.kind == "flag":
        return spec.choice_label(bool(value))
    if spec.kind == "text" and not value:
        return spec.empty
    if spec.kind in ("choice", "text"):
        return spec.choice_label(value)
    if spec.kind == "whole":
        return str(value)
    return shown(found.si, spec.dimension, system, _decimals(spec, system))


def _decimals(spec: InputSpec, system: System) -> int | None:
    # whole metres are whole feet: nobody wants a town's height in inches
    return spec.decimals if system == "metric" or (spec.dimension == "length" and spec.decimals == 0) else None


def typed_number(found: Located, system: System) -> str:
    """A stored number as somebody would type it: all its digits, and none that can be read in two ways."""
    unit = dimension(found.spec.dimension).unit(system)
    text = significant(unit.from_si(found.si), TYPED_DIGITS).replace("\N{NARROW NO-BREAK SPACE}", "")
    return f"{text}0" if re.fullmatch(r"[^.,]*[.,]\d{3}", text) else text


def limits_text(spec: InputSpec, system: System) -> str:
    """The allowed range in the person's units."""
    if spec.low is None or spec.high is None or spec.kind not in ("number", "whole"):
        return ""
    decimals = _decimals(spec, system) if spec.dimension == "length" else None
    low, high = (shown(spec.si(limit), spec.dimension, system, decimals) for limit in (spec.low, spec.high))
    return tr("{low} to {high}", low=low, high=high)


def blank(
    design: Design,
    path: str,
    system: System,
    *,
    typed: str | None = None,
    error: str = "",
    readings: tuple[str, ...] = (),
    chosen: Origin | None = None,
) -> Blank:
    """An input of a design as a page shows it; `typed`, `chosen`, `error` and `readings` bring back what was refused."""
    found = locate(design, path)
    spec = found.spec
    label = spec.label if path.count(".") == 1 else f"{tr(entry_name(design, path))}: {spec.label}"
    if spec.kind == "item":
        usual = _usual(found, label, system)
    else:
        # two numbers may be alike and typed in two ways: 0 and -0, 1 and yes
        usual = _kept(found, repr(found.value), label, system, spoken())
    if typed is None and not error and not readings and chosen is None:
        return usual
    return replace(
        usual,
        typed=usual.typed if typed is None else typed,
        error=error,
        open=bool(error),
        readings=tuple((text, _as_reading(text, spec, system)) for text in readings),
        chosen=chosen,
    )


def _usual(found: Located, label: str, system: System) -> Blank:
    """An input with nothing refused."""
    spec = found.spec
    number = spec.kind in ("number", "whole")
    if number and found.value is not None:
        field = typed_number(found, system)
    elif spec.kind == "flag":
        field = "yes" if found.value else "no"
    else:
        field = "" if isinstance(found.value, BaseModel) or found.value is None else str(found.value)
    return Blank(
        path=found.path,
        label=label,
        shown=shown_value(found, system),
        typed=field,
        unit=unit_label(spec.dimension, system) if number else "",
        kind=spec.kind,
        origin=found.origin,
        choices=_choices(found),
        limits=limits_text(spec, system),
        help=worded(spec.help, system),
        note=found.note,
        offers=spec.offers[0 if system == "metric" else 1],
    )


@lru_cache(maxsize=4096)
def _kept(found: Located, _told: str, label: str, system: System, _language: Language) -> Blank:
    """The same input of the same value: a bench has a hundred, of which a change moves one."""
    return _usual(found, label, system)


def _as_reading(text: str, spec: InputSpec, system: System) -> str:
    """What a reading of an ambiguous number would be, with its unit and no digit rounded away."""
    unit = dimension(spec.dimension).unit(system)
    try:
        number = significant(unit.from_si(typed_to_si(text, spec.dimension, system)), TYPED_DIGITS)
    except TypedNumberError:
        return text
    return f"{number}\N{NO-BREAK SPACE}{unit.label}".strip()


def entry_name(design: Design, path: str) -> str:
    """The list and the name of the entry an input belongs to: a leg, an obstacle, a point of the horizon, a line of a log."""
    stage, rows, key, _ = path.split(".")
    if stage == "sun":
        kinds = {o.id: o.kind for o in design.sun.obstacles}
        return kinds.get(key, "obstacle") if rows == "obstacles" else "horizon"
    if stage == "roof":
        things = {thing.id: thing.kind for thing in design.roof.objects}
        facing = {
            plane.id: tr("plane to {azimuth_deg}", azimuth_deg=shown(plane.azimuth_deg, "bearing", "metric"))
            for plane in design.roof.planes
        }
        return things.get(key, "on the roof") if rows == "objects" else facing.get(key, "another plane")
    if stage == "charge":
        when = next((e.date or e.id for e in design.charge.log if e.id == key), key)
        return tr("fluid log, {when}", when=when)
    if stage == "functions":
        starts = (tr("from {starts}", starts=w.starts) for w in design.functions.windows if w.id == key)
        return tr("backup window, {starts}", starts=next(starts, key))
    legs = design.run.cold if rows == "cold" else design.run.hot
    name = next((leg.name for leg in legs if leg.id == key), "")
    return tr("{rows} line, {leg}", rows=rows, leg=name or key)


def _choices(found: Located) -> tuple[tuple[str, str], ...]:
    if found.path == "survey.weather":
        return (("", "made from the normals"), *([(found.value.name, found.value.name)] if found.value else []))
    if found.spec.kind == "item":
        current = getattr(found.value, "name", "")
        names = list(goods(found.path))
        own = [current] if current and current not in names else []
        none = (("", found.spec.empty),) if found.spec.empty else ()
        return (*none, *((name, name) for name in own + names))
    if found.spec.kind == "flag":
        return tuple(("yes" if key else "no", label) for key, label in found.spec.choices)
    return tuple((str(key), label) for key, label in found.spec.choices)


def changes_from_text(design: Design, path: str, text: str, system: System) -> list[Change]:
    """The changes typed text means for an input. Raises RefusedInputError with a message for the person."""
    found = locate(design, path)
    spec = found.spec
    return chosen(design, path, _READERS[spec.kind](found, text.strip(), system))


def _read_number(found: Located, text: str, system: System) -> float | int | None:
    spec = found.spec
    if not text and spec.empty:
        return None
    if found.value is not None and text == typed_number(found, system):
        kept: float | int = found.value  # not touched: its last digits stay
        return kept
    if not text:
        raise RefusedInputError(tr("Type a number. Allowed: {limits}.", limits=limits_text(spec, system)))
    try:
        si = typed_to_si(text, spec.dimension, system)
    except TypedNumberError as error:
        message = str(error)
        raise RefusedInputError(
            tr("{refusal}. Allowed: {limits}.", refusal=capital(message), limits=limits_text(spec, system)),
            error.readings,
        ) from error
    stored = _at_its_end(spec, round(spec.stored(si), 9), system)
    if spec.kind == "whole":
        if stored != round(stored):
            raise RefusedInputError(
                tr("A whole number is needed. Allowed: {limits_text}.", limits_text=limits_text(spec, system))
            )
        stored = int(stored)
    if spec.refuse(stored):
        raise RefusedInputError(
            tr(
                "{si} is outside what can be. Allowed: {limits_text}.",
                si=shown(si, spec.dimension, system),
                limits_text=limits_text(spec, system),
            )
        )
    return stored


def _at_its_end(spec: InputSpec, stored: float, system: System) -> float:
    """An end of the range as it is printed is taken for the end itself, rounded though it is."""
    for end in (spec.low, spec.high):
        if end is not None and spec.refuse(stored):
            printed = shown(spec.si(end), spec.dimension, system)
            if shown(spec.si(stored), spec.dimension, system) == printed:
                return end
    return stored


def _read_choice(found: Located, text: str, system: System) -> str:
    if text not in [key for key, _ in found.spec.choices]:
        raise RefusedInputError("Choose one of the list.")
    return text


def _read_flag(found: Located, text: str, system: System) -> bool:
    if text not in ("yes", "no"):
        raise RefusedInputError("Choose one of the two.")
    return text == "yes"


def _read_text(found: Located, text: str, system: System) -> str:
    if not text and found.spec.empty:
        return ""
    if not 1 <= len(text) <= 80:
        raise RefusedInputError("Type 1 to 80 letters.")
    read = clock_minute if found.path.startswith("functions.windows.") else _TYPED_TEXTS.get(found.path)
    if re.fullmatch(r"roof\.planes\.\w+\.rows", found.path):
        read = _TYPED_TEXTS["collector.rows"]
    if read is not None:
        try:
            read(text)
        except TypedNumberError as error:
            raise RefusedInputError(begun(str(error))) from error
    return text


# texts that mean hours or days
_TYPED_TEXTS: dict[str, Callable[[str], Any]] = {
    "store.backup_hours": day_minutes,
    "duty.process_hours": day_minutes,
    "functions.ring_hours": day_minutes,
    "functions.boost_at": press_minute,
    "duty.away": away_days,
    "collector.rows": lambda text: row_counts(text, MOST_IN_ROW),
}


def _read_item(found: Located, text: str, system: System) -> Any:
    items = goods(found.path)
    if found.spec.empty and not text:
        return None
    if text == getattr(found.value, "name", None):
        return found.value
    if text not in items:
        raise RefusedInputError("Choose one of the catalogue.")
    return items[text]


_READERS: dict[str, Callable[[Located, str, System], Any]] = {
    "number": _read_number,
    "whole": _read_number,
    "choice": _read_choice,
    "flag": _read_flag,
    "text": _read_text,
    "item": _read_item,
}


@record
class Slot:
    """Where an input stands in a sentence."""

    path: str


@record
class Word:
    """A word of a sentence that goes by the plan, by its name in the message."""

    name: str
    words: str


LinePart = str | Slot | Word
SENTENCES = re.compile(r"(?<=\.) ")


def blanks(text: str) -> tuple[str | Slot, ...]:
    """Words with inputs in braces by their paths, as the parts of a sentence: “at {duty.tap_c}”."""
    parts = re.split(r"{([^}]*)}", text)
    return tuple(Slot(part) if i % 2 else part for i, part in enumerate(parts) if part)


def _said(parts: Iterable[LinePart]) -> str:
    """What the parts say in the language that is spoken, inputs and words by their names in braces.

    A sentence is one message, for another language may have its blanks in another order; so is none more than one: which
    follow each other goes by the plan.
    """
    names = (
        part if isinstance(part, str) else f"{{{part.name if isinstance(part, Word) else part.path}}}" for part in parts
    )
    return " ".join(map(tr, SENTENCES.split("".join(names))))


def sentence(
    parts: Sequence[LinePart], design: Design, system: System, refused: Blank | None = None
) -> list[str | Blank]:
    """Words and blanks of a sentence; a refused input takes the place of its blank. Marks stay with the blank before them."""
    found: list[str | Blank] = []
    words = {part.name: part.words for part in parts if isinstance(part, Word)}
    said = re.sub("{(" + "|".join(words) + ")}", lambda name: words[name[1]], _said(parts)) if words else _said(parts)
    for part in blanks(said):
        if isinstance(part, Slot):
            found.append(refused if refused and refused.path == part.path else blank(design, part.path, system))
        elif found and isinstance(found[-1], Blank) and part[:1] in ",.:":
            found[-1] = replace(found[-1], tail=part[:1])
            found.append(part[1:])
        else:
            found.append(part)
    return found
