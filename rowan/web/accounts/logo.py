"""The head of a firm's papers: a picture by its content, made safe. A PNG is drawn anew; of an SVG only shapes are let through."""

from __future__ import annotations

import io
import re
import warnings
from typing import Any

from defusedxml import ElementTree as Safe
from defusedxml.common import DefusedXmlException
from PIL import Image, UnidentifiedImageError

PNG, SVG = "image/png", "image/svg+xml"
LONGEST_PX = 1200
MOST_PX = 40_000_000  # a picture that unfolds to more is a trap, not a head of paper
MOST_PARTS = 5_000
NAMESPACE = "http://www.w3.org/2000/svg"
SHAPES = {
    "svg", "g", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "defs", "lineargradient", "radialgradient", "stop",
    "title", "clippath", "text", "tspan",
}  # fmt: skip
# what says where and how a shape is drawn; nothing that names an address or a script
ATTRIBUTES = {
    "viewBox", "width", "height", "x", "y", "x1", "y1", "x2", "y2", "cx", "cy", "r", "rx", "ry", "d", "points", "transform", "fill",
    "fill-rule", "fill-opacity", "stroke", "stroke-width", "stroke-linecap", "stroke-linejoin", "stroke-dasharray", "stroke-opacity",
    "opacity", "offset", "stop-color", "stop-opacity", "gradientUnits", "gradientTransform", "id", "clip-path", "font-size",
    "font-family", "font-weight", "text-anchor", "preserveAspectRatio",
}  # fmt: skip
# a value may point to a part of the same picture and to nothing else
_POINTS = re.compile(r"url\(\s*(?!['\"]?#)|javascript:|expression\(|@import|\\", re.I)


class LogoError(ValueError):
    """A picture that cannot be the head of a paper; its words say why."""


def safe_logo(content: bytes) -> tuple[str, bytes]:
    """(kind, content) of a picture that holds nothing but a picture. Raises LogoError."""
    if content.lstrip()[:5].lower() in (b"<?xml", b"<svg ") or b"<svg" in content[:2000].lower():
        return SVG, _safe_svg(content)
    return PNG, _safe_png(content)


def _safe_png(content: bytes) -> bytes:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            found = Image.open(io.BytesIO(content), formats=("PNG",))
            if found.width * found.height > MOST_PX:
                raise LogoError("this picture is too large to be drawn")
            found.load()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Warning) as error:
        if isinstance(error, LogoError):
            raise
        raise LogoError("this is no PNG and no SVG that can be read") from error
    picture = found.convert("RGBA")
    picture.thumbnail((LONGEST_PX, LONGEST_PX))
    made = io.BytesIO()
    picture.save(made, "PNG")
    return made.getvalue()


def _safe_svg(content: bytes) -> bytes:
    try:
        root = Safe.fromstring(content, forbid_dtd=True)
    except (DefusedXmlException, Safe.ParseError, ValueError) as error:
        raise LogoError("this SVG cannot be read") from error
    if _name(root) != "svg":
        raise LogoError("this is no SVG picture")
    if sum(1 for _ in root.iter()) > MOST_PARTS:
        raise LogoError("this SVG has too many parts for a head of paper")
    from xml.etree.ElementTree import register_namespace, tostring

    _keep_shapes(root)
    register_namespace("", NAMESPACE)
    made: bytes = tostring(root, encoding="utf-8")
    return made


def _name(element: Any) -> str:
    return str(element.tag).rpartition("}")[2].lower() if isinstance(element.tag, str) else ""


def _keep_shapes(element: Any) -> None:
    for child in list(element):
        if _name(child) not in SHAPES or not str(child.tag).startswith(f"{{{NAMESPACE}}}"):
            element.remove(child)
        else:
            _keep_shapes(child)
    for key in list(element.attrib):
        if key not in ATTRIBUTES or _POINTS.search(element.attrib[key]):
            del element.attrib[key]
