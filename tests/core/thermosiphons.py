"""A plan whose tank stands over its field, for the tests."""

from __future__ import annotations

from typing import Any

from rowan.core.design.design import Design
from rowan.core.studies.choices import with_kind
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered


def roof_tank(**changes: Any) -> Design:
    """Sandreef's house with a tank on the roof, where it never freezes."""
    return altered(with_kind(sandreef(), "thermosiphon"), survey__design_minimum_c=6.0, **changes)
