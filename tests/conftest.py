"""Options and profiles shared by all tests."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import settings

# the same examples at every run, here and in CI: whoever lands next is not stopped by another's luck
settings.register_profile("same", max_examples=60, deadline=None, derandomize=True)
# `bin/test search` looks for more at random; what it finds becomes a case of its own
settings.register_profile("search", max_examples=600, deadline=None, print_blob=True)
settings.load_profile("search" if os.environ.get("ROWAN_SEARCH") else "same")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption(
        "--cases",
        default=str(Path(__file__).parent / "core" / "reference"),
        help="folder of reference cases (JSON lists) for tests/core/test_reference.py",
    )
