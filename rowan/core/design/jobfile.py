"""The job file: a design as JSON text, and back with a clear message for whatever is wrong with it."""

from __future__ import annotations

import json
from typing import Any

from rowan.core.design.changes import validated
from rowan.core.design.design import SCHEMA_VERSION, Design
from rowan.core.errors import JobFileError

LARGEST_BYTES = 2_000_000


def dump(design: Design) -> str:
    """The job file's text: JSON, indented, SI keys."""
    return json.dumps(design.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def load(text: str | bytes) -> Design:
    """The design in a job file's text.

    Raises JobFileError for what is too long, no JSON, of a newer version, or holds an unknown
    key, a missing key, a value of the wrong kind, or one outside its limits.
    """
    if len(text) > LARGEST_BYTES:
        raise JobFileError("", f"the file is longer than {LARGEST_BYTES // 1_000_000} MB, which no job file is")
    try:
        data = json.loads(text, parse_constant=_no_constant)
    except (ValueError, RecursionError) as error:
        raise JobFileError("", f"this is not a JSON job file: {error}") from error
    if not isinstance(data, dict):
        raise JobFileError("", "this is not a job file: a JSON object is expected")
    version = data.get("schema_version")
    if isinstance(version, int) and version > SCHEMA_VERSION:
        raise JobFileError(
            "schema_version", f"written by a newer Rowan ({version}); this one reads up to {SCHEMA_VERSION}"
        )
    return validated(data)


def _no_constant(name: str) -> Any:
    raise ValueError(f"{name} is not a number")
