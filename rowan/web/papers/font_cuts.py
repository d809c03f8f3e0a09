"""The fonts of papers: each weight in use cut once from the fonts that ship.

The library that draws papers cuts a font of many weights anew for every weight and size in every paper, a fifth of a job sheet's
time. Cut once into the data folder it takes them as they are. They are made on the machine, not shipped: a changed font under its
own name is not ours to hand on.
"""

from __future__ import annotations

import hashlib
import os
import tempfile
from functools import lru_cache
from pathlib import Path

from django.conf import settings
from django.utils.safestring import SafeString, mark_safe

SHIPPED = Path(__file__).resolve().parents[1] / "ui" / "static" / "vendor" / "fonts"
SANS, GROTESQUE, SERIF = "Source Sans 3", "Bricolage Grotesque", "Literata"
FILES = {
    SANS: "source-sans-3-latin-wght-normal.woff2",
    GROTESQUE: "bricolage-grotesque-latin-standard-normal.woff2",
    SERIF: "literata-latin-wght-italic.woff2",
}
# what papers and their drawings use: family, weight, style, and the places on the font's other axes. Drawings ask for 500 and 650
# too and get the nearest: on paper the eye cannot tell them.
CUTS: tuple[tuple[str, int, str, dict[str, float]], ...] = (
    (SANS, 400, "normal", {}),
    (SANS, 600, "normal", {}),
    (SANS, 700, "normal", {}),
    (GROTESQUE, 700, "normal", {"opsz": 18, "wdth": 100}),  # drawn for headings of 10 to 21 pt
    (SERIF, 400, "italic", {}),
)


def _cut(source: Path, target: Path, axes: dict[str, float]) -> None:
    """One weight of a font as a file of its own, whole or not at all."""
    from fontTools.ttLib import TTFont
    from fontTools.varLib.instancer import instantiateVariableFont

    font = instantiateVariableFont(TTFont(source), axes, static=True)
    font.flavor = None  # unpacked: packed letters would be unpacked at every paper
    handle, part = tempfile.mkstemp(dir=target.parent)
    with os.fdopen(handle, "wb") as file:
        font.save(file)
    Path(part).replace(target)


@lru_cache(maxsize=16)
def _key(source: Path, places: tuple[tuple[str, float], ...]) -> str:
    """What a cut is known by: its font's content and its place in it. Told once: what ships does not change under a process."""
    return hashlib.sha256(source.read_bytes() + repr(places).encode()).hexdigest()[:16]


def _face(family: str, weight: int, style: str, file: Path) -> str:
    return f'@font-face {{ font-family: "{family}"; src: url("{file.as_uri()}"); font-weight: {weight}; font-style: {style}; }}'


def font_faces() -> SafeString:
    """The style's font faces for papers; cuts what is not there yet, or where the disk is full takes the fonts as shipped."""
    folder = Path(settings.VAR) / "fonts"
    faces = []
    for family, weight, style, axes in CUTS:
        source = SHIPPED / FILES[family]
        places = {"wght": weight, **axes}
        file = folder / f"{_key(source, tuple(sorted(places.items())))}.ttf"
        try:
            if not file.exists():
                folder.mkdir(parents=True, exist_ok=True)
                _cut(source, file, places)
        except OSError:
            file = source
        faces.append(_face(family, weight, style, file))
    return mark_safe("\n".join(faces))  # noqa: S308  names and files of ours alone
