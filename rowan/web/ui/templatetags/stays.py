"""A part of a page that is not sent again where the browser has it.

After a change nine tenths of a page are what they were. A part is known by the digest of its markup; a script that asks for the
page's new state names those it has (`Rowan-Has`), and for each of them only a place is sent, which `swap.js` fills with what is
there. What a request gives of its own to every form, its token and the number of the revision, is left out of the digest: the
token of the same session serves on, and the script writes the number anew.

Most parts of a new state are those of the one before also for the server: one that names what it is made of is kept by that.
"""

from __future__ import annotations

import pickle
import re
import secrets
from dataclasses import field
from hashlib import blake2b

from django import template
from django.http import HttpRequest
from django.utils.safestring import SafeString, mark_safe

from rowan.core.terms.language import spoken
from rowan.core.terms.record import record
from rowan.web.ui.shelf import Shelf

register = template.Library()
DIGEST_BYTES = 6  # two of the sixty parts of a page are alike by chance once in 10^11 pages
OPENING = re.compile(r"<(\w+)")


@record
class Parts:
    """The digests of what the page that asks has already, and of what this answer has told: of two alike one has no digest."""

    kept: frozenset[str]
    told: set[str] = field(default_factory=set)

    @classmethod
    def of(cls, request: HttpRequest) -> Parts:
        """What a request says of itself."""
        return cls(frozenset(request.headers.get("Rowan-Has", "").split()))

    def tell(self, digest: str) -> bool:
        """Whether a part may be known by this digest: the first of its kind."""
        is_first = digest not in self.told
        self.told.add(digest)
        return is_first


def digest_of(markup: str, *, token: str, secret: str, revision: int | str) -> str:
    """What tells a part from others. A form's token counts by the session's secret that it stands for, as a new one is needed when
    somebody signed in anew."""
    told = markup.replace(f'name="revision" value="{revision}"', 'name="revision"')
    key = b""
    if token and token in told:
        told, key = told.replace(token, ""), secret.encode()[: blake2b.MAX_KEY_SIZE]
    return blake2b(told.encode(), key=key, digest_size=DIGEST_BYTES).hexdigest()


# stand in what is kept where a request's own go; nobody can type them
TOKEN, NUMBER = (f"{secrets.token_hex(12)}-{name}" for name in ("token", "number"))
KEPT_BYTES = 6_000_000  # of a process, some four thousand parts


@record
class Part:
    """A part as it is kept: what it says with the places of token and number, and what tells it from others; nothing where that
    goes with the session."""

    markup: str
    digest: str

    @classmethod
    def of(cls, markup: str) -> Part:
        """What was rendered. Raises ValueError where the revision's number is said outside a form: it would stay after a change."""
        if NUMBER in markup.replace(f'name="revision" value="{NUMBER}"', ""):
            raise ValueError("a part that is kept names its revision in its forms alone")
        return cls(markup, "" if TOKEN in markup else digest_of(markup, token="", secret="", revision=NUMBER))


SHELF = Shelf[Part](KEPT_BYTES, lambda part: len(part.markup))


@record
class Plain:
    """What stands for a revision in what is kept: its number has a place, and there is nothing else of it."""

    number: str = NUMBER


class StayNode(template.Node):
    """One element, which is sent or stays. None stands within another: its digest would go with what is sent of that.

    With values it is made of them alone and kept by them: nothing else of the page is there while it is rendered but its units,
    the form's token and the revision's number, which are put in for each request.
    """

    def __init__(self, inside: template.NodeList, values: dict[str, template.base.FilterExpression]) -> None:
        self.nodelist, self.values = inside, values

    def render(self, context: template.Context) -> SafeString:
        """The part, or its place where the page that asks has it."""
        markup, digest = self._kept(context) if self.values else self._made(context)
        opened = OPENING.match(markup)
        if opened is None:
            if markup:
                raise ValueError(f"a part that may stay is one element, not {markup[:40]!r}")
            return mark_safe("")
        parts: Parts = context["parts"]
        if not parts.tell(digest):
            return mark_safe(markup)  # noqa: S308  rendered by the template
        if digest in parts.kept:
            return mark_safe(f'<{opened[1]} data-stays="{digest}"></{opened[1]}>')  # noqa: S308  a name and a digest
        return mark_safe(f'<{opened[1]} data-part="{digest}"{markup[opened.end() :]}')  # noqa: S308  rendered by the template

    def _made(self, context: template.Context) -> tuple[str, str]:
        markup = self.nodelist.render(context).strip()
        token, secret = str(context.get("csrf_token", "")), context["request"].META.get("CSRF_COOKIE", "")
        return markup, digest_of(markup, token=token, secret=secret, revision=context["revision"].number)

    def _alone(self, context: template.Context, values: dict[str, object]) -> Part:
        return Part.of(self.nodelist.render(context.new(values)).strip())

    def _kept(self, context: template.Context) -> tuple[str, str]:
        values = {name: given.resolve(context, ignore_failures=True) for name, given in self.values.items()}
        units = context.get("units")
        # packed it is told what can be told apart: of text what is escaped already, of numbers their kind and sign
        packed = pickle.dumps((units, values), pickle.HIGHEST_PROTOCOL)
        part = SHELF.get(
            (self, spoken(), blake2b(packed, digest_size=16).digest()),
            lambda: self._alone(context, values | {"units": units, "csrf_token": TOKEN, "revision": Plain()}),
        )
        markup, digest = part.markup.replace(NUMBER, str(context["revision"].number)), part.digest
        if not digest:
            secret = context["request"].META.get("CSRF_COOKIE", "")
            digest = digest_of(part.markup, token=TOKEN, secret=secret, revision=NUMBER)
            markup = markup.replace(TOKEN, str(context.get("csrf_token", "")))
        return markup, digest


@register.tag
def stay(parser: template.base.Parser, token: template.base.Token) -> StayNode:
    """`{% stay %}<section>…</section>{% endstay %}`, or `{% stay row name=leg.name %}<tr>…</tr>{% endstay %}` made of these values alone."""
    values = {}
    for bit in token.split_contents()[1:]:
        name, _, given = bit.rpartition("=")
        values[name or given] = parser.compile_filter(given)
    inside = parser.parse(("endstay",))
    parser.delete_first_token()
    return StayNode(inside, values)
