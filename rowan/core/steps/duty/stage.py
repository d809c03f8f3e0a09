"""The duty: heat of the hot water drawn, month by month."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import away_days, day_minutes
from rowan.core.design.own_store import NAMES, own_store_of
from rowan.core.steps.duty.demand import heat_needed
from rowan.core.steps.site.stage import SiteResult
from rowan.core.terms.calendar import DAY_S, DAYS, DAYS_IN_MONTH
from rowan.core.terms.constants import WATER_J_KG_K, WATER_KG_M3
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, by_method, closed_form, say
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH, LITRE


@record
class DutyResult:
    """Draw [m³/day], heat by month [J] and the year's [J]."""

    daily_volume: float
    monthly_heat: tuple[float, ...]
    year_heat: float
    figures: tuple[Figure, ...]


def reckon_duty(design: Design, site: SiteResult) -> DutyResult:
    """What the duty needs, month by month."""
    kind = design.duty.kind.value
    if kind == "heating":
        return _heating(design, site)
    if kind == "process":
        return _process(design)
    if design.own_store:
        return _own(design, site)
    return _hot_water(design, site)


def _year_figure(heat: tuple[float, ...], name: str, sentence: str, method: str, key: str = "demand") -> Figure:
    return by_method(
        key=key,
        name=name,
        basis=say("a year, by the months"),
        value=sum(heat),
        dimension_name="energy",
        sentence=say(sentence),
        method=say(method),
        source=methods(4),
        part="tap",
    )


def _heating(design: Design, site: SiteResult) -> DutyResult:
    heat = _house_heat(design, site)
    return DutyResult(0.0, heat, sum(heat), (_house_figure("demand", heat),))


def _house_heat(design: Design, site: SiteResult) -> tuple[float, ...]:
    """What the house takes in each month [J], by the months' means."""
    duty = design.duty
    over = (max(duty.heat_below_c.value - air, 0.0) for air in site.monthly_air)
    return tuple(duty.house_loss_w_k.value * k * DAY_S * days for k, days in zip(over, DAYS_IN_MONTH, strict=True))


def _house_figure(key: str, heat: tuple[float, ...]) -> Figure:
    return _year_figure(
        heat,
        "Heat of the house",
        "What the house loses below the air at which its heating begins.",
        "Loss of the house times the kelvins below, by the months' means; the year takes each day's own.",
        key,
    )


def _process(design: Design) -> DutyResult:
    heat = _process_heat(design)
    figure = _year_figure(
        heat,
        "Heat of the process",
        "What the process takes in its hours and on its days.",
        "Power times hours times the days of the week it runs; days away are taken off in the year.",
    )
    return DutyResult(0.0, heat, sum(heat), (figure,))


def _own(design: Design, site: SiteResult) -> DutyResult:
    """What is its own store: how much it holds, and what is taken from it; what it loses comes with the year."""
    kind = design.duty.kind.value
    if kind == "slab":
        heat = _house_heat(design, site)
        return DutyResult(0.0, heat, sum(heat), (_house_figure("demand", heat), _holds(design), _reserve(design)))
    if kind == "bath":
        taken, keeps = _process_heat(design), _bath_keeps(design)
        heat = tuple(a + b for a, b in zip(taken, keeps, strict=True))
        figure = _year_figure(
            heat,
            "Heat of the bath",
            "What is taken out of it with the work, and what it loses on the days it is held warm.",
            "Power times hours, and loss times the kelvins over the room, on the days of the week it runs.",
        )
        return DutyResult(0.0, heat, sum(heat), (figure, _holds(design), _reserve(design)))
    return DutyResult(0.0, (0.0,) * 12, 0.0, (_holds(design), _reserve(design)))


def _bath_keeps(design: Design) -> tuple[float, ...]:
    duty = design.duty
    over = max(duty.bath_c.value - design.survey.room_c.value, 0.0)
    share = duty.days_a_week.value / 7
    return tuple(duty.bath_loss_w_k.value * over * DAY_S * days * share for days in DAYS_IN_MONTH)


def _process_heat(design: Design) -> tuple[float, ...]:
    duty = design.duty
    seconds = sum(end - start for start, end in day_minutes(duty.process_hours.value)) * 60
    return tuple(duty.process_w.value * seconds * duty.days_a_week.value / 7 * days for days in DAYS_IN_MONTH)


def _holds(design: Design) -> Figure:
    """Water of a pool or bath, or the water that a slab's concrete stands for."""
    own = own_store_of(design)
    assert own is not None  # noqa: S101  asked of such alone
    sentence = f"The {NAMES[own.kind]} is its own store: its mass and the swing it may make stand in place of a tank."
    if own.kind == "slab":
        sentence += " Told as the water that holds as much heat."
    return by_method(
        key="own_volume",
        name="Its own store",
        basis=say(
            "{a}, {d} of water",
            a=Quantity(own.across, "area"),
            d=Quantity(own.height, "length"),
        ),
        value=own.volume,
        dimension_name="tank",
        sentence=say(sentence),
        method=say("Surface times depth; concrete by its density and heat capacity."),
        source=methods(4),
        part="tap",
    )


def _reserve(design: Design) -> Figure:
    own = own_store_of(design)
    assert own is not None  # noqa: S101  asked of such alone
    return closed_form(
        key="own_swing",
        name="The swing holds",
        basis=say("{k} over {t}", k=Quantity(own.swing, "difference"), t=Quantity(own.held, "temperature")),
        dimension_name="energy",
        sentence=say("What a sunny day may put in beyond what is wanted, before the pump has to rest."),
        expression=Expression(
            "V * rho * c * dT / J",
            {
                "V": Symbol(own.volume, "V", "", "m³"),
                "rho": Symbol(WATER_KG_M3, "ρ", "", "kg/m³"),
                "c": Symbol(WATER_J_KG_K, "c", "p", "J/kg·K"),
                "dT": Symbol(own.swing, "ΔT", "", "K"),
                "J": Symbol(KWH, "J", "kWh", "J/kWh"),
            },
        ),
        letter="Q",
        letter_index="swing",
        result_unit="kWh",
        scale=KWH,
        source=methods(4),
        part="tap",
    )


def _there(design: Design) -> float:
    """Share of the year in which somebody is there [-]."""
    return 1 - sum(end - start for start, end in away_days(design.duty.away.value)) / DAYS


def _hot_water(design: Design, site: SiteResult) -> DutyResult:
    """Demand of a household or a business: people times litres, on the days they draw."""
    duty = design.duty
    volume = duty.persons.value * duty.litres_per_person_l.value * LITRE
    drawing = duty.days_a_week.value / 7 * _there(design)
    heat = tuple(
        days * drawing * heat_needed(volume=volume, tap_temperature=duty.tap_c.value, cold_temperature=cold)
        for days, cold in zip(DAYS_IN_MONTH, site.monthly_cold_main, strict=True)
    )
    mean_cold = sum(c * n for c, n in zip(site.monthly_cold_main, DAYS_IN_MONTH, strict=True)) / 365
    figures = _hot_water_figures(design, volume, 365 * drawing, mean_cold)
    if not design.heats_house:
        return DutyResult(volume, heat, sum(heat), figures)
    house = _house_heat(design, site)
    both = tuple(a + b for a, b in zip(heat, house, strict=True))
    return DutyResult(volume, both, sum(both), (*figures, _house_figure("house_heat", house)))


def _hot_water_figures(design: Design, volume: float, days: float, mean_cold: float) -> tuple[Figure, ...]:
    duty = design.duty
    return (
        closed_form(
            key="daily_draw",
            name="Hot water a day",
            basis=say(
                "{n} people at {t}",
                n=Quantity(duty.persons.value, "count"),
                t=Quantity(duty.tap_c.value, "temperature"),
            ),
            dimension_name="tank",
            sentence=say("People times what each draws at the tap."),
            expression=Expression(
                "n * v",
                {
                    "n": Symbol(duty.persons.value, "n"),
                    "v": Symbol(duty.litres_per_person_l.value, "v", "each", "L"),
                },
            ),
            letter="V",
            letter_index="day",
            result_unit="L",
            scale=LITRE,
            source=methods(4),
            part="tap",
        ),
        closed_form(
            key="demand",
            name="Heat of the hot water",
            basis=say("a year, without store loss"),
            dimension_name="energy",
            sentence=say("The water of a year, heated from the cold main's mean to the tap."),
            expression=Expression(
                "days * V * rho * c * (T_tap - T_cold) / J",
                {
                    "days": Symbol(days, "n"),
                    "V": Symbol(volume, "V", "day", "m³"),
                    "rho": Symbol(WATER_KG_M3, "ρ", "", "kg/m³"),
                    "c": Symbol(WATER_J_KG_K, "c", "p", "J/kg·K"),
                    "T_tap": Symbol(duty.tap_c.value, "T", "tap", "°C"),
                    "T_cold": Symbol(mean_cold, "T", "cold", "°C"),
                    "J": Symbol(KWH, "J", "kWh", "J/kWh"),
                },
            ),
            letter="Q",
            letter_index="year",
            result_unit="kWh",
            scale=KWH,
            source=methods(4),
            part="tap",
        ),
    )
