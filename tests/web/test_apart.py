"""No two words of a drawing lie on each other, in any language, whatever the loop: read where they stand when a page is drawn."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.terms.language import tr
from rowan.demo import pipwater, sandreef
from rowan.web.accounts.models import User
from rowan.web.benches.bench import Sheet
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.services import start_job
from rowan.web.steps.control.drawing import _in_a_row, differences, limits
from rowan.web.steps.registry import PAGES
from rowan.web.steps.roof.plane import roof_plane
from rowan.web.ui import svg
from rowan.web.ui.fit import Box, Element, Point, _box, _size, _upright, fit, wanted_width
from rowan.web.ui.svg import Drawing
from tests.core.designs import altered, plan_a, proposed
from tests.core.thermosiphons import roof_tank
from tests.web.test_drawings import sheet
from tests.web.test_pages import bench_url

pytestmark = pytest.mark.django_db
# em over the line, as high as most letters stand; a word's sides are measured at the boldest letters, on a phone
INK, SIDES_PX, DEEP_PX = 0.6, 2.0, 1.0
DESIGNS = {
    "over its field": roof_tank(),
    "slab": altered(proposed("aldersund-5-oil"), duty__kind="slab", roof__fixing="ballast"),
    "direct": proposed("maravel-8-gas"),
    "small": proposed("aldersund-1-gas"),
}
DEMO = {"pool": pipwater.TITLE, "guesthouse": sandreef.TITLE}


def _ink(node: Element, moved: Point) -> Box:
    """Where the letters of a text stand."""
    left, _, right, _ = _box(node, wanted_width(node), moved)
    line = float(node.attributes.get("y", 0)) + moved[1]
    return left, line - INK * _size(node), right, line


def on_each_other(drawn: Element) -> list[tuple[str, str]]:
    """Pairs of texts of a drawing of which one lies on the other."""
    found, before = [], list[tuple[str, Box]]()
    for node, moved in _upright(drawn):
        said = " ".join(tr(part.text) for part in (node, *node.children) if part.tag != "title").strip()
        if not said:
            continue
        box = _ink(node, moved)
        for other, taken in before:
            wide, deep = (min(box[side + 2], taken[side + 2]) - max(box[side], taken[side]) for side in (0, 1))
            if wide > SIDES_PX and deep > DEEP_PX:
                found.append((other, said))
        before.append((said, box))
    return found


@pytest.fixture
def laid(monkeypatch: pytest.MonkeyPatch) -> list[tuple[str, str]]:
    """What lies on what in the drawings that are drawn meanwhile."""
    found: list[tuple[str, str]] = []

    def fitted(drawn: Drawing, width: float, height: float) -> None:
        fit(drawn, width, height)
        found.extend(on_each_other(drawn))

    monkeypatch.setattr(svg, "fit", fitted)
    return found


def _plan(kind: str, person: User) -> Plan:
    if kind in DEMO:
        return Job.objects.get(title=DEMO[kind]).plans.get(letter="A")
    assert person.firm is not None
    return start_job(firm=person.firm, author=person, title=kind, design=DESIGNS[kind])


@pytest.mark.parametrize("language", ["en", "de", "es"])
@pytest.mark.parametrize("kind", [*DEMO, *DESIGNS])
def test_no_words_of_a_drawing_lie_on_others(
    kind: str, language: str, demo_person: User, laid: list[tuple[str, str]]
) -> None:
    User.objects.filter(pk=demo_person.pk).update(language=language)
    plan, page = _plan(kind, demo_person), Client()
    page.force_login(demo_person)
    for bench in PAGES:
        assert page.get(bench_url(plan, bench)).status_code == 200
        assert laid == [], bench


def test_words_on_others_are_found() -> None:
    drawing = Drawing(300, 60, "frame")
    drawing.words((20, 30), "station", "label")
    drawing.words((40, 30), "surplus", "label")
    drawing.words((20, 44), "0.7 L", "fig-minor")
    assert on_each_other(drawing) == [("station", "surplus")]


@pytest.mark.parametrize(
    ("drawn", "change"),
    [
        (differences, {"control__start_k": 8.0, "control__stop_k": 9.0}),
        (limits, {"store__maximum_c": 80.0, "control__cut_out_c": 81.0}),
        (limits, {"control__cut_out_c": 118.0, "run__joint_rating_c": 120.0}),
        (roof_plane, {"collector__count": 48, "survey__roof_width_m": 60.0}),
    ],
)
def test_what_stands_close_gives_way(drawn: Callable[[Sheet], Drawing], change: dict[str, float]) -> None:
    drawing = drawn(sheet(altered(plan_a(), **change)))
    fit(drawing, drawing.width, drawing.height)
    assert on_each_other(drawing) == []


@given(places=st.lists(st.tuples(st.floats(0, 640), st.floats(20, 90)), max_size=5))
def test_words_in_a_row_stand_beside_each_other_inside_the_frame(places: list[tuple[float, float]]) -> None:
    wanted, widths = sorted(at for at, _ in places), [wide for _, wide in places]
    found = _in_a_row(wanted, widths, 652.0)
    sides = [(middle - wide / 2, middle + wide / 2) for middle, wide in zip(found, widths, strict=True)]
    assert all(left >= -0.01 and right <= 652.01 for left, right in sides)
    assert all(one[1] < other[0] for one, other in pairwise(sides))


def test_the_name_of_a_storey_gives_way_upwards_alone() -> None:
    drawing = Drawing(300, 200, "frame")
    figure = drawing.figure((30, 96), "2.33", "bar", "key halo")
    storey = drawing.words((40, 100), "cellar", "place halo")
    fit(drawing, 300, 200)
    assert on_each_other(drawing) == []
    assert figure.attributes["y"] == 96
    assert storey.attributes["y"] < 96
