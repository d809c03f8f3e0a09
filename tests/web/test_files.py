"""Open formats and papers: CSV, SVG, schema, the job sheet on both sizes of paper, the method pages."""

from __future__ import annotations

import csv
import re
import xml.etree.ElementTree as ET
from collections.abc import Callable
from contextlib import closing
from io import BytesIO, StringIO

import pytest
from cssselect2 import ElementWrapper, Matcher, compile_selector_list
from django.test import Client
from django.urls import reverse
from pypdf import PdfReader
from pypdfium2 import PdfDocument

from rowan.core.design.design import Design
from rowan.core.design.schema import schema_text
from rowan.core.reckon import reckon
from rowan.core.steps.commission.valves import VALVE_NAMES
from rowan.core.terms.source import METHODS
from rowan.core.terms.units import SYSTEMS, System
from rowan.demo.corrim import corrim
from rowan.web.accounts.models import User
from rowan.web.benches.bench import Sheet
from rowan.web.handover.drawing import tag_drawing
from rowan.web.handover.papers import SENSOR_TAGS
from rowan.web.methods.pages import pages
from rowan.web.papers.exports import COLUMNS, drawings, parts_csv
from rowan.web.papers.font_cuts import font_faces
from rowan.web.papers.job_sheet import job_sheet_pdf, sheet_context
from rowan.web.papers.settings_card import settings_card_pdf
from rowan.web.papers.sheets import Size, draw, on_paper
from rowan.web.plans.models import Plan
from rowan.web.ui.fit import DRAWING_CSS
from rowan.web.ui.languages import shown_in
from rowan.web.ui.svg import Drawing
from tests.core.designs import altered, plan_a, plan_b, proposed
from tests.web.text import printed

PT_PER_PX = 0.75
POINTS = {"a4": (595, 842), "letter": (612, 792)}


def rows(text: str) -> list[dict[str, str]]:
    return list(csv.DictReader(StringIO(text)))


# CSV


@pytest.mark.parametrize("units", SYSTEMS)
def test_the_parts_list_reads_back_with_its_numbers(units: System) -> None:
    sheet = Sheet(plan_b(), reckon(plan_b()), units)
    found = rows(parts_csv(sheet))
    assert tuple(found[0]) == COLUMNS
    assert len(found) == len(sheet.result.parts.parts)
    cable = next(row for row in found if row["goods"].startswith("sensor cable"))
    metres = sheet.result.run.route.hot_length + 3
    assert float(cable["quantity"]) == pytest.approx(metres if units == "metric" else metres / 0.3048, abs=1e-3)
    assert cable["unit"] == ("m" if units == "metric" else "ft")
    assert {row["place"] for row in found} == {"roof", "attic", "shaft", "plant room"}


def test_no_cell_of_the_list_is_taken_for_a_formula() -> None:
    pipe = plan_b().run.pipe.value.model_copy(update={"name": '=HYPERLINK("x")'})
    sheet = Sheet(altered(plan_b(), run__pipe=pipe), reckon(altered(plan_b(), run__pipe=pipe)), "metric")
    for row in rows(parts_csv(sheet)):
        for cell in row.values():
            assert not cell.startswith(("=", "+", "@"))


@pytest.mark.django_db
def test_the_list_is_a_file_named_after_its_plan(plan: Plan, page: Client) -> None:
    answer = page.get(reverse("papers:parts_csv", args=(plan.job_id, "A")))
    assert answer["Content-Type"] == "text/csv; charset=utf-8"
    assert f'filename="parts-{plan.job_id}-A.csv"' in answer["Content-Disposition"]


# SVG


@pytest.mark.parametrize("units", SYSTEMS)
@pytest.mark.parametrize("key", ["kvist", "direct"])
def test_every_drawing_stands_alone(key: str, units: System) -> None:
    design = plan_a() if key == "kvist" else proposed("maravel-8-gas")
    found = list(drawings(Sheet(design, reckon(design), units)))
    assert len({name for name, _, _ in found}) == len(found) >= 14
    for name, _, drawing in found:
        text = drawing.svg_file()
        root = ET.fromstring(text)
        assert root.tag == "{http://www.w3.org/2000/svg}svg", name
        assert "tabindex" not in text, "nothing in a file can be dragged"
        assert "data-path" not in text
        used = set(re.findall(r"url\(#([\w-]+)\)", text))
        held = {element.get("id") for element in root.iter() if element.tag.endswith("pattern")}
        assert used <= held, f"{name} uses hatches it does not bring"


def styled(text: str, style: str) -> list[tuple[str, tuple[str, ...]]]:
    """What a style says of each element of a drawing, in order."""
    matcher: Matcher = Matcher()
    for selectors, body in re.findall(r"([^{}]+)\{([^{}]*)\}", style):
        for selector in compile_selector_list(selectors):
            matcher.add_selector(selector, " ".join(body.split()))
    root = ElementWrapper.from_xml_root(ET.fromstring(text.replace(' xmlns="http://www.w3.org/2000/svg"', "", 1)))
    return [
        (element.local_name, tuple(found[-1] for found in matcher.match(element))) for element in root.iter_subtree()
    ]


@pytest.mark.parametrize("paper", [False, True])
def test_a_drawing_alone_looks_as_on_its_page(paper: bool) -> None:
    css = re.sub(r"/\*.*?\*/", "", DRAWING_CSS.read_text(encoding="utf-8"), flags=re.DOTALL)
    css = re.sub(r"var\(--[\w-]+, (#\w+)\)", r"\1", css)
    still = re.sub(r"[^{}]*(:[a-z]|\[)[^{}]*\{[^{}]*\}", "", css)  # what is hovered, focused or opened
    assert len(still) > len(css) / 2
    for name, _, drawing in drawings(Sheet(plan_a(), reckon(plan_a()), "metric")):
        text = drawing.svg_file(paper=paper)
        own = re.search(r"<style>(.*?)</style>", text, flags=re.DOTALL)
        assert own, name
        whole = styled(text, still)
        assert styled(text, own[1]) == whole, name
        assert sum(len(bodies) for _, bodies in whole) > 5


def test_on_paper_letters_with_a_halo_lie_on_a_white_one() -> None:
    limits = next(d for name, _, d in drawings(Sheet(plan_a(), reckon(plan_a()), "metric")) if name == "control-limits")
    text = limits.svg_file(paper=True)
    assert ".drawing .under{stroke: #fff;" in text
    texts = [e for e in ET.fromstring(text).iter() if e.tag.endswith("}text")]
    assert not [e for e in texts if "halo" in e.get("class", "").split()], "it would be drawn over its own letters"
    under = [number for number, e in enumerate(texts) if "under" in e.get("class", "").split()]
    assert len(under) > 5
    for number in under:
        below, above = texts[number], texts[number + 1]
        assert "".join(above.itertext()) == "".join(below.itertext())
        assert {**below.attrib, "class": ""} == {**above.attrib, "class": ""}
        assert below.get("class", "").split() == [*above.get("class", "").split(), "under"]


def strayed(found: list[Drawing]) -> list[str]:
    """The texts of drawings of which a letter stands outside them on paper."""
    style = f"<style>{font_faces()} @page {{ size: 1600px; margin: 0 }} body {{ margin: 0; line-height: 0 }} p {{ margin: 0 }}</style>"
    pictures = [f'<p style="break-after: page; width: {d.width}px">{on_paper(d)}</p>' for d in found]
    outside, letters = [], 0
    with closing(PdfDocument(draw(style + "".join(pictures)))) as paper:
        for drawing, page in zip(found, paper, strict=True):
            height = page.get_height()
            with closing(page), closing(page.get_textpage()) as text:
                for number in range(text.count_chars()):
                    if text.get_text_range(number, 1).strip():
                        left, foot, right, top = text.get_charbox(number)
                        box = [pt / PT_PER_PX for pt in (left, height - top, right, height - foot)]
                        if min(box) < -1 or box[2] > drawing.width + 1 or box[3] > drawing.height + 1:
                            outside.append(f"{drawing.key}: {text.get_text_range(max(number - 20, 0), 24)}")
                        letters += 1
    assert letters > 100
    return outside


@pytest.mark.parametrize(
    ("made", "key"), [(plan_a, "de"), (lambda: proposed("maravel-8-gas"), "es"), (corrim, "de"), (corrim, "en")]
)
def test_on_paper_every_letter_stands_in_its_drawing(made: Callable[[], Design], key: str) -> None:
    design = made()
    with shown_in(key):
        assert strayed([d for _, _, d in drawings(Sheet(design, reckon(design), "metric"))]) == []


@pytest.mark.parametrize("key", ["en", "de", "es"])
def test_what_is_said_on_a_tag_stands_on_it(key: str) -> None:
    names = dict.fromkeys((*VALVE_NAMES.values(), *(name for _, name, _ in SENSOR_TAGS)))
    with shown_in(key):
        assert (
            strayed([tag_drawing("S3", name, stays) for name in names for stays in ("stays open", "by itself")]) == []
        )


def test_words_for_the_screen_are_in_no_file() -> None:
    sheet = Sheet(plan_a(), reckon(plan_a()), "metric")
    hand = re.compile(r"arrow keys|\b[Dd]rag |type another")
    said = [d for _, _, d in drawings(sheet) if hand.search(d.markup())]
    assert len(said) >= 3
    for drawing in said:
        assert not hand.search(drawing.svg_file())


def test_the_ladder_alone_names_its_schools() -> None:
    ladder = next(d for name, _, d in drawings(Sheet(plan_b(), reckon(plan_b()), "metric")) if name == "charge-ladder")
    texts = [text for element in ET.fromstring(ladder.svg_file()).iter() if (text := element.text)]
    assert {"reserve", "equal", "above", "atmosphere", "raised", "typed"} <= set(texts)


@pytest.mark.django_db
def test_a_drawing_is_a_file_and_an_unknown_one_is_not_there(plan: Plan, page: Client) -> None:
    answer = page.get(reverse("papers:drawing", args=(plan.job_id, "A", "run-profile")))
    assert answer["Content-Type"] == "image/svg+xml"
    assert page.get(reverse("papers:drawing", args=(plan.job_id, "A", "nothing"))).status_code == 404


# papers


@pytest.mark.django_db
@pytest.mark.parametrize("size", POINTS)
@pytest.mark.parametrize("kind", ["plan", "direct_plan"])
def test_the_card_fits_one_page_of_either_paper(kind: str, size: Size, request: pytest.FixtureRequest) -> None:
    for units in SYSTEMS:
        made = settings_card_pdf(request.getfixturevalue(kind), units, size)
        paper, (text,) = PdfReader(BytesIO(made)), printed(made)
        assert ("psi" in text) is (units == "us")
        assert "page 1 of 1" in text
        assert "Hollin & Wray" in text, "no markup is left in the foot"
        box = paper.pages[0].mediabox
        assert (round(box.width), round(box.height)) == POINTS[size]


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("kind", "units", "size"), [("plan", "metric", "a4"), ("plan", "us", None), ("direct_plan", "us", "a4")]
)
def test_the_job_sheet_holds_the_whole_plan(
    kind: str, units: System, size: Size | None, request: pytest.FixtureRequest
) -> None:
    plan: Plan = request.getfixturevalue(kind)
    made = job_sheet_pdf(plan, units, size)
    paper, texts = PdfReader(BytesIO(made)), printed(made)
    whole = " ".join(texts)
    wanted = size or ("letter" if units == "us" else "a4")
    assert round(paper.pages[0].mediabox.height) == POINTS[wanted][1]
    assert 7 <= len(texts) <= 12
    for number, text in enumerate(texts, 1):
        assert f"page {number} of {len(texts)}" in text
        assert len(text) > 300, f"page {number} is all but empty"
    for heading in (
        "The plan in figures",
        "The legs",
        "To pack",
        "To commission",
        "Still assumed",
        "Before anybody goes up",
        "Sources",
    ):
        assert heading in whole
    assert ("psi" in whole) is (units == "us")
    assert "licensed trades come first" in whole
    assert "Hausner and Fink 2003" in whole


@pytest.mark.django_db
def test_the_job_sheet_lists_every_guess_every_part_and_every_step(plan: Plan) -> None:
    context = sheet_context(plan, "metric")
    assert len(context["guesses"]) == plan.head.assumed_count
    assert sum(len(found) for _, found in context["packing"]) == len(context["result"].parts.parts)
    assert [row["step"].key for row in context["steps"]] == [s.key for s in context["result"].commission.steps]
    cited = [m.number for column in context["sources"] for m in column]
    assert cited == sorted(set(cited))


@pytest.mark.django_db
def test_papers_and_files_are_all_linked_and_alive(plan: Plan, page: Client) -> None:
    html = page.get(reverse("papers:papers", args=(plan.job_id, "A"))).content.decode()
    links = {
        link.replace("&amp;", "&")
        for link in re.findall(r'(?:href|src)="(/[^"#]*)"', html)
        if not link.startswith("/static")
    }
    assert len([link for link in links if link.endswith(".svg")]) >= 14
    for link in links - {link for link in links if "job-sheet" in link}:
        assert page.get(link).status_code in (200, 302), link


# the schema and the methods


@pytest.mark.django_db
def test_the_schema_is_served_as_published(page: Client) -> None:
    answer = page.get(reverse("jobs:schema"))
    assert answer.content.decode() == schema_text()
    assert answer["Content-Type"].startswith("application/schema+json")


def test_every_method_that_is_cited_has_its_page() -> None:
    found = pages()
    assert set(METHODS) <= set(found)
    for number, page in found.items():
        assert page.title, number
        assert "<p>" in page.body
        assert not re.search(r"\b[A-Z]_[a-z]", page.body), "letters with an index are set as such"


@pytest.mark.django_db
def test_figures_link_to_the_methods_they_cite(plan: Plan, page: Client, person: User) -> None:
    for key in ("survey", "collector", "store", "run", "charge", "control", "parts", "commission"):
        html = page.get(reverse("steps:bench", args=(plan.job_id, "A", key))).content.decode()
        sources = re.findall(r'class="source">(.*?)</p>', html, re.S)
        assert sources
        for source in sources:
            assert '<a href="/methods/' in source, key
    for number in pages():
        assert page.get(reverse("methods:page", args=(number,))).status_code == 200
    assert page.get("/methods/99/").status_code == 404
