"""Words of drawings on paper: each is set in one piece, where and as long as before."""

from __future__ import annotations

import base64
from contextlib import closing
from io import BytesIO

import pytest
from pypdf import PdfReader
from pypdf.generic import ContentStream
from pypdfium2 import PdfDocument

from rowan.web.papers.sheets import draw
from rowan.web.papers.whole_words import Whole, is_plain, set_whole

PT_PER_PX = 0.75


def drawn(text: str) -> bytes:
    """A paper with one picture, at its left edge, with one text of SVG."""
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 100" width="400" height="100">{text}</svg>'
    data = base64.b64encode(svg.encode()).decode()
    style = "<style>@page { margin: 0 } body { margin: 0 }</style>"
    return draw(f'{style}<img alt="" src="data:image/svg+xml;base64,{data}">')


def shown(text: str) -> list[list[object]]:
    """What a text of SVG is set as on paper: for each piece its matrix and its glyphs."""
    reader = PdfReader(BytesIO(drawn(text)))
    found: list[list[object]] = []

    def read(stream: object, resources: object) -> None:
        matrix: object = None
        for operands, operator in ContentStream(stream, reader).operations:
            if operator == b"Tm":
                matrix = [float(number) for number in operands]
            elif operator in (b"TJ", b"Tj"):
                found.append([matrix, operands])
            elif operator == b"Do":
                inner = resources["/XObject"][operands[0]].get_object()  # type: ignore[index]
                read(inner, inner.get("/Resources", {}))

    (page,) = reader.pages
    read(page.get_contents(), page["/Resources"])
    return found


def test_a_word_of_a_drawing_is_one_piece() -> None:
    assert len(shown('<text x="20" y="40">Valve</text>')) == 1
    assert len(shown('<text x="20" y="40" text-anchor="end">1.47<tspan dx="3">bar</tspan></text>')) == 2


def test_letters_with_places_of_their_own_keep_them() -> None:
    pieces = shown('<text x="20 50 90" y="40">abc</text>')
    assert [round(piece[0][4]) for piece in pieces] == [20, 50, 90]  # type: ignore[index]
    assert len(shown('<text x="20" y="40" letter-spacing="4">abc</text>')) == 3


def ends(text: str) -> tuple[float, float]:
    """How far left a text of SVG stands on paper, and how far right [px]."""
    with closing(PdfDocument(drawn(text))) as paper, closing(paper[0]) as page, closing(page.get_textpage()) as words:
        boxes = [words.get_charbox(number) for number in range(words.count_chars())]
        return min(left for left, *_ in boxes) / PT_PER_PX, max(right for _, _, right, _ in boxes) / PT_PER_PX


@pytest.mark.parametrize(("anchor", "before"), [("start", 0.0), ("middle", 0.5), ("end", 1.0)])
def test_a_word_stands_where_its_letters_would(anchor: str, before: float) -> None:
    plain = f'<text x="200" y="40" text-anchor="{anchor}"'
    # the same, letter by letter: no space between them is still a space of its own
    whole, letters = f"{plain}>mmmm</text>", f'{plain} letter-spacing="0">mmmm</text>'
    assert (len(shown(whole)), len(shown(letters))) == (1, 4)
    left, right = ends(whole)
    assert (left, right) == pytest.approx(ends(letters), abs=0.1)
    # but for the white beside a letter, a sixteenth of the word
    assert left + before * (right - left) == pytest.approx(200.0, abs=(right - left) / 16)


@pytest.mark.parametrize(
    ("attributes", "plain"),
    [
        ({}, True),
        ({"x": "4", "y": "5.5", "dx": "3"}, True),
        ({"x": "4 5"}, False),
        ({"y": "4,5"}, False),
        ({"dx": "0 1"}, False),
        ({"rotate": "10"}, False),
        ({"textLength": "90"}, False),
        ({"letter-spacing": "1px"}, False),
    ],
)
def test_a_text_is_plain_where_its_letters_follow_each_other(attributes: dict[str, str], plain: bool) -> None:
    assert is_plain(attributes) is plain


def test_a_whole_text_is_a_text_of_one_letter() -> None:
    text = Whole("4.30 L/min")
    assert (list(text), len(text), text) == (["4.30 L/min"], 10, "4.30 L/min")


def test_an_empty_text_is_left_as_it_is() -> None:
    class Node:
        text = ""
        attrib: dict[str, str] = {}

    seen = []
    set_whole(lambda svg, node, size: seen.append(node.text))(None, Node(), 12.0)
    assert seen == [""]
