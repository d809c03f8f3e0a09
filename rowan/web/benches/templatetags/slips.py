"""An input with its slip. A bench has a hundred of them and a change alters one: each is rendered once for what it shows."""

from __future__ import annotations

import secrets
from functools import lru_cache

from django import template
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from rowan.web.benches.blanks import Blank

register = template.Library()
# stand where the request's own parts go; nobody can type them
ADDRESS, HIDDEN = (f"{secrets.token_hex(12)}-{name}" for name in ("address", "hidden"))


@lru_cache(maxsize=4096)
def _pieces(blank: Blank) -> tuple[str, str, str]:
    """A slip in three pieces: before its form's address, between that and the hidden fields, and the rest."""
    whole = render_to_string("benches/blank.html", {"blank": blank, "address": ADDRESS, "hidden": HIDDEN})
    before, _, rest = whole.partition(ADDRESS)
    between, _, after = rest.partition(HIDDEN)
    return before, between, after


@register.simple_tag(takes_context=True)
def slip(context: template.Context, blank: Blank) -> SafeString:
    """The input with the form that changes it, for this request's plan, revision and bench."""
    before, between, after = _pieces(blank)
    address = format_html("{}", context["set_address"])
    hidden = format_html(
        '<input type="hidden" name="csrfmiddlewaretoken" value="{}"><input type="hidden" name="revision" value="{}"><input type="hidden" name="bench" value="{}">',
        context.get("csrf_token", ""),
        context["revision"].number,
        context["bench_key"],
    )
    return mark_safe(before + address + between + hidden + after)  # noqa: S308  each piece is escaped where it is made
