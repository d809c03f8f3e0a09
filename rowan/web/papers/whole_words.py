"""Words of drawings on paper, set as a whole.

WeasyPrint sets the text of a picture letter by letter, as if each had a place of its own: a quarter of the time a job sheet takes,
and without the closeness some pairs of letters need. It has no setting for it, so its function for text is put behind one of ours,
which hands it a text that is a single letter. Should another version set text otherwise, tests/web/test_whole_words.py says so.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

# what gives each letter a place of its own, and what may, by a list
LETTERED = frozenset({"rotate", "textLength", "letter-spacing"})
PLACES = ("x", "y", "dx", "dy")


class Whole(str):
    """A text that whoever goes through it letter by letter meets in one piece."""

    def __iter__(self) -> Iterator[str]:
        return iter((str(self),))


def is_plain(attributes: dict[str, str]) -> bool:
    """Whether a text with these attributes of SVG starts at one place and runs on from there."""
    lists = (attributes.get(place, "").replace(",", " ").split() for place in PLACES)
    return not LETTERED & attributes.keys() and all(len(values) <= 1 for values in lists)


def set_whole(letter_by_letter: Callable[..., None]) -> Callable[..., None]:
    """WeasyPrint's function for text of a picture, handed whole texts where it may be."""

    def text(svg: Any, node: Any, font_size: float) -> None:
        """Sets the text of a node; called by WeasyPrint."""
        if node.text and is_plain(node.attrib):
            node._etree_node.text = Whole(node.text)
        letter_by_letter(svg, node, font_size)

    return text


def install() -> None:
    """From here on pictures of this process are set so. Raises OSError where WeasyPrint cannot load its libraries."""
    from weasyprint import svg

    if svg.text.__module__ == __name__:
        return
    old, new = svg.text, set_whole(svg.text)
    svg.text = new
    svg.TAGS.update({tag: new for tag, function in svg.TAGS.items() if function is old})
