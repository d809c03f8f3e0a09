"""An input with its slip. A bench has a hundred of them and a change alters one: each is rendered once for what it shows.

The form of a closed one stands in a `noscript`: where scripts run it is text until the input is opened, for a browser looks
through every form of a page, lays each out anew for it, and does so again after every change. A page that a script asked for,
to swap it in after a change, brings its inputs without their forms; the script asks for one when it is opened.
"""

from __future__ import annotations

import secrets
from functools import lru_cache

from django import template
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from rowan.core.terms.language import Language, spoken
from rowan.core.terms.record import record
from rowan.web.editing.blanks import Blank

register = template.Library()
# stand where the request's own parts go; nobody can type them
ADDRESS, HIDDEN = (f"{secrets.token_hex(12)}-{name}" for name in ("address", "hidden"))


@record
class Pieces:
    """A slip cut where a request's own parts go: the input as shown, its form to the address, to the hidden fields, to its end."""

    head: str
    form: str
    between: str
    after: str


FORM_END = "</form>"


@lru_cache(maxsize=4096)
def _pieces(blank: Blank, language: Language) -> Pieces:
    """Of one language each: it is spoken while the pieces are made."""
    whole = render_to_string("steps/blank.html", {"blank": blank, "address": ADDRESS, "hidden": HIDDEN})
    before, _, rest = whole.partition(ADDRESS)
    between, _, after = rest.partition(HIDDEN)
    start, end = before.rindex("<form"), after.rindex(FORM_END) + len(FORM_END)
    return Pieces(before[:start], before[start:], between, after[:end])


@register.simple_tag(takes_context=True)
def slip(context: template.Context, blank: Blank) -> SafeString:
    """The input with the form that changes it, for this request's plan, revision and bench."""
    pieces = _pieces(blank, spoken())
    if context.get("piece") and not blank.open:
        return mark_safe(pieces.head + "</details>")  # noqa: S308  escaped where it is made
    address = format_html("{}", context["set_address"])
    hidden = format_html(
        '<input type="hidden" name="csrfmiddlewaretoken" value="{}"><input type="hidden" name="revision" value="{}"><input type="hidden" name="bench" value="{}">',
        context.get("csrf_token", ""),
        context["revision_number"] if "revision_number" in context else context["revision"].number,
        context["bench_key"],
    )
    form = pieces.form + address + pieces.between + hidden + pieces.after
    if not blank.open:
        form = f"<noscript>{form}</noscript>"
    return mark_safe(f"{pieces.head}{form}</details>")  # noqa: S308  each piece is escaped where it is made
