"""What the repository must and must not hold."""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

import pytest

from rowan.command.vendor import problems
from rowan.core.terms.source import METHODS

ROOT = Path(__file__).resolve().parents[2]
TEXT = {".py", ".md", ".html", ".css", ".js", ".toml", ".txt", ".json", ".sh", ".svg", ""}


def _files() -> list[Path]:
    listed = subprocess.run(
        ["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    return [ROOT / line for line in listed.stdout.splitlines() if (ROOT / line).is_file()]


def _own_text() -> list[tuple[str, str]]:
    return [
        (path.relative_to(ROOT).as_posix(), path.read_text(encoding="utf-8"))
        for path in _files()
        if path.suffix in TEXT and "vendor" not in path.parts
    ]


def test_shipped_files_are_those_of_the_manifest() -> None:
    assert problems() == []


def test_no_file_names_a_registry_or_a_machine() -> None:
    named = re.compile(r"pypi\.org|pythonhosted|npmjs|unpkg|jsdelivr|googleapis|deb\.debian|/root/|/home/\w|/tmp/\w")
    found = [
        (name, match.group())
        for name, text in _own_text()
        if not name.startswith("tests/rules/")
        for match in named.finditer(text)
    ]
    assert found == []


def test_what_is_said_once_is_a_record() -> None:
    """One kind of thing that never changes where it is made by the thousand; commands and the stand-in make few."""
    watched = re.compile(r"@dataclass\(.*frozen")
    found = [
        name for name, text in _own_text() if name.startswith(("rowan/core/", "rowan/web/")) and watched.search(text)
    ]
    assert found == []


def test_requirements_are_pinned_and_hashed() -> None:
    for name in ("run.txt", "test.txt"):
        text = (ROOT / "requirements" / name).read_text(encoding="utf-8")
        packages = [line for line in text.splitlines() if line and not line.startswith((" ", "#"))]
        assert packages
        assert all("==" in line for line in packages), name
        assert text.count("--hash=sha256:") >= len(packages)


@pytest.mark.parametrize("number", METHODS)
def test_every_cited_method_has_its_page(number: int) -> None:
    pages = list((ROOT / "docs" / "methods").glob(f"{number:02d}-*.md"))
    assert len(pages) == 1
    assert METHODS[number].title in pages[0].read_text(encoding="utf-8").splitlines()[0]


def test_the_readme_links_lead_somewhere() -> None:
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    targets = [target for target in re.findall(r"\]\(([^)#]+)\)", text) if "://" not in target]
    assert targets
    assert [target for target in targets if not (ROOT / target).exists()] == []


def test_screenshots_are_few() -> None:
    assert 0 < len(list((ROOT / "docs" / "screenshots").glob("*.png"))) < 20
