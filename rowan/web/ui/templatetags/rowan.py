"""Template tags: marks, figures in either system, MathML."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date
from functools import lru_cache
from pathlib import Path

from django import template
from django.forms import BoundField
from django.template.defaultfilters import date as date_filter
from django.templatetags.static import static
from django.utils.html import escape, format_html
from django.utils.safestring import SafeString, mark_safe

from rowan.core.terms.caution import caution
from rowan.core.terms.expression import Expression
from rowan.core.terms.figure import Figure, Quantity, Statement
from rowan.core.terms.language import spoken, tr
from rowan.core.terms.source import METHODS
from rowan.core.terms.units import System, number_and_unit, unit_label
from rowan.web.ui.addresses import address
from rowan.web.ui.svg import Node, hatches

register = template.Library()
SHIPPED = Path(__file__).parents[1] / "static"
# a day's parts in the order of other languages: dots and words of Django's date format
DATE_ORDERS = {
    "de": (("j F", "j. F"), ("j M", "j. M")),
    "es": (("j F Y", r"j \d\e F \d\e Y"), ("j F", r"j \d\e F")),
}


def _system(context: template.Context) -> System:
    return "us" if context.get("units") == "us" else "metric"


@register.simple_tag
def mark(level: str, size: int = 17) -> SafeString:
    """The mark of a finding's level as a small drawing."""
    return _mark(level, size, spoken().key)


@lru_cache(maxsize=64)
def _mark(level: str, size: int, _language: str) -> SafeString:
    """The same mark stands on every page: it is drawn once in each language."""
    node = Node(
        "svg", viewBox=f"0 0 {size} {size}", width=size, height=size, cls="mark-svg drawing", aria_hidden="true"
    )
    node.mark((size / 2, size / 2), level, size - 1)
    return mark_safe(node.markup())  # noqa: S308  escaped in Node.markup


@register.simple_tag
@lru_cache(maxsize=1)
def drawing_hatches() -> SafeString:
    """The hatches all drawings of a page share."""
    holder = Node("svg", width=0, height=0, cls="drawing hatches", aria_hidden="true")
    holder.children.append(hatches())
    return mark_safe(holder.markup())  # noqa: S308  escaped in Node.markup


@register.simple_tag(takes_context=True)
def said(context: template.Context, statement: Statement) -> str:
    """A statement in the page's units."""
    return statement.text(_system(context))


@register.simple_tag(takes_context=True)
def number(context: template.Context, figure: Figure) -> str:
    """A figure's number in the page's units."""
    return figure.number(_system(context))


@register.simple_tag(takes_context=True)
def unit(context: template.Context, figure: Figure) -> str:
    """A figure's unit in the page's units."""
    return figure.unit(_system(context)).replace("/", "/\N{ZERO WIDTH SPACE}")


@register.simple_tag(takes_context=True)
def dimension_unit(context: template.Context, name: str) -> str:
    """The unit in which a dimension is read on the page."""
    return unit_label(name, _system(context))


@register.simple_tag(takes_context=True)
def quantity(context: template.Context, found: Quantity) -> str:
    """A quantity in the page's units, number and unit apart so that the unit can be smaller."""
    number, unit = number_and_unit(found.shown(_system(context)))
    return format_html('{}<span class="unit">{}</span>', number, unit) if unit else number


@register.simple_tag(takes_context=True)
def amount(context: template.Context, value: float, dimension: str) -> str:
    """An SI value in the page's units, with its unit smaller beside it."""
    return quantity(context, Quantity(value, dimension))


@register.simple_tag(takes_context=True)
def amount_number(context: template.Context, value: float, dimension: str) -> str:
    """An SI value's number in the page's units, without its unit."""
    return number_and_unit(Quantity(value, dimension).shown(_system(context)))[0]


@register.simple_tag(takes_context=True)
def window_source(context: template.Context, figure: Figure) -> SafeString:
    """The rule a figure's window comes from, with a link to each method page it names."""
    return cite(figure.window.source_text(_system(context))) if figure.window else SafeString("")


@register.simple_tag(takes_context=True)
def window_words(context: template.Context, figure: Figure) -> str:
    """The window of a figure in words; empty where it has none."""
    window, units = figure.window, _system(context)
    if window is None:
        return ""
    low, high = (
        None if limit is None else Quantity(limit, figure.dimension, figure.decimals).shown(units)
        for limit in (window.low, window.high)
    )
    if low and high:
        return tr("{low} to {high}", low=low, high=high)
    return tr("at least {low}", low=low) if low else tr("at most {high}", high=high) if high else ""


@register.filter(name="tr")
def in_words(message: object) -> str:
    """A word that the core keeps as a key or a constant, in the reader's language."""
    return tr(str.__str__(message) if isinstance(message, str) else str(message))


@register.filter(name="tr_all")
def all_in_words(messages: Iterable[object]) -> list[str]:
    """Words that the core keeps as keys or constants, in the reader's language."""
    return [in_words(message) for message in messages]


@register.filter(name="date", expects_localtime=True)
def in_date_order(value: date | str | None, pattern: str = "") -> str:
    """A day as the reader's language orders it: 5 June 2026, 5. Juni 2026, 5 de junio de 2026. What is written for machines stays."""
    for ours, theirs in DATE_ORDERS.get(spoken().key, ()):
        pattern = pattern.replace(ours, theirs)
    return str(date_filter(value, pattern))


@register.simple_tag
def refused(field: BoundField) -> SafeString:
    """Attributes that tie a field to its message; none where it has no error."""
    if not field.errors:
        return SafeString("")
    return format_html(' aria-invalid="true" aria-describedby="{}-error"', field.id_for_label)


@register.simple_tag
def script_words() -> str:
    """Where the scripts' words in the language that is spoken are; nothing where they are the scripts' own, English."""
    name = f"rowan/words/{spoken().key}.js"
    return static(name) if (SHIPPED / name).is_file() else ""


@register.simple_tag
def filled(message: str, **parts: object) -> str:
    """A message with its {names} filled, in the language that is spoken: for letters, which have no markup to be marked by."""
    return tr(message, **{name: part if isinstance(part, str) else str(part) for name, part in parts.items()})


@register.filter
def cite(source: str) -> SafeString:
    """A source with a link to each method page it names."""

    def link(match: re.Match[str]) -> str:
        number = int(match.group(1))
        if number not in METHODS:
            return match.group(0)
        return format_html('<a href="{}">{}</a>', address("methods:page", number), match.group(0))

    return mark_safe(re.sub(r"[Mm]ethods (\d+)", link, escape(tr(source))))  # noqa: S308  escaped first, links by format_html


def _math(inside: str) -> SafeString:
    return mark_safe(f"<math>{inside}</math>")  # noqa: S308  MathML made by core.expression, every leaf escaped there


@register.simple_tag(takes_context=True, name="caution")
def caution_words(context: template.Context, key: str) -> str:
    """A safety sentence of the core by its key."""
    return caution(key).text(_system(context))


@register.simple_tag
def formula(figure: Figure) -> SafeString:
    """The formula in letters."""
    expression = figure.why.expression
    if not isinstance(expression, Expression):
        return SafeString("")
    return _math(f"<mrow>{_letter(figure)}<mo>=</mo>{expression.letters_mathml()}</mrow>")


@register.simple_tag
def formula_numbers(figure: Figure) -> SafeString:
    """The formula with the numbers put in."""
    expression = figure.why.expression
    if not isinstance(expression, Expression):
        return SafeString("")
    return _math(f"<mrow><mo>=</mo>{expression.numbers_mathml(figure.printed_digits())}</mrow>")


def _letter(figure: Figure) -> str:
    letter, index = figure.why.letter, figure.why.letter_index
    if index:
        return format_html("<msub><mi>{}</mi><mtext>{}</mtext></msub>", letter, tr(index))
    return format_html("<mi>{}</mi>", letter)


@register.simple_tag(takes_context=True)
def formula_result(context: template.Context, figure: Figure) -> str:
    """What the formula comes to: worked in SI, as printed, and in the reader's units where those differ."""
    shown, own = figure.quantity.shown(), figure.quantity.shown(_system(context))
    if own != shown:
        shown = f"{shown} = {own}"
    why = figure.why
    if why.expression is None or not why.result_unit or why.result_unit == figure.unit():
        return shown
    from rowan.core.terms.expression import significant

    return f"{significant(why.expression.value(), 4)} {why.result_unit} = {shown}"
