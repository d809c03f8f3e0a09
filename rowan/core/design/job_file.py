"""The job file: a design as JSON text, and back with a clear message for whatever is wrong with it."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from rowan.core.design.design import Design
from rowan.core.design.refusals import refusal
from rowan.core.design.upgrades import upgraded
from rowan.core.terms.errors import JobFileError

LARGEST_BYTES = 2_000_000  # bytes; a plan with every list full has a tenth of it


def dump(design: Design) -> str:
    """The job file's text: JSON, indented, SI keys."""
    return json.dumps(design.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def too_large(size: int) -> JobFileError | None:
    """The refusal of a file of so many bytes, None where it is short enough to be read."""
    if size <= LARGEST_BYTES:
        return None
    return JobFileError(
        "",
        "the file has {size} MB; no job file has more than {largest_bytes} MB",
        size=f"{size / 1e6:.1f}",
        largest_bytes=f"{LARGEST_BYTES // 1_000_000}",
    )


def load(text: str | bytes) -> Design:
    """The design in a job file's text, of this or an older version.

    Raises JobFileError for what is too long, no JSON, of a newer version, or holds an unknown
    key, a key twice, a missing key, a value of the wrong kind, or one outside its limits.
    """
    long = too_large(len(text))
    if long:
        raise long
    try:
        decoded = text.decode("utf-8-sig") if isinstance(text, bytes) else text
        data = json.loads(decoded, parse_constant=_no_constant, object_pairs_hook=_no_key_twice)
    except JobFileError:
        raise
    except UnicodeDecodeError as error:
        raise JobFileError("", "this is not a text file in UTF-8, as a job file is") from error
    except json.JSONDecodeError as error:
        raise JobFileError(
            "",
            "this is not a JSON job file: {error} at line {line}, column {column}",
            error=error.msg.lower(),
            line=f"{error.lineno}",
            column=f"{error.colno}",
        ) from error
    except (ValueError, RecursionError) as error:
        reason = "it is nested too deeply" if isinstance(error, RecursionError) else str(error)
        raise JobFileError("", "this is not a JSON job file: {reason}", reason=reason) from error
    return read(data)


def read(data: Any) -> Design:
    """The design in the decoded data of a job file or a saved revision. Raises JobFileError."""
    if not isinstance(data, dict):
        raise JobFileError("", "this is not a job file: a JSON object is expected")
    try:
        return Design.model_validate_json(json.dumps(upgraded(data)), strict=True)
    except ValidationError as error:
        raise refusal(error, Design) from error
    except RecursionError as error:
        raise JobFileError("", "this is not a JSON job file: it is nested too deeply") from error


def _no_constant(name: str) -> Any:
    raise ValueError(f"{name} is not a number")


def _no_key_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        keys = [key for key, _ in pairs]
        twice = next(key for key in keys if keys.count(key) > 1)
        raise JobFileError(twice, "stands twice in one object; which one is meant?")
    return found
