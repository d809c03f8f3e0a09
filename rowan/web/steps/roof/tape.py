"""Lengths as they are read off a tape: whole millimetres, or feet, inches and sixteenths."""

from __future__ import annotations

import math

from rowan.core.terms.units import INCH, System, number_text

SIXTEENTHS = 16
THIN, PRIME, DOUBLE = "\N{NARROW NO-BREAK SPACE}", "\N{PRIME}", "\N{DOUBLE PRIME}"


def mark_text(metres: float, units: System) -> str:
    """A mark as it is chalked: “2\u202f850 mm”, or “9′ 4 3/16″”."""
    if units == "metric":
        return f"{number_text(metres * 1000, 0)}\N{NO-BREAK SPACE}mm"
    parts = round(abs(metres) / INCH * SIXTEENTHS)
    feet, rest = divmod(parts, 12 * SIXTEENTHS)
    whole, part = divmod(rest, SIXTEENTHS)
    sign = "\N{MINUS SIGN}" if metres < 0 and parts else ""
    fraction = ""
    if part:
        common = math.gcd(part, SIXTEENTHS)
        fraction = f"{part // common}/{SIXTEENTHS // common}"
    inches = " ".join(text for text in (str(whole) if whole or not part else "", fraction) if text) + DOUBLE
    return sign + (f"{feet}{PRIME} {inches}" if feet else inches)
