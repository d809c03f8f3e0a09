"""Options and profiles shared by all tests."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import settings

settings.register_profile("default", max_examples=60, deadline=None)
settings.register_profile("ci", max_examples=120, deadline=None)
settings.load_profile("ci" if os.environ.get("CI") else "default")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption(
        "--cases",
        default=str(Path(__file__).parent / "core" / "reference"),
        help="folder of reference cases (JSON lists) for tests/core/test_reference.py",
    )
