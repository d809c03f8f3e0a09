"""Where things are kept: in a checkout beside the program, where it is installed in the folder that a person's data has."""

from __future__ import annotations

import os
from pathlib import Path

ABOVE = Path(__file__).resolve().parents[1]  # the checkout, or where packages are installed


def data_folder() -> Path:
    """The folder of the data: as `ROWAN_VAR` names it, `var` in a checkout, else the usual one of the person who runs it."""
    named = os.environ.get("ROWAN_VAR")
    if named:
        return Path(named)
    if (ABOVE / "pyproject.toml").is_file():
        return ABOVE / "var"
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "rowan"
