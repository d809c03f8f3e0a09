"""The tags `translate` and `blocktranslate` of every template: Django's own, with what they say kept in each language.

A page says some two hundred messages, most of them without a value in them; Django looks each up and puts it together anew.
"""

from __future__ import annotations

from django import template
from django.template.base import Node, Parser, Token, Variable, render_value_in_context
from django.templatetags.i18n import BlockTranslateNode, TranslateNode, do_block_translate, do_translate
from django.utils import translation

register = template.Library()


class KeptTranslateNode(Node):
    """A message that stands in the template as it is."""

    def __init__(self, node: TranslateNode) -> None:
        self.node = node
        self.kept: dict[str | None, str] = {}

    def render(self, context: template.Context) -> str:
        """What it is in the language that is active."""
        language = translation.get_language()
        words = self.kept.get(language)
        if words is None:
            words = self.kept[language] = self.node.render(context)
        return words


class KeptBlockTranslateNode(BlockTranslateNode):
    """A message with values: its words are put together once, and looked up once in each language unless a number decides."""

    def __init__(self, node: BlockTranslateNode) -> None:
        super().__init__(node.extra_context, node.singular, node.plural, node.countervar, node.counter)
        self.message, self.names = self.render_token_list(self.singular)
        self.messages, more = self.render_token_list(self.plural or [])
        self.names = list(dict.fromkeys(self.names + more))
        self.kept: dict[str | None, str] = {}

    def render(self, context: template.Context, nested: bool = False) -> str:
        """The message in the language that is active; where that lacks a name for a value, Django's way."""
        with context.push(**{name: given.resolve(context) for name, given in self.extra_context.items()}):
            words = self._words(context)
            values = {name: render_value_in_context(context.get(name, ""), context) for name in self.names}
        try:
            return words % values
        except (KeyError, ValueError):
            return str(super().render(context, nested))

    def _words(self, context: template.Context) -> str:
        if self.counter is not None:
            count = context[str(self.countervar)] = self.counter.resolve(context)
            return translation.ngettext(self.message, self.messages, count)
        language = translation.get_language()
        words = self.kept.get(language)
        if words is None:
            words = self.kept[language] = translation.gettext(self.message)
        return words


@register.tag
def translate(parser: Parser, token: Token) -> Node:
    """Parsed as Django does; what depends on anything but the language stays Django's."""
    node = do_translate(parser, token)
    said = node.filter_expression
    is_plain = isinstance(said.var, Variable) and said.var.literal is not None and not said.filters
    if not is_plain or node.noop or node.asvar or node.message_context:
        return node
    return KeptTranslateNode(node)


@register.tag
def blocktranslate(parser: Parser, token: Token) -> Node:
    """Parsed as Django does; one with a context or a name of its own stays Django's."""
    node = do_block_translate(parser, token)
    is_plain = not (node.message_context or node.asvar or node.trimmed)
    return KeptBlockTranslateNode(node) if is_plain else node
