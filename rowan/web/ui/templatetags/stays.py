"""A part of a page that is not sent again where the browser has it.

After a change nine tenths of a page are what they were. A part is known by the digest of its markup; a script that asks for the
page's new state names those it has (`Rowan-Has`), and for each of them only a place is sent, which `swap.js` fills with what is
there. What a request gives of its own to every form, its token and the number of the revision, is left out of the digest: the
token of the same session serves on, and the script writes the number anew.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from hashlib import blake2b

from django import template
from django.http import HttpRequest
from django.utils.safestring import SafeString, mark_safe

register = template.Library()
DIGEST_BYTES = 6  # two of the sixty parts of a page are alike by chance once in 10^11 pages
OPENING = re.compile(r"<(\w+)")


@dataclass(frozen=True)
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


def digest_of(markup: str, *, token: str, secret: str, revision: int) -> str:
    """What tells a part from others. A form's token counts by the session's secret that it stands for, as a new one is needed when
    somebody signed in anew."""
    told = markup.replace(f'name="revision" value="{revision}"', 'name="revision"')
    key = b""
    if token and token in told:
        told, key = told.replace(token, ""), secret.encode()[: blake2b.MAX_KEY_SIZE]
    return blake2b(told.encode(), key=key, digest_size=DIGEST_BYTES).hexdigest()


class StayNode(template.Node):
    """One element, which is sent or stays. None stands within another: its digest would go with what is sent of that."""

    def __init__(self, inside: template.NodeList) -> None:
        self.nodelist = inside

    def render(self, context: template.Context) -> SafeString:
        markup = self.nodelist.render(context).strip()
        opened = OPENING.match(markup)
        if opened is None:
            if markup:
                raise ValueError(f"a part that may stay is one element, not {markup[:40]!r}")
            return mark_safe("")
        digest = digest_of(
            markup,
            token=str(context.get("csrf_token", "")),
            secret=context["request"].META.get("CSRF_COOKIE", ""),
            revision=context["revision"].number,
        )
        parts: Parts = context["parts"]
        if not parts.tell(digest):
            return mark_safe(markup)  # noqa: S308  rendered by the template
        if digest in parts.kept:
            return mark_safe(f'<{opened[1]} data-stays="{digest}"></{opened[1]}>')  # noqa: S308  a name and a digest
        return mark_safe(f'<{opened[1]} data-part="{digest}"{markup[opened.end() :]}')  # noqa: S308  rendered by the template


@register.tag
def stay(parser: template.base.Parser, _token: template.base.Token) -> StayNode:
    """`{% stay %}<section>…</section>{% endstay %}`"""
    inside = parser.parse(("endstay",))
    parser.delete_first_token()
    return StayNode(inside)
