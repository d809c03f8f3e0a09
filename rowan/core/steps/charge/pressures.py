"""Static head, end pressure, altitude, the schools of charging, and the raised and two-stage charges."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from rowan.core.design.inputs.charge import School
from rowan.core.fluid import FILL_C, properties
from rowan.core.terms.constants import ATMOSPHERE_PA, GRAVITY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.limits import FINITE, GLYCOL, POSITIVE, takes
from rowan.core.terms.record import record

LEAST_TOP_PA = 20e3  # Pa on top below which air is drawn in
RESERVE_OVER_STATIC_PA = 50e3  # Pa, reserve school
EQUAL_OVER_STATIC_PA = 80e3  # Pa, equal school
ABOVE_PA_PER_M, ABOVE_EXTRA_PA = 11.3e3, 13.8e3  # Pa for each metre, and on top of it: above school
ATMOSPHERE_GAP_PA = 31e3  # Pa, atmosphere school
RAISED_PRECHARGE_PA, RAISED_FILL_PA, RAISED_FINAL_PA = 207e3, 276e3, 345e3  # Pa, raised school, methods 10
TYPED_GAP_PA = 30e3  # Pa of charge under a typed fill

SCHOOLS: tuple[School, ...] = ("reserve", "equal", "above", "atmosphere", "raised", "typed")


def gauge_at(*, gauge: float, volume_share: float, height: float) -> float:
    """What a gauge would read so far above the loop's own [Pa gauge, m], in a loop that rests cold. Source: methods 10."""
    return gauge - static_pressure(volume_share=volume_share, height=height)


@takes(volume_share=GLYCOL, height=FINITE)
def static_pressure(*, volume_share: float, height: float, temperature: float = FILL_C) -> float:
    """Pressure of the column from gauge to top [Pa]; height [m], fluid at temperature [°C]. Source: methods 10."""
    return properties(volume_share=volume_share, temperature=temperature).density * GRAVITY * height


@takes(relief=POSITIVE)
def end_pressure(*, relief: float) -> float:
    """Highest planned pressure [Pa gauge] under a relief valve [Pa gauge]. Source: methods 10."""
    return relief - max(50e3, 0.1 * relief)


@record
class Setting:
    """Gas charge with the liquid side empty, and cold fill pressure [Pa gauge]."""

    precharge: float
    fill: float


def _reserve(static: float, height: float, gap: float, typed: float) -> Setting:
    return Setting(static + RESERVE_OVER_STATIC_PA, static + RESERVE_OVER_STATIC_PA + gap)


def _equal(static: float, height: float, gap: float, typed: float) -> Setting:
    return Setting(static + EQUAL_OVER_STATIC_PA, static + EQUAL_OVER_STATIC_PA)


def _above(static: float, height: float, gap: float, typed: float) -> Setting:
    fill = ATMOSPHERE_PA + ABOVE_PA_PER_M * height
    return Setting(fill + ABOVE_EXTRA_PA, fill)


def _atmosphere(static: float, height: float, gap: float, typed: float) -> Setting:
    return Setting(ATMOSPHERE_PA + static, ATMOSPHERE_PA + static + ATMOSPHERE_GAP_PA)


def _raised(static: float, height: float, gap: float, typed: float) -> Setting:
    return Setting(RAISED_PRECHARGE_PA, RAISED_FILL_PA)


def _typed(static: float, height: float, gap: float, typed: float) -> Setting:
    if typed < static + LEAST_TOP_PA:
        raise ImpossibleInputError(
            "a cold fill of {typed} leaves the top of the loop without pressure: at least {least} is needed",
            typed=(typed, "pressure"),
            least=(static + LEAST_TOP_PA, "pressure"),
        )
    return Setting(max(typed - gap, static + LEAST_TOP_PA), typed)


_RULES: Mapping[str, Callable[[float, float, float, float], Setting]] = {
    "reserve": _reserve,
    "equal": _equal,
    "above": _above,
    "atmosphere": _atmosphere,
    "raised": _raised,
    "typed": _typed,
}


def school_words(*, school: School) -> Statement:
    """What a school does, in a sentence. Raises ImpossibleInputError for one that there is not."""
    if school not in _WORDS:
        raise ImpossibleInputError("there is no school “{school}”", school=school)
    return _WORDS[school]


_WORDS: Mapping[str, Statement] = {
    "reserve": say(
        "Reserve: the gas {g} over the column, the fill a gap over the gas, so that the vessel keeps liquid for the coldest night",
        g=Quantity(RESERVE_OVER_STATIC_PA, "pressure"),
    ),
    "equal": say(
        "Equal: gas and fill alike, {g} over the column; the vessel takes nothing until the loop warms, and keeps nothing for the cold",
        g=Quantity(EQUAL_OVER_STATIC_PA, "pressure"),
    ),
    "above": say(
        "Above: the gas {g} over the fill, which goes by the height; the membrane lies still until the loop is warm, and keeps nothing for the cold",
        g=Quantity(ABOVE_EXTRA_PA, "pressure"),
    ),
    "atmosphere": say(
        "Atmosphere: the gas one atmosphere over the column, the fill {g} over the gas",
        g=Quantity(ATMOSPHERE_GAP_PA, "pressure"),
    ),
    "raised": say(
        "Raised: the vessel as it comes, {c}, filled to {f}, then gas is added to {e}: high for every house",
        c=Quantity(RAISED_PRECHARGE_PA, "pressure"),
        f=Quantity(RAISED_FILL_PA, "pressure"),
        e=Quantity(RAISED_FINAL_PA, "pressure"),
    ),
    "typed": say(
        "Typed: the fill as somebody wants it; the gas as it was typed, or {g} under the fill where nobody has",
        g=Quantity(TYPED_GAP_PA, "pressure"),
    ),
}


def school_setting(
    *, school: School, static: float, height: float, gap: float = 30e3, typed_fill: float = 0.0
) -> Setting:
    """Charge and cold fill of a school; static, gap, typed_fill [Pa], height [m]. Source: methods 10.

    `raised` gives the charge before gas is added; see `raised_charge`. Raises ImpossibleInputError.
    """
    rule = _RULES.get(school)
    if rule is None:
        raise ImpossibleInputError("there is no school “{school}”", school=school)
    return rule(static, height, gap, typed_fill)


@record
class Raised:
    """Liquid in the vessel [m³] and the charge that describes it once gas was added [Pa gauge]."""

    liquid: float
    equivalent_precharge: float


@takes(precharge=FINITE, fill=FINITE, raised=FINITE, vessel=POSITIVE, atmosphere_pa=POSITIVE)
def raised_charge(*, precharge: float, fill: float, raised: float, vessel: float, atmosphere_pa: float) -> Raised:
    """The raised school: gas added at constant liquid; pressures [Pa gauge], vessel [m³]. Source: methods 10."""
    liquid = vessel * (1 - (precharge + atmosphere_pa) / (fill + atmosphere_pa))
    return Raised(liquid, (raised + atmosphere_pa) * (vessel - liquid) / vessel - atmosphere_pa)


@record
class TwoStage:
    """Two-stage charge for a weak pump: liquid [m³], first charge [Pa gauge]; None where the pump is strong enough to need none."""

    liquid: float
    first_precharge: float | None

    @property
    def needed(self) -> bool:
        """Whether there is a first stage at all."""
        return self.first_precharge is not None


@takes(pump=FINITE, static=FINITE, precharge=FINITE, fill=FINITE, vessel=POSITIVE, atmosphere_pa=POSITIVE)
def two_stage_charge(
    *, pump: float, static: float, precharge: float, fill: float, vessel: float, atmosphere_pa: float
) -> TwoStage:
    """Charges for a pump that reaches only `pump` [Pa gauge]; vessel [m³].

    Raises ImpossibleInputError if the pump does not even lift to the top. Source: methods 10.
    """
    if pump <= static:
        raise ImpossibleInputError(
            "a pump of {pump} cannot fill a loop that stands {static} high",
            pump=(pump, "pressure"),
            static=(static, "pressure"),
        )
    liquid = vessel * (1 - (precharge + atmosphere_pa) / (fill + atmosphere_pa))
    if pump >= fill:
        return TwoStage(liquid, None)
    return TwoStage(liquid, (pump + atmosphere_pa) * (1 - liquid / vessel) - atmosphere_pa)
