"""Template tags: marks, figures in either system, MathML."""

from __future__ import annotations

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from rowan.core.expression import Expression
from rowan.core.figures import Figure, Statement
from rowan.core.units import System
from rowan.web.ui.svg import Node, hatches

register = template.Library()


def _system(context: template.Context) -> System:
    return "us" if context.get("units") == "us" else "metric"


@register.simple_tag
def mark(level: str, size: int = 17) -> SafeString:
    """The mark of a finding's level as a small drawing."""
    node = Node(
        "svg", viewBox=f"0 0 {size} {size}", width=size, height=size, cls="mark-svg drawing", aria_hidden="true"
    )
    node.mark((size / 2, size / 2), level, size - 1)
    return mark_safe(node.markup())  # noqa: S308  escaped in Node.markup


@register.simple_tag
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


def _math(inside: str) -> SafeString:
    return mark_safe(f"<math>{inside}</math>")  # noqa: S308  MathML made by core.expression, every leaf escaped there


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
        return format_html("<msub><mi>{}</mi><mtext>{}</mtext></msub>", letter, index)
    return format_html("<mi>{}</mi>", letter)


@register.simple_tag
def formula_result(figure: Figure) -> str:
    """What the formula comes to: the figure as printed, with what the formula works in where that differs."""
    shown = figure.quantity.shown()
    why = figure.why
    if why.expression is None or not why.result_unit or why.result_unit == figure.unit():
        return shown
    from rowan.core.expression import significant

    return f"{significant(why.expression.value(), 4)} {why.result_unit} = {shown}"
