"""Words of drawings: inside the frame in every language, labels off each other, lines as wide as they may be."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.web.ui.fit import Box, Point, _box, fit, lines_of, measured_at, shortened, wanted_width, width_of
from rowan.web.ui.svg import Drawing, Node


def box_of(node: Node, moved: Point) -> Box:
    """Where a text stands."""
    return _box(node, wanted_width(node), moved)


WORDS = st.text(st.sampled_from("abcdefgh ÄÖÜßñ.,0123456789"), min_size=1, max_size=70)
ANCHORS = ("", "middle", "end")


@pytest.mark.parametrize(
    ("text", "wide"),
    # as Chromium's canvas measures them in "600 11.5px 'Source Sans 3'"
    [("Rückflussverhinderer", 105.8), ("", 0.0), ("iiii", 12.05), ("Sicherheitsventil öffnet 6,00 bar", 157.6)],
)
def test_a_text_is_as_wide_as_its_letters(text: str, wide: float) -> None:
    assert width_of(text, 11.5) == pytest.approx(wide, abs=1.0)


@given(text=WORDS, x=st.floats(0, 300), anchor=st.sampled_from(ANCHORS))
def test_words_end_inside_the_frame(text: str, x: float, anchor: str) -> None:
    drawing = Drawing(300, 40, "frame")
    node = drawing.words((x, 20), text, "label", anchor)
    fit(drawing, 300, 40)
    left, _, right, _ = box_of(node, (0.0, 0.0))
    assert left >= -0.01
    assert right <= 300.01


@given(text=WORDS, x=st.floats(50, 150))
def test_words_that_fit_stay_where_they_are(text: str, x: float) -> None:
    drawing = Drawing(700, 40, "frame")
    node = drawing.words((x, 20), text)
    if x + width_of(text, 11.5) < 700:
        fit(drawing, 700, 40)
        assert node.attributes["x"] == x
        assert "textLength" not in node.attributes


def test_a_figure_that_is_set_closer_is_so_with_its_unit_on_paper() -> None:
    drawing = Drawing(100, 40, "frame")
    node = drawing.figure((40, 20), "12345.67", "bar")
    drawing.figure((10, 20), "1.2", "bar")
    assert "scale(" not in drawing.svg_file()
    text = drawing.svg_file(paper=True)
    assert "textLength" in node.attributes
    assert "textLength" not in text
    ((at, share, back),) = re.findall(r"translate\(([\d.-]+) 0\) scale\(([\d.]+) 1\) translate\(([\d.-]+) 0\)", text)
    assert float(at) == -float(back) == pytest.approx(node.attributes["x"], abs=0.005)
    assert float(share) * wanted_width(node) == pytest.approx(node.attributes["textLength"], abs=0.01)


@pytest.mark.parametrize(
    ("cls", "figure_px", "unit_px"),
    # as the style sheet has them; 12 px are the smallest on a phone
    [("fig-big halo", 20, 13), ("fig", 14, 12), ("fig-cell", 13, 12), ("", 12, 12)],
)
def test_a_unit_is_measured_at_its_own_size_and_not_at_its_figure_s(cls: str, figure_px: float, unit_px: float) -> None:
    node = Drawing(300, 40, "frame").figure((10, 20), "4.00", "bar", cls)
    space = 3
    assert wanted_width(node) == pytest.approx(width_of("4.00", figure_px) + space + width_of("bar", unit_px))


def test_a_moved_group_is_measured_where_it_stands() -> None:
    drawing = Drawing(200, 40, "frame")
    node = drawing.add("g", transform="translate(150 0)").words((0, 20), "Sicherheitsventil")
    turned = drawing.add("g", transform="rotate(90)").words((190, 20), "Sicherheitsventil")
    fit(drawing, 200, 40)
    assert box_of(node, (150.0, 0.0))[2] <= 200.01
    assert turned.attributes["x"] == 190


def test_a_label_gives_way_to_words_and_to_labels_before_it_and_figures_do_not() -> None:
    drawing = Drawing(300, 120, "frame")
    figure = drawing.figure((20, 60), "4.3", "L/min", "fig-big halo")
    first = drawing.words((30, 62), "cold start", "label halo")
    second = drawing.words((40, 60), "loop", "label halo")
    fit(drawing, 300, 120)
    assert figure.attributes["y"] == 60
    boxes = [box_of(node, (0.0, 0.0)) for node in (figure, first, second)]
    for n, one in enumerate(boxes):
        for other in boxes[n + 1 :]:
            assert one[3] <= other[1] or other[3] <= one[1] or one[2] <= other[0] or other[2] <= one[0]


@given(text=WORDS, wide=st.floats(20, 300))
def test_lines_hold_every_word_once_and_are_no_wider_than_asked(text: str, wide: float) -> None:
    lines = lines_of(text, wide)
    assert " ".join(lines).split() == text.split()
    assert all(width_of(line, 11.5) <= wide for line in lines if " " in line)


@given(text=WORDS, wide=st.floats(20, 300))
def test_what_is_shortened_says_so(text: str, wide: float) -> None:
    said = shortened(text, wide)
    assert said == text or (said.endswith("…") and width_of(said, 11.5) <= wide)


@pytest.mark.parametrize(
    ("text", "wide"),
    # by Literata's own italic, 11.5 px
    [
        (
            "This loop stands hot in its simulated year. The rates are rules of thumb; a strip read every spring is the truth.",
            560,
        ),
        ("Este circuito está caliente y parado en su año simulado", 282),
    ],
)
def test_italic_letters_are_measured_no_narrower_than_they_are(text: str, wide: float) -> None:
    phone = wide * 12.0 / 11.5
    assert phone <= width_of(text, measured_at("place halo")) <= 1.03 * phone
    assert width_of(text, measured_at("label")) < phone
