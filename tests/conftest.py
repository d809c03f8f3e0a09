"""Options and profiles shared by all tests."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import settings

settings.register_profile("default", max_examples=60, deadline=None)
# the same examples in every run of CI: a new find belongs to the one who looks for it, not to whoever lands next
settings.register_profile("ci", max_examples=120, deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "default")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption(
        "--cases",
        default=str(Path(__file__).parent / "core" / "reference"),
        help="folder of reference cases (JSON lists) for tests/core/test_reference.py",
    )
