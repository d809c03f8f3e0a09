"""Dimensions, the two systems they are shown in, and typed text to SI and back.

Everything inside the core is SI; this table is the only place where a number changes its unit.
"""

from __future__ import annotations

import re
from typing import Literal

from rowan.core.terms.compass import compass_point
from rowan.core.terms.constants import KELVIN
from rowan.core.terms.errors import TypedNumberError, print_quantities_with
from rowan.core.terms.language import spoken, tr
from rowan.core.terms.record import record

System = Literal["metric", "us"]
SYSTEMS: tuple[System, ...] = ("metric", "us")


@record
class Unit:
    """One unit: SI value = shown value × `factor` + `offset`; `decimals` as usually printed."""

    label: str
    factor: float
    decimals: int = 0
    offset: float = 0.0

    def from_si(self, value: float) -> float:
        """The number shown for an SI value."""
        return (value - self.offset) / self.factor

    def to_si(self, shown: float) -> float:
        """The SI value of a shown number."""
        return shown * self.factor + self.offset


@record
class Dimension:
    """A kind of quantity: its unit in each system and every unit that may be typed for it."""

    name: str
    metric: Unit
    us: Unit
    typed: tuple[tuple[str, float, float], ...] = ()

    def unit(self, system: System) -> Unit:
        """The unit shown in a system."""
        return self.us if system == "us" else self.metric


# m, m, m³, Pa, W: exact by definition but the last, the international table
INCH, FOOT, GALLON, PSI, BTU_H = 0.0254, 0.3048, 3.785411784e-3, 6894.757293, 0.29307107
# °F to °C
F_SCALE, F_OFFSET = 5 / 9, -32 * 5 / 9
# mol/m³ of calcium and magnesium: a mg/L as calcium carbonate, a German degree (10 mg/L as CaO), a grain a US gallon
PPM_HARD, DEGREE_HARD, GRAIN_HARD = 1 / 100.09, 10 / 56.08, 17.118 / 100.09
POUND_FORCE = 4.4482216152605  # N, 0.45359237 kg in standard gravity
LITRE, LITRE_H, LITRE_MIN, KWH, POUND, KPA = 1e-3, 1e-3 / 3600, 1e-3 / 60, 3.6e6, 0.45359237, 1e3

_LENGTHS = (
    ("m", 1, 0),
    ("km", 1000, 0),
    ("cm", 0.01, 0),
    ("mm", 1e-3, 0),
    ("ft", FOOT, 0),
    ("'", FOOT, 0),
    ("in", INCH, 0),
    ('"', INCH, 0),
)
_VOLUMES = (("l", LITRE, 0), ("m3", 1, 0), ("m³", 1, 0), ("ml", 1e-6, 0), ("gal", GALLON, 0))
_PRESSURES = (("bar", 1e5, 0), ("mbar", 100, 0), ("kpa", 1e3, 0), ("pa", 1, 0), ("psi", PSI, 0))
_FLOWS = (
    ("l/min", LITRE / 60, 0),
    ("l/h", LITRE / 3600, 0),
    ("l/s", LITRE, 0),
    ("m3/h", 1 / 3600, 0),
    ("m³/h", 1 / 3600, 0),
    ("gal/min", GALLON / 60, 0),
    ("gpm", GALLON / 60, 0),
    ("gal/h", GALLON / 3600, 0),
)
_POWERS = (("w", 1, 0), ("kw", 1000, 0), ("btu/h", BTU_H, 0))


def _same(name: str, unit: Unit, typed: tuple[tuple[str, float, float], ...] = ()) -> Dimension:
    return Dimension(name, unit, unit, typed)


DIMENSIONS: dict[str, Dimension] = {
    d.name: d
    for d in (
        Dimension("length", Unit("m", 1, 2), Unit("ft", FOOT, 1), _LENGTHS),
        Dimension("pipe_size", Unit("mm", 1e-3, 0), Unit("in", INCH, 2), _LENGTHS),
        Dimension("growth", Unit("mm", 1e-3, 1), Unit("in", INCH, 2), _LENGTHS),
        Dimension("area", Unit("m²", 1, 2), Unit("ft²", FOOT**2, 1), (("m2", 1, 0), ("ft2", FOOT**2, 0))),
        Dimension("volume", Unit("L", LITRE, 1), Unit("gal", GALLON, 2), _VOLUMES),
        Dimension(
            "small_volume", Unit("mL", 1e-6, 0), Unit("fl oz", GALLON / 128, 1), (*_VOLUMES, ("fl oz", GALLON / 128, 0))
        ),
        # what a measuring cup shows of a test
        Dimension(
            "drops", Unit("mL", 1e-6, 2), Unit("fl oz", GALLON / 128, 3), (*_VOLUMES, ("fl oz", GALLON / 128, 0))
        ),
        Dimension("tank", Unit("L", LITRE, 0), Unit("gal", GALLON, 1), _VOLUMES),
        Dimension("flow", Unit("L/min", LITRE / 60, 1), Unit("gal/min", GALLON / 60, 2), _FLOWS),
        Dimension("pressure", Unit("bar", 1e5, 2), Unit("psi", PSI, 1), _PRESSURES),
        Dimension(
            "head",
            Unit("m", 9806.65, 2),
            Unit("ft", 9806.65 * FOOT, 1),
            (*_PRESSURES, ("m", 9806.65, 0), ("ft", 9806.65 * FOOT, 0)),
        ),
        # a few pascals: what warm water weighs less
        Dimension("draught", Unit("Pa", 1, 0), Unit("in WC", 249.08891, 2), _PRESSURES),
        Dimension(
            "temperature",
            Unit("°C", 1, 0),
            Unit("°F", F_SCALE, 0, F_OFFSET),
            (("c", 1, 0), ("°c", 1, 0), ("f", F_SCALE, F_OFFSET), ("°f", F_SCALE, F_OFFSET), ("k", 1, -KELVIN)),
        ),
        Dimension(
            "temperature_fine",
            Unit("°C", 1, 1),
            Unit("°F", F_SCALE, 1, F_OFFSET),
            (("c", 1, 0), ("°c", 1, 0), ("f", F_SCALE, F_OFFSET), ("°f", F_SCALE, F_OFFSET), ("k", 1, -KELVIN)),
        ),
        Dimension(
            "difference",
            Unit("K", 1, 1),
            Unit("F°", F_SCALE, 1),
            (("k", 1, 0), ("c", 1, 0), ("°c", 1, 0), ("f", F_SCALE, 0), ("°f", F_SCALE, 0), ("f°", F_SCALE, 0)),
        ),
        Dimension("heat_rate", Unit("W", 1, 0), Unit("Btu/h", BTU_H, 0), _POWERS),
        Dimension("conductance", Unit("W/K", 1, 0), Unit("Btu/h·°F", BTU_H / F_SCALE, 0)),
        _same("electric_power", Unit("W", 1, 0), (("w", 1, 0), ("kw", 1000, 0))),
        _same("hours", Unit("h", 3600, 0), (("h", 3600, 0), ("min", 60, 0))),
        _same("energy", Unit("kWh", KWH, 0), (("kwh", KWH, 0), ("mj", 1e6, 0))),
        _same("small_energy", Unit("Wh", KWH / 1000, 0), (("wh", KWH / 1000, 0), ("kwh", KWH, 0), ("kj", 1000, 0))),
        _same("battery", Unit("Wh", 1, 0), (("wh", 1, 0), ("kwh", 1000, 0))),
        _same("voltage", Unit("V", 1, 1), (("v", 1, 0),)),
        _same("resistance", Unit("Ω", 1, 2), (("ohm", 1, 0),)),
        Dimension("irradiance", Unit("W/m²", 1, 0), Unit("Btu/h·ft²", BTU_H / FOOT**2, 0)),
        Dimension("irradiation", Unit("kWh/m²", KWH, 0), Unit("kWh/ft²", KWH / FOOT**2, 1)),
        Dimension("loss_per_length", Unit("W/m·K", 1, 3), Unit("Btu/h·ft·°F", BTU_H / FOOT / F_SCALE, 3)),
        Dimension("conductivity", Unit("W/m·K", 1, 3), Unit("Btu/h·ft·°F", BTU_H / FOOT / F_SCALE, 3)),
        Dimension("loss_per_area", Unit("W/m²·K", 1, 2), Unit("Btu/h·ft²·°F", BTU_H / FOOT**2 / F_SCALE, 3)),
        Dimension("velocity", Unit("m/s", 1, 2), Unit("ft/s", FOOT, 2), (("m/s", 1, 0), ("ft/s", FOOT, 0))),
        Dimension(
            "gust",
            Unit("m/s", 1, 0),
            Unit("mph", 0.44704, 0),
            (("m/s", 1, 0), ("km/h", 1 / 3.6, 0), ("mph", 0.44704, 0)),
        ),
        Dimension(
            "roof_load",
            Unit("kN/m²", 1000, 2),
            Unit("lb/ft²", PSI / 144, 1),
            (("kn/m2", 1000, 0), ("lb/ft2", PSI / 144, 0), ("pa", 1, 0), ("kpa", 1000, 0)),
        ),
        Dimension(
            "force",
            Unit("kN", 1000, 2),
            Unit("lbf", POUND_FORCE, 0),
            (("kn", 1000, 0), ("n", 1, 0), ("lbf", POUND_FORCE, 0)),
        ),
        Dimension("mass", Unit("kg", 1, 0), Unit("lb", POUND, 0), (("kg", 1, 0), ("lb", POUND, 0))),
        Dimension(
            "floor_load",
            Unit("kg/m²", 1, 0),
            Unit("lb/ft²", POUND / FOOT**2, 0),
            (("kg/m2", 1, 0), ("lb/ft2", POUND / FOOT**2, 0)),
        ),
        Dimension("volume_per_area", Unit("L/m²", LITRE, 0), Unit("gal/ft²", GALLON / FOOT**2, 2)),
        Dimension("density", Unit("kg/m³", 1, 0), Unit("lb/ft³", POUND / FOOT**3, 1)),
        Dimension("specific_flow", Unit("L/h·m²", LITRE / 3600, 0), Unit("gal/h·ft²", GALLON / 3600 / FOOT**2, 2)),
        _same("angle", Unit("°", 1, 0), (("deg", 1, 0),)),
        _same("bearing", Unit("°", 1, 0), (("deg", 1, 0),)),
        _same("latitude", Unit("°", 1, 1), (("deg", 1, 0),)),
        _same("share", Unit("%", 0.01, 0), (("percent", 0.01, 0),)),
        _same("share_fine", Unit("%", 0.01, 1), (("percent", 0.01, 0),)),
        _same("count", Unit("", 1, 0)),
        _same("ratio", Unit("", 1, 2)),
        # calcium and magnesium together; as calcium carbonate, 100.09 g/mol, where a paper says ppm
        Dimension(
            "hardness",
            Unit("mmol/L", 1, 1),
            Unit("ppm", PPM_HARD, 0),
            (
                ("mmol/l", 1, 0),
                ("ppm", PPM_HARD, 0),
                ("mg/l", PPM_HARD, 0),
                ("°dh", DEGREE_HARD, 0),
                ("gpg", GRAIN_HARD, 0),
            ),
        ),
        Dimension("dissolved", Unit("mg/L", 1e-3, 0), Unit("ppm", 1e-3, 0), (("mg/l", 1e-3, 0), ("ppm", 1e-3, 0))),
        _same("ph", Unit("", 1, 1)),
        _same("efficiency", Unit("", 1, 3)),
        Dimension("a1", Unit("W/m²·K", 1, 1), Unit("Btu/h·ft²·°F", BTU_H / FOOT**2 / F_SCALE, 2)),
        Dimension("a2", Unit("W/m²·K²", 1, 3), Unit("Btu/h·ft²·°F²", BTU_H / FOOT**2 / F_SCALE**2, 4)),
        _same("price", Unit("/kWh", 1, 2)),
        _same("money", Unit("", 1, 0)),
        _same("carbon", Unit("kg CO₂", 1, 0)),
        _same("carbon_per_energy", Unit("kg/kWh", 1, 2)),
        _same("years", Unit("years", 1, 1), (("a", 1, 0), ("y", 1, 0))),
        Dimension("level", Unit("mm", 1e-3, 0), Unit("in", INCH, 1), _LENGTHS),
        _same("minutes", Unit("min", 60, 0), (("s", 1, 0), ("min", 60, 0), ("h", 3600, 0))),
        Dimension("work", Unit("kJ", 1000, 1), Unit("ft·lb", 1.3558179483, 0)),
        Dimension("time", Unit("s", 1, 0), Unit("s", 1, 0), (("s", 1, 0), ("min", 60, 0), ("h", 3600, 0))),
    )
}

MINUS = "\N{MINUS SIGN}"
THIN_SPACE = "\N{NARROW NO-BREAK SPACE}"
NO_BREAK = "\N{NO-BREAK SPACE}"


def dimension(name: str) -> Dimension:
    """The dimension of that name; raises KeyError for an unknown one."""
    return DIMENSIONS[name]


def number_text(value: float, decimals: int) -> str:
    """A number as printed: thin space for thousands, the reader's decimal mark, a true minus, never a negative zero."""
    text = f"{abs(value):,.{max(decimals, 0)}f}".replace(",", THIN_SPACE)
    negative = value < 0 and any(ch not in "0." + THIN_SPACE for ch in text)
    if (mark := spoken().decimal) != ".":
        text = text.replace(".", mark)
    return f"{MINUS}{text}" if negative else text


def fixed(value: float, decimals: int) -> str:
    """A number with so many decimals and the reader's decimal mark, no thousands parted: for words beside a drawing."""
    return f"{value:.{decimals}f}".replace(".", spoken().decimal)


def shown_number(value: float, dimension_name: str, system: System = "metric", decimals: int | None = None) -> str:
    """The number of an SI value in the system's unit, without the unit."""
    unit = dimension(dimension_name).unit(system)
    return number_text(unit.from_si(value), unit.decimals if decimals is None else decimals)


def unit_label(dimension_name: str, system: System = "metric") -> str:
    """The unit's label in the system, in the reader's words where it has any: years."""
    return tr(dimension(dimension_name).unit(system).label)


# ft; longer lengths are taped to the inch
WHOLE_INCHES_FROM_FT = 10
QUARTERS = ("", "¼", "½", "¾")


def feet_and_inches(metres: float) -> tuple[str, str]:
    """A length [m] as a rule is read, number and unit apart: (“31 ft 2”, “in”); quarters of an inch below 10 ft."""
    quarters = round(abs(metres) / INCH * 4)
    if quarters >= WHOLE_INCHES_FROM_FT * 12 * 4:
        quarters = round(abs(metres) / INCH) * 4
    feet, rest = divmod(quarters, 48)
    whole, quarter = divmod(rest, 4)
    sign = MINUS if metres < 0 and quarters else ""
    # a quarter alone, or none at all where only feet are there
    inches = f"{whole or ''}{QUARTERS[quarter]}" or "0"
    if not feet:
        return f"{sign}{inches}", "in"
    return f"{sign}{number_text(feet, 0)}{NO_BREAK}ft{NO_BREAK}{inches}", "in"


def shown_parts(
    value: float, dimension_name: str, system: System = "metric", decimals: int | None = None
) -> tuple[str, str]:
    """Number and unit of an SI value as printed, apart. Lengths in US units are feet and inches unless decimals are asked for."""
    if dimension_name == "length" and system == "us" and decimals is None:
        return feet_and_inches(value)
    return shown_number(value, dimension_name, system, decimals), unit_label(dimension_name, system)


def number_and_unit(text: str) -> tuple[str, str]:
    """A printed quantity taken apart again: (“31 ft 2”, “in”), (“40”, “%”), (“12”, “”)."""
    number, space, unit = text.rpartition(NO_BREAK)
    return (number, unit) if space else (text, "")


def shown(value: float, dimension_name: str, system: System = "metric", decimals: int | None = None) -> str:
    """Number and unit of an SI value as printed in running text."""
    number, label = shown_parts(value, dimension_name, system, decimals)
    if not label:
        return number
    return number + label if label == "°" else f"{number}{NO_BREAK}{label}"


print_quantities_with(shown)

_QUANTITY = re.compile(r"\{(-?[\d.e+]+)\|(\w+)(?:\|(\d))?\}")


def worded(text: str, system: System = "metric") -> str:
    """A text with quantities written in it as {SI value|dimension} or {value|dimension|decimals}, in the system's units."""

    def put(match: re.Match[str]) -> str:
        """A quantity in the reader's units."""
        decimals = int(match.group(3)) if match.group(3) and system == "metric" else None
        return shown(float(match.group(1)), match.group(2), system, decimals)

    return _QUANTITY.sub(put, tr(text))


_FRACTIONS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_NUMBER = r"[-+]?\d+/\d+|[-+]?\d+(?:[.,]\d+)*(?:\s+\d+/\d+)?|[-+]?[.,]\d+"
# thousands by one mark throughout, a decimal mark of the other kind or none
_GROUPED = re.compile(r"[-+]?\d{1,3}(?:,\d{3})+(?:\.\d+)?|[-+]?\d{1,3}(?:\.\d{3})+(?:,\d+)?")
# a unit may hold a power (m3/h, kg/m2), unless more of a length follows it (12ft3in)
_UNIT = r"[^\d\s+,.-](?:[^\d\s]|(?<=[mt])[23](?!\w))*"
_TOKEN = re.compile(rf"\s*({_NUMBER})\s*({_UNIT})?\s*")


def typed_to_si(text: str, dimension_name: str, system: System = "metric") -> float:
    """SI value of what somebody typed; a unit in the text wins over the system's.

    Comma or point is a decimal mark, a thin space groups thousands. One mark followed by exactly three
    digits is refused with both readings, because it may mean either. Raises TypedNumberError.
    """
    dim = dimension(dimension_name)
    cleaned = text.strip().replace(MINUS, "-").replace("′", "'").replace("″", '"').replace("’", "'")
    cleaned = re.sub(r"(?<=\d)[\u2009\u202f\u00a0 ](?=\d{3}(?!\d|/))", "", cleaned)
    for sign, fraction in _FRACTIONS.items():
        cleaned = cleaned.replace(sign, f" {fraction}")
    # a sign before a fraction alone: “−½ in”
    cleaned = re.sub(r"^([-+])\s+(?=\d)", r"\1", cleaned)
    cleaned = re.sub(r"\s+", " ", cleaned)  # a tab copied from a table is a space like any
    if not cleaned:
        raise TypedNumberError("type a number")
    if len(cleaned) > LONGEST_NUMBER:
        raise TypedNumberError("“{cleaned}…” has more letters than any number", cleaned=cleaned[:20])
    if dim.name == "bearing" and (point := compass_point(cleaned)) is not None:
        return point
    total, position, parts = 0.0, 0, 0
    while position < len(cleaned):
        match = _TOKEN.match(cleaned, position)
        if match is None or match.end() == position:
            raise TypedNumberError(
                "“{text}” is not a number{unit_hint}", text=text.strip(), unit_hint=_unit_hint(dim, system)
            )
        number = _plain_number(match.group(1), text)
        factor, offset = _factor(match.group(2), dim, system)
        total += (-1 if total < 0 else 1) * number * factor + offset
        position, parts = match.end(), parts + 1
    if parts > 1 and dim.typed is not _LENGTHS:
        raise TypedNumberError("“{text}” holds more than one number", text=text.strip())
    return total


LONGEST_NUMBER = 80  # letters; with every unit and fraction a length takes twenty


def _plain_number(token: str, text: str) -> float:
    token = token.strip()
    if "/" in token:
        whole, _, fraction = token.rpartition(" ")
        above, below = fraction.split("/")
        if int(below) == 0:
            raise TypedNumberError("“{text}” divides by zero", text=text.strip())
        sign = -1 if token.startswith("-") else 1
        return (float(whole) if whole.strip() else 0.0) + (sign if whole.strip() else 1) * int(above) / int(below)
    marks = re.findall(r"[.,]", token)
    if len(marks) > 1 and not _GROUPED.fullmatch(token):
        raise TypedNumberError("“{token}” is not a number: its marks stand where none can be", token=token)
    if len(marks) == 1 and re.fullmatch(r"[-+]?[1-9]\d{0,2}[.,]\d{3}", token):
        point = token.replace(",", ".")
        grouped = re.sub(r"[.,]", "", token)
        # the rest of what was typed, its unit above all, stays with both readings
        readings = (text.strip().replace(token, f"{point}0"), text.strip().replace(token, grouped))
        raise TypedNumberError(
            "“{token}” can be read in two ways: {point} or {grouped}",
            readings,
            token=token,
            point=point,
            grouped=grouped,
        )
    if len(marks) > 1:
        if len(set(marks)) == 1:
            token = token.replace(marks[0], "")
        else:
            token = token.replace(marks[0], "").replace(marks[-1], ".")
    try:
        return float(token.replace(",", "."))
    except ValueError as error:
        raise TypedNumberError("“{text}” is not a number", text=text.strip()) from error


def _factor(label: str | None, dim: Dimension, system: System) -> tuple[float, float]:
    if label is None:
        unit = dim.unit(system)
        return unit.factor, unit.offset
    wanted = label.lower().rstrip(".")
    for unit in (dim.metric, dim.us):
        if wanted == unit.label.lower():
            return unit.factor, unit.offset
    for name, factor, offset in dim.typed:
        if wanted == name:
            return factor, offset
    raise TypedNumberError(
        "“{label}” is not a unit of this quantity{unit_hint}", label=label, unit_hint=_unit_hint(dim, system)
    )


def _unit_hint(dim: Dimension, system: System) -> str:
    label = dim.unit(system).label
    return f" in {label}" if label else ""
