"""How often Python looks for objects that hold each other: seldom, and never among what is loaded and stays."""

from __future__ import annotations

import gc

# objects made between two looks at the young ones (a page makes some ten thousand and drops them all); looks at these until those that
# outlived one are looked at too, and of these until all are
LOOKS = (50_000, 20, 20)


def look_seldom() -> None:
    """For a process that loads a quarter million objects: at the library's seven hundred it looks through them for over a second."""
    gc.set_threshold(*LOOKS)


def keep_loaded() -> None:
    """What is loaded stays loaded: kept out of every later look, which would stop a page for a tenth of a second. Looks begin (again)."""
    gc.collect()
    gc.freeze()
    look_seldom()
    gc.enable()
