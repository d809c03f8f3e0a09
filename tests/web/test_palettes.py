"""Light and dark paper: every colour that letters or lines have is told from every ground it lies on, by the rule of WCAG 2.2, 1.4.3
and 1.4.11; and the two palettes name the same colours, which are those that a drawing alone has."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import rowan.web.ui as ui
from rowan.web.ui.svg import Drawing

STYLES = Path(ui.__file__).parent / "static" / "rowan"
GROUNDS = ("paper", "wash")
# letters on paper and on a wash; letters of a pressed or main button
LETTERS = [(name, ground) for name in ("ink", "ink-2", "berry", "leaf", "slate") for ground in GROUNDS]
LETTERS += [
    ("ink", "wash-2"),
    ("ink-2", "wash-2"),
    ("clay", "paper"),
    ("paper", "ink"),
    ("paper", "deep"),
    ("paper", "berry"),
    ("paper", "ink-2"),
]
# lines that mean something by themselves
LINES = [("cable-brown", "paper"), ("cable-grey", "paper"), ("faint", "paper"), ("clay", "wash")]
LEAST_LETTERS, LEAST_LINES = 4.5, 3.0


def palettes() -> dict[str, dict[str, str]]:
    """The colours of light and of dark paper, by name."""
    style = (STYLES / "rowan.css").read_text(encoding="utf-8")
    light = style[style.index(":root") : style.index("html {")]
    dark = style[style.index('[data-paper="dark"]') :]
    colour = re.compile(r"--([\w-]+): (#[0-9a-f]{6});")
    return {
        "light": dict(colour.findall(light[: light.index("--bulma")])),
        "dark": dict(colour.findall(dark[: dark.index("}")])),
    }


def luminance(colour: str) -> float:
    """Relative luminance of sRGB, WCAG 2.2."""
    parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """1 for two alike, 21 for black on white."""
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


def test_the_rule_itself() -> None:
    assert contrast("#000000", "#ffffff") == pytest.approx(21)
    assert contrast("#767676", "#ffffff") == pytest.approx(4.54, abs=0.005)  # the grey that just passes, as published


@pytest.mark.parametrize("paper", ["light", "dark"])
def test_letters_are_told_from_their_ground(paper: str) -> None:
    colours = palettes()[paper]
    weak = {pair: round(contrast(colours[pair[0]], colours[pair[1]]), 2) for pair in LETTERS}
    assert {pair: found for pair, found in weak.items() if found < LEAST_LETTERS} == {}


@pytest.mark.parametrize("paper", ["light", "dark"])
def test_lines_are_told_from_their_ground(paper: str) -> None:
    colours = palettes()[paper]
    weak = {pair: round(contrast(colours[pair[0]], colours[pair[1]]), 2) for pair in LINES}
    assert {pair: found for pair, found in weak.items() if found < LEAST_LINES} == {}


def test_both_papers_name_the_same_colours_and_no_style_has_another() -> None:
    found = palettes()
    assert found["light"].keys() == found["dark"].keys()
    for name in ("rowan", "firm", "drawing"):
        style = (STYLES / f"{name}.css").read_text(encoding="utf-8")
        body = style if name != "rowan" else style[style.index("html {") :]
        for used, spare in re.findall(r"var\(--([\w-]+)(?:, (#\w+))?\)", body):
            assert used in found["light"] or used.startswith("bulma"), (name, used)
            # what a drawing alone falls back on is light paper
            assert spare in ("", found["light"].get(used)), (name, used, spare)
        # a mark that lies on ink takes the other paper's colours
        known = {*found["light"].values(), *found["dark"].values()}
        assert set(re.findall(r"#[0-9a-f]{6}\b", body)) <= known, name


def test_a_drawing_alone_has_colours_of_its_own() -> None:
    drawing = Drawing(40, 20, "a line", "drawing")
    drawing.line((0, 0), (40, 20), "hot")
    alone = drawing.svg_file()
    assert "var(" not in alone
    assert "#27231f" in alone
