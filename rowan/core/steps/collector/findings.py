"""What a kind of collector is not for: the sieve by temperature, climate, loop and service. Source: practice 4."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.design.own_store import own_store_of
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.site.stage import SiteResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.weather.made_year import USUAL_RANGE_K

SOURCE = "practice: collector"
# the loop temperature up to which a kind is sensible [°C], rules of thumb
SENSIBLE_C = {"unglazed": 35.0, "hybrid": 50.0, "flat": 90.0, "tube": 110.0, "heat pipe": 110.0}
HOT_CLIMATE_C = 18.0  # mean air of the year from which tubes buy little
HOT_AFTERNOON_C = 40.0  # °C; where months pass it a selective coating buys little, practice 4
SELECTIVE_A1 = 4.5  # W/m²K; a plate that loses less is taken as selective, rule of thumb
LOW_DUTY_C = 60.0  # °C under which plain collectors serve best, methods 3
WINTER_C = 12.0  # a month colder than this is winter to an unglazed absorber
CLEAR_BEAM = 0.5  # share of the plane's sun that must be beam for mirrors
PLAIN = ("flat", "unglazed")


def duty_temperature(design: Design) -> float:
    """What the duty asks of the loop [°C]."""
    duty = design.duty
    kind = duty.kind.value
    own = own_store_of(design)
    if own is not None:
        return own.held
    if kind == "heating":
        return duty.supply_c.value
    if kind == "process":
        return duty.process_c.value
    return max(duty.tap_c.value, design.collector.working_c.value)


def flag_findings(design: Design, site: SiteResult) -> list[Finding]:
    """What speaks against the chosen collector for this duty, loop and place."""
    return [
        *_sieve(design),
        *_winter(design, site),
        *_hot_climate(design, site),
        *_selective(design),
        *_draining(design),
        *_mirrors(design, site),
        *_advice(design),
    ]


def _sieve(design: Design) -> list[Finding]:
    item, wanted = design.collector.item.value, duty_temperature(design)
    most = SENSIBLE_C.get(item.kind)
    if most is None or wanted <= most or (item.kind == "unglazed" and design.taps):
        return []
    return [
        Finding(
            key="too_hot_for_kind",
            level="fix",
            stage="collector",
            part="collector",
            title=say("the duty is too hot for this kind"),
            reason=say(
                "It asks for {t}; collectors of this kind are sensible up to {m}.",
                t=Quantity(wanted, "temperature"),
                m=Quantity(most, "temperature"),
            ),
            quantity=Quantity(wanted, "temperature"),
            limit=Quantity(most, "temperature"),
            source=SOURCE,
        )
    ]


def _winter(design: Design, site: SiteResult) -> list[Finding]:
    if design.collector.item.value.kind != "unglazed" or not design.taps or min(site.monthly_air) >= WINTER_C:
        return []
    return [
        Finding(
            key="unglazed_winter",
            level="fix",
            stage="collector",
            part="collector",
            title=say("unglazed collectors bring no hot water in winter"),
            reason=say(
                "The coldest month has {t}: what they gain the air takes. They pre-heat in summer, or warm a pool.",
                t=Quantity(min(site.monthly_air), "temperature", 1),
            ),
            quantity=Quantity(min(site.monthly_air), "temperature"),
            limit=Quantity(WINTER_C, "temperature"),
            source=SOURCE,
        )
    ]


def _hot_climate(design: Design, site: SiteResult) -> list[Finding]:
    item, wanted = design.collector.item.value, duty_temperature(design)
    if item.kind not in ("tube", "heat pipe") or site.annual_air < HOT_CLIMATE_C or wanted > LOW_DUTY_C:
        return []
    return [
        Finding(
            key="tubes_hot_climate",
            level="mind",
            stage="collector",
            part="collector",
            title=say("tubes buy little in this climate"),
            reason=say(
                "The year's air is {t} and the duty asks for {d}: a plain plate loses little here, and sheds what is too much.",
                t=Quantity(site.annual_air, "temperature"),
                d=Quantity(wanted, "temperature"),
            ),
            quantity=Quantity(site.annual_air, "temperature"),
            limit=Quantity(HOT_CLIMATE_C, "temperature"),
            source=SOURCE,
        )
    ]


def hot_months(design: Design) -> tuple[int, ...]:
    """Months whose afternoons pass 40 °C, from 0 for January: the mean air and half the usual daily range."""
    means = design.survey.normals.value.air_c
    return tuple(n for n, mean in enumerate(means) if mean + USUAL_RANGE_K / 2 > HOT_AFTERNOON_C)


def _selective(design: Design) -> list[Finding]:
    """A coating against losses that are not there, and that makes standstill hotter."""
    item, months = design.collector.item.value, hot_months(design)
    if item.kind != "flat" or item.a1_w_m2k >= SELECTIVE_A1 or not months or duty_temperature(design) > LOW_DUTY_C:
        return []
    dry = stagnation_of(item)
    return [
        Finding(
            key="selective_hot_climate",
            level="mind",
            stage="collector",
            part="collector",
            title=say("a selective coating buys little here"),
            reason=say(
                "{n} months pass {t} in the afternoon: a painted plate loses little more, costs less, and stands cooler than {d} when dry.",
                n=str(len(months)),
                t=Quantity(HOT_AFTERNOON_C, "temperature"),
                d=Quantity(dry, "temperature"),
            ),
            source=SOURCE,
        )
    ]


def _draining(design: Design) -> list[Finding]:
    if not design.drains or design.collector.item.value.drains:
        return []
    return [
        Finding(
            key="does_not_drain",
            level="stop",
            stage="collector",
            part="collector",
            title=say("this collector does not run empty"),
            reason=say("In a drainback what stays in the field freezes in winter and boils in summer."),
            cures=(Cure(say("Make it a sealed glycol loop"), (Change("charge.kind", "sealed"),)),),
            source=SOURCE,
        )
    ]


def _mirrors(design: Design, site: SiteResult) -> list[Finding]:
    if design.collector.item.value.kind != "concentrating":
        return []
    beam = float(site.months.beam.sum() / max(float(site.months.total.sum()), 1.0))
    if beam >= CLEAR_BEAM:
        return []
    return [
        Finding(
            key="little_beam",
            level="fix",
            stage="collector",
            part="collector",
            title=say("too little beam sun for mirrors"),
            reason=say(
                "Only {s} of the sun here comes straight; mirrors use nothing else.",
                s=Quantity(beam, "share"),
            ),
            quantity=Quantity(beam, "share"),
            limit=Quantity(CLEAR_BEAM, "share"),
            source=SOURCE,
        )
    ]


def _advice(design: Design) -> list[Finding]:
    found = []
    if design.collector.advice.value == "seller":
        found.append(
            Finding(
                key="seller_alone",
                level="mind",
                stage="collector",
                part="collector",
                title=say("chosen on a seller's advice alone"),
                reason=say(
                    "Sellers know what they sell. Run the others in the comparison below, and note with what it was compared."
                ),
                cures=(Cure(say("Compared now"), (Change("collector.advice", "compared", "agreed"),)),),
                source=SOURCE,
            )
        )
    if not design.collector.support.value:
        level: Level = "mind" if design.collector.item.value.kind in PLAIN else "fix"
        found.append(
            Finding(
                key="no_support",
                level=level,
                stage="collector",
                part="collector",
                title=say("nobody in reach knows this collector"),
                reason=say(
                    "In ten years somebody must find a seal, a sensor or a tube for it. Untried goods want support in reach."
                ),
                source=SOURCE,
            )
        )
    return found
