"""The tag `url` of every template: Django's own, with addresses that were made once kept."""

from __future__ import annotations

from django import template
from django.template.base import Parser, Token
from django.template.defaulttags import URLNode
from django.template.defaulttags import url as whole_url
from django.utils.html import conditional_escape

from rowan.web.ui.addresses import address

register = template.Library()


class KeptURLNode(URLNode):
    """An address by its name and arguments alone; what is asked for otherwise goes Django's way."""

    def render(self, context: template.Context) -> str:
        """The address. Raises NoReverseMatch."""
        if self.kwargs or self.asvar:
            return super().render(context)
        found = address(self.view_name.resolve(context), *(part.resolve(context) for part in self.args))
        return conditional_escape(found) if context.autoescape else found


@register.tag
def url(parser: Parser, token: Token) -> URLNode:
    """Parsed as Django does."""
    node = whole_url(parser, token)
    return KeptURLNode(node.view_name, node.args, node.kwargs, node.asvar)
