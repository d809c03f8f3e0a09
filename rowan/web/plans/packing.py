"""Designs as they are kept: a revision by what it has that its base, an earlier one, has not.

Deflated with the base's text as dictionary (RFC 1950), a change takes some hundred bytes where the whole takes twenty thousand. Each
revision needs its base alone, and a base nothing: no chain of differences to walk, none to break.
"""

from __future__ import annotations

import json
import zlib
from typing import Any

BEST = 9  # of zlib's levels; a plan of twenty thousand letters takes a millisecond
# of the text's length, of which a plan packed by itself takes a fifth: a difference that takes more is kept whole, and is the base
# of those that follow
WORTH_IT = 0.1


def text_of(data: dict[str, Any]) -> bytes:
    """A design's JSON as it is packed: the same text for the same content and order."""
    return json.dumps(data, ensure_ascii=False, separators=(",", ":")).encode()


def packed(text: bytes, base: bytes | None = None) -> bytes:
    """A text packed, over the text of a base or by itself."""
    worker = zlib.compressobj(BEST, zdict=base) if base else zlib.compressobj(BEST)
    return worker.compress(text) + worker.flush()


def unpacked(kept: bytes, base: bytes | None = None) -> bytes:
    """The text again, over the same base. Raises zlib.error for what was not packed so."""
    worker = zlib.decompressobj(zdict=base) if base else zlib.decompressobj()
    return worker.decompress(kept) + worker.flush()


def smaller(text: bytes, base: bytes) -> bytes | None:
    """A text packed over a base, None where that is not worth it."""
    found = packed(text, base)
    return found if len(found) <= WORTH_IT * len(text) else None
