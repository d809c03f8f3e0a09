"""Words of drawings on paper: each is set in one piece, where and as long as before."""

from __future__ import annotations

import base64
from io import BytesIO

import pytest
from pypdf import PdfReader
from pypdf.generic import ContentStream

from rowan.web.papers.sheets import draw
from rowan.web.papers.whole_words import Whole, is_plain, set_whole


def shown(text: str) -> list[list[object]]:
    """What a text of SVG is set as on paper: for each piece its matrix and its glyphs."""
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 100" width="400" height="100">{text}</svg>'
    data = base64.b64encode(svg.encode()).decode()
    reader = PdfReader(BytesIO(draw(f'<img alt="" src="data:image/svg+xml;base64,{data}">')))
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


@pytest.mark.parametrize("anchor", ["start", "middle", "end"])
def test_a_word_starts_where_its_first_letter_would(anchor: str) -> None:
    whole = shown(f'<text x="200" y="40" text-anchor="{anchor}">mmmm</text>')
    # the same, letter by letter: no space between them is still a space of its own
    letters = shown(f'<text x="200" y="40" text-anchor="{anchor}" letter-spacing="0">mmmm</text>')
    assert (len(whole), len(letters)) == (1, 4)
    assert whole[0][0] == pytest.approx(letters[0][0], abs=0.01)


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
