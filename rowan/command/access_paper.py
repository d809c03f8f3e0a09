"""`bin/rowan access --paper`: every kind of page as the browser prints it, on A4 and on Letter: what is under 7 pt, what hangs over
alone on a last page, what is for the screen alone and was printed.

The paper is the browser's own PDF, read by its text operators: a size is that of the type times what scales it (PDF 1.7, 9.4.4).
"""

from __future__ import annotations

import base64
import io
import math
import time
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pathlib import Path

    from selenium.webdriver import Chrome

# the least type on paper [pt]; a hair for what the browser rounds
LEAST_PT = 7.0
HAIR_PT = 0.06
# a last page with fewer words than these is one that hangs over
WORDS_ALONE = 12
INCH = 25.4  # [mm]
SHEETS = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}  # [mm], ISO 216 and ANSI/ASME Y14.1
SCREEN_ONLY = """
const drawn = (e) => e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) && e.getBoundingClientRect().width > 1;
return [...document.querySelectorAll('button:not(.school), input[type=submit], select, input[type=file]')].filter(drawn)
  .map((e) => (e.className || e.parentElement.className) + ' “' + (e.textContent.trim() || e.name || e.tagName).replace(/\\s+/g, ' ').slice(0, 30) + '”');
"""


@dataclass(frozen=True)
class Printed:
    """A page on paper: how many sheets, the words of the last, texts that are too small, what belongs to the screen, tagged or not."""

    page: str
    sheet: str
    sheets: int
    last_words: int
    small: tuple[str, ...]
    screen: tuple[str, ...]
    tagged: bool

    @property
    def hangs_over(self) -> bool:
        """A last page that carries next to nothing."""
        return self.sheets > 1 and self.last_words < WORDS_ALONE


def pdf_of(driver: Chrome, sheet: str) -> bytes:
    """The page that is open as the browser prints it on that sheet, with its own margins."""
    width, height = SHEETS[sheet]
    asked = {
        "printBackground": True,
        "paperWidth": width / INCH,
        "paperHeight": height / INCH,
        "generateTaggedPDF": True,
    }
    answer: dict[str, Any] = driver.execute_cdp_cmd("Page.printToPDF", asked)
    return base64.b64decode(answer["data"])


def small_texts(pdf: bytes, least: float = LEAST_PT) -> list[tuple[float, str]]:
    """Texts of a PDF below so many points, each with its size [pt]."""
    from pypdf import PdfReader

    found: list[tuple[float, str]] = []

    def see(text: str, matrix: list[float], text_matrix: list[float], _font: Any, size: float) -> None:
        c, d = text_matrix[2:4]
        # the height of the type along its own upright
        up = (c * matrix[0] + d * matrix[2], c * matrix[1] + d * matrix[3])
        points = size * math.hypot(*up)
        if text.strip() and 0 < points < least - HAIR_PT:
            found.append((points, " ".join(text.split())))

    for page in PdfReader(io.BytesIO(pdf)).pages:
        page.extract_text(visitor_text=see)
    return found


def printed(driver: Chrome, base: str, page: tuple[str, str], sheet: str, keep: Path | None = None) -> Printed:
    """A page on one kind of sheet."""
    from pypdf import PdfReader

    kind, address = page
    driver.get(base + address)
    time.sleep(1.0)  # what a page fetches after it
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    try:
        screen = driver.execute_script(SCREEN_ONLY)
    finally:
        driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
    pdf = pdf_of(driver, sheet)
    if keep is not None:
        (keep / f"{kind.replace(' ', '-').replace(':', '-')}-{sheet}.pdf").write_bytes(pdf)
    read = PdfReader(io.BytesIO(pdf))
    # the foot of a page, "page 2 of 2", is not counted
    last = len(read.pages[-1].extract_text().split()) - 4
    small = tuple(f"{points:.1f} pt “{text[:30]}”" for points, text in small_texts(pdf))
    return Printed(kind, sheet, len(read.pages), last, small, tuple(screen), "/StructTreeRoot" in read.root_object)


def print_paper(rows: list[Printed]) -> None:
    """What each kind of page has on paper, and the table."""
    kinds: Counter[str] = Counter()
    for row in rows:
        kinds.update(one.split(" “")[0] for one in row.screen)
    print("\nprinted, and for the screen alone:", dict(kinds.most_common(20)))
    print(
        "\n| sheet | pages printed | sheets | texts under 7 pt | last sheets with next to nothing | with what is for the screen | not tagged |"
    )
    print("|---|---|---|---|---|---|---|")
    for sheet in SHEETS:
        mine = [row for row in rows if row.sheet == sheet]
        print(
            f"| {sheet} | {len(mine)} | {sum(row.sheets for row in mine)} | {sum(len(row.small) for row in mine)} "
            f"| {sum(row.hangs_over for row in mine)} | {sum(bool(row.screen) for row in mine)} | {sum(not row.tagged for row in mine)} |"
        )


def run_paper(only: str = "", keep: str = "") -> int:
    """Prints every kind of page; with `keep` the PDFs stay in that folder."""
    from pathlib import Path

    from rowan.command.access import pages_of
    from rowan.command.browser import set_size
    from rowan.command.server import demo_server, signed_in

    folder = Path(keep) if keep else None
    if folder is not None:
        folder.mkdir(parents=True, exist_ok=True)
    rows = []
    with demo_server() as demo, signed_in(demo) as driver:
        set_size(driver, 1280, 800)
        for page in (page for page in pages_of() if only in page[0] or only in page[1]):
            for sheet in SHEETS:
                row = printed(driver, demo.base, page, sheet, folder)
                rows.append(row)
                told = [
                    *row.small[:6],
                    *row.screen[:6],
                    *(["hangs over"] if row.hangs_over else []),
                    *([] if row.tagged else ["not tagged"]),
                ]
                print(
                    f"{row.page} {page[1]} on {sheet}: {row.sheets} sheets, {row.last_words} words on the last; {'; '.join(told) or 'nothing'}",
                    flush=True,
                )
    print_paper(rows)
    return 0
