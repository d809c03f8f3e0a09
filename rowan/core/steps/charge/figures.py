"""Figures of the charge: worked in kPa and litres, shown in the user's units."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, properties
from rowan.core.steps.charge.pressures import (
    LEAST_TOP_PA,
    RAISED_FILL_PA,
    RAISED_FINAL_PA,
    RAISED_PRECHARGE_PA,
    RESERVE_OVER_STATIC_PA,
)
from rowan.core.steps.charge.result import LoopCharge, SealedCharge
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.constants import ATMOSPHERE_PA, GRAVITY
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import KPA, LITRE

LEAST_TOP_COLD_PA = 30e3  # Pa on top on the coldest night, methods 10
FROST_MARGIN_K = 5.0  # K below the coldest night, methods 9


def _kpa(value: float, letter: str, index: str = "") -> Symbol:
    return Symbol(value / KPA, letter, index, "kPa")


def _litres(value: float, letter: str, index: str = "") -> Symbol:
    return Symbol(value / LITRE, letter, index, "L")


def static_figure(*, volume_share: float, height: float) -> Figure:
    """The weight of the column over the gauge [Pa], for a share of glycol [-] and a height [m]. Methods 10."""
    density = properties(volume_share=volume_share, temperature=FILL_C).density
    return closed_form(
        key="static",
        name="Static",
        basis=say("{h} of fluid at {t}", h=Quantity(height, "length"), t=Quantity(FILL_C, "temperature")),
        dimension_name="pressure",
        part="gauge",
        sentence=say(
            "The weight of the column from the gauge up to the top of the loop. Less than this at the gauge, and air is drawn in on top."
        ),
        expression=Expression(
            "rho * g * h / 1000",
            {
                "rho": Symbol(density, "ρ", "", "kg/m³"),
                "g": Symbol(GRAVITY, "g", "", "m/s²"),
                "h": Symbol(height, "h", "", "m"),
            },
        ),
        letter="p",
        letter_index="static",
        result_unit="kPa",
        scale=KPA,
        source=methods(10),
    )


def _contents(design: Design, charge: LoopCharge) -> Figure:
    held = charge.contents
    return closed_form(
        key="contents",
        name="The loop holds",
        basis=say("vessel left out" if design.sealed else "without the store"),
        dimension_name="volume",
        part="cold_line",
        sentence=say("Collectors, both lines, coil and station. A volume counted wrong is a vessel chosen wrong."),
        expression=Expression(
            "fields + lines + coil + station" + (" + found" if held.found else ""),
            {
                "found": _litres(held.found, "V", "found"),
                "fields": _litres(held.collectors, "V", "field"),
                "lines": _litres(held.lines, "V", "lines"),
                "coil": _litres(held.coil, "V", "coil"),
                "station": _litres(held.station, "V", "station"),
            },
        ),
        letter="V",
        letter_index="loop",
        result_unit="L",
        scale=LITRE,
        source=methods(10),
    )


def charge_figures(design: Design, run: RunResult, charge: SealedCharge) -> tuple[Figure, ...]:
    """Figures of a sealed loop; those without a value for want of a possible setting are left out."""
    figures = [static_figure(volume_share=design.glycol_share, height=run.route.top)]
    if charge.setting is not None:
        figures += _setting_figures(design, charge)
        figures += _cold_figure(design, run, charge)
        figures += _stagnation_figure(charge)
        figures += _least_vessel_figure(design, charge)
        figures.append(_kept_figure(charge))
    figures.append(_contents(design, charge))
    figures += _fluid_figures(design, charge)
    figures += _mix_figures(design, charge)
    return tuple(figures)


_RULES = {
    "reserve": ("static + 50", "static + 50 + gap"),
    "equal": ("static + 80", "static + 80"),
    "above": ("atm + 11.3 * h + 13.8", "atm + 11.3 * h"),
    "atmosphere": ("atm + static", "atm + static + 31"),
    "raised": ("(final + air) * (V - liquid) / V - air", "final"),
    "typed": ("max(typed - 30, static + 20)", "typed"),
}
_CHARGE_WHY = {
    "reserve": "{over} over the column, so that the gas side gives way only once the top is under pressure.",
    "equal": "This school charges the gas to the cold fill: the vessel starts empty of liquid.",
    "above": "This school charges above the fill: the first warming has no cushion.",
    "atmosphere": "This school adds one atmosphere to the column.",
    "raised": "Gas is added after filling; this is the charge that describes the vessel then.",
    "typed": "A little under the fill that was typed, never less than the column and {least}.",
}


def _setting_symbols(design: Design, charge: SealedCharge) -> dict[str, Symbol]:
    """What the rules of the schools speak of."""
    raised_liquid = charge.vessel * (
        1 - (RAISED_PRECHARGE_PA + charge.atmosphere) / (RAISED_FILL_PA + charge.atmosphere)
    )
    charged = design.charge.typed_charge_gauge_pa.value
    return {
        "static": _kpa(charge.static, "p", "static"),
        "gap": _kpa(design.charge.gap_pa.value, "p", "gap"),
        "atm": _kpa(ATMOSPHERE_PA, "p", "1 atm"),
        "h": Symbol(design.survey.gauge_to_top_m.value, "h", "", "m"),
        "final": _kpa(RAISED_FINAL_PA, "p", "raised"),
        "air": _kpa(charge.atmosphere, "p", "air"),
        "V": _litres(charge.vessel, "V", "vessel"),
        "liquid": _litres(raised_liquid, "V", "liquid"),
        "typed": _kpa(design.charge.typed_fill_gauge_pa.value, "p", "typed"),
        **({} if charged is None else {"charged": _kpa(charged, "p", "set")}),
    }


def _setting_figures(design: Design, charge: SealedCharge) -> list[Figure]:
    assert charge.setting is not None  # noqa: S101  callers have checked
    school, symbols = design.charge.school.value, _setting_symbols(design, charge)
    precharge, fill = _RULES[school]
    if school == "typed" and "charged" in symbols:
        precharge = "max(charged, static + 20)"
    return [
        closed_form(
            key="precharge",
            name="Charge",
            basis=say("gas side, liquid side empty"),
            dimension_name="pressure",
            part="vessel",
            sentence=say(
                _CHARGE_WHY[school],
                over=Quantity(RESERVE_OVER_STATIC_PA, "pressure"),
                least=Quantity(LEAST_TOP_PA, "pressure"),
            ),
            expression=Expression(precharge, symbols),
            letter="p",
            letter_index="charge",
            result_unit="kPa",
            scale=KPA,
            source=f"{methods(10)}, school {school}",
        ),
        closed_form(
            key="fill",
            name="Cold fill",
            basis=say("at the gauge, {t}", t=Quantity(FILL_C, "temperature")),
            dimension_name="pressure",
            part="gauge",
            sentence=say(
                "What the gauge shows when the loop is filled cold. The gap to the charge is liquid kept in the vessel."
            ),
            expression=Expression(fill, symbols),
            letter="p",
            letter_index="fill",
            result_unit="kPa",
            scale=KPA,
            window=Window(
                charge.static + LEAST_TOP_PA,
                charge.end,
                "methods 10: the column and {20000|pressure}, up to the highest planned",
            ),
            source=f"{methods(10)}, school {school}",
        ),
    ]


def _state_symbols(charge: SealedCharge, pushed: dict[str, Symbol]) -> dict[str, Symbol]:
    assert charge.setting is not None  # noqa: S101  callers have checked
    return {
        "pre": Symbol((charge.setting.precharge + charge.atmosphere) / KPA, "p", "charge, abs", "kPa"),
        "V": _litres(charge.vessel, "V", "vessel"),
        "V_fill": _litres(charge.kept, "V", "kept"),
        "air": _kpa(charge.atmosphere, "p", "air"),
        **pushed,
    }


def _cold_figure(design: Design, run: RunResult, charge: SealedCharge) -> list[Figure]:
    figures = []
    cold = charge.states["cold"]
    share, loop = design.glycol_share, charge.contents.total
    if cold.top is not None:
        density = properties(volume_share=share, temperature=cold.temperature).density
        at_fill = properties(volume_share=share, temperature=FILL_C).density
        shrunk = loop * (1 - at_fill / density)
        figures.append(
            closed_form(
                key="top_cold",
                name="On top, cold night",
                basis=say("{t}", t=Quantity(cold.temperature, "temperature")),
                dimension_name="pressure",
                part="vent",
                sentence=say(
                    "Cold shrinks the loop and the vessel gives liquid back. What is left on top must stay above the air outside."
                ),
                expression=Expression(
                    "pre * V / (V - V_fill + V_shrunk) - air - rho * g * h / 1000",
                    _state_symbols(
                        charge,
                        {
                            "V_shrunk": _litres(shrunk, "V", "shrunk"),
                            "rho": Symbol(density, "ρ", "cold", "kg/m³"),
                            "g": Symbol(GRAVITY, "g", "", "m/s²"),
                            "h": Symbol(run.route.top, "h", "", "m"),
                        },
                    ),
                ),
                letter="p",
                letter_index="top",
                result_unit="kPa",
                scale=KPA,
                window=Window(LEAST_TOP_COLD_PA, None, "Rowan's rule: {30000|pressure} on top on the coldest night"),
                source=methods(10),
            )
        )
    return figures


def _stagnation_figure(charge: SealedCharge) -> list[Figure]:
    figures = []
    if charge.states["stagnation"].station is not None and charge.steam is not None:
        figures.append(
            closed_form(
                key="stagnation_pressure",
                name="Stagnation",
                basis=say("steam to {r}", r=Quantity(charge.steam.reach, "length", 1)),
                dimension_name="pressure",
                part="relief",
                sentence=say(
                    "On a hot day without draw the field boils; warm liquid and what the steam pushes out go into the vessel."
                ),
                expression=Expression(
                    "pre * V / (V - (V_fill + V_warm + V_steam)) - air",
                    _state_symbols(
                        charge,
                        {
                            "V_warm": _litres(charge.expansion, "V", "warm"),
                            "V_steam": _litres(charge.steam.volume, "V", "steam"),
                        },
                    ),
                ),
                letter="p",
                letter_index="stagn",
                result_unit="kPa",
                scale=KPA,
                window=Window(None, charge.end, "methods 10: relief less its margin"),
                source=methods(10),
            )
        )
    return figures


def _least_vessel_figure(design: Design, charge: SealedCharge) -> list[Figure]:
    assert charge.setting is not None  # noqa: S101  callers have checked
    figures = []
    if charge.need is not None and charge.steam is not None:
        fill = max(charge.setting.fill, charge.setting.precharge)
        symbols = {
            "V_warm": _litres(charge.expansion, "V", "warm"),
            "V_steam": _litres(charge.steam.volume, "V", "steam"),
            "pre": Symbol((charge.setting.precharge + charge.atmosphere) / KPA, "p", "charge", "kPa"),
            "fill": Symbol((fill + charge.atmosphere) / KPA, "p", "fill", "kPa"),
            "end": Symbol((charge.end + charge.atmosphere) / KPA, "p", "end", "kPa"),
            "V_keep": _litres(charge.reserve, "V", "keep"),
            "quarter": Symbol(design.charge.vessel_gas_share.value, "s", "gas"),
        }
        need = charge.need
        if need.pressure >= max(need.reserve, need.travel):
            text, sentence = (
                "(V_warm + V_steam) * fill * end / (pre * (end - fill))",
                "It must take the warm liquid and all that steam pushes out, on top of what it holds when filled, before the highest planned pressure. Pressures absolute.",
            )
        elif need.reserve >= need.travel:
            text, sentence = (
                "V_keep * fill / (fill - pre)",
                "The liquid it should keep decides: a smaller one would be empty on a cold night. Pressures absolute.",
            )
        else:
            text, sentence = (
                "(V_warm + V_steam) / (pre / fill - quarter)",
                "The membrane's travel decides: {s} of the vessel must stay gas. Pressures absolute.",
            )
        figures.append(
            closed_form(
                key="least_vessel",
                name="Least vessel",
                basis=say("{v} chosen", v=Quantity(charge.vessel, "tank")),
                dimension_name="volume",
                part="vessel",
                sentence=say(sentence, s=Quantity(design.charge.vessel_gas_share.value, "share")),
                expression=Expression(text, symbols),
                letter="V",
                letter_index="least",
                result_unit="L",
                scale=LITRE,
                window=Window(None, charge.vessel, "the vessel chosen"),
                source=methods(10),
            )
        )
    return figures


def _kept_figure(charge: SealedCharge) -> Figure:
    assert charge.setting is not None  # noqa: S101  callers have checked
    return closed_form(
        key="kept",
        name="Kept in the vessel",
        basis=say("when filled cold"),
        dimension_name="volume",
        decimals=2,
        part="vessel",
        sentence=say(
            "Liquid that waits in the vessel: it refills the loop on cold nights and replaces the air that is let out."
        ),
        expression=Expression(
            "max(V * (1 - pre / fill), 0)",
            {
                "V": _litres(charge.vessel, "V", "vessel"),
                "pre": Symbol((charge.setting.precharge + charge.atmosphere) / KPA, "p", "charge, abs", "kPa"),
                "fill": Symbol((charge.setting.fill + charge.atmosphere) / KPA, "p", "fill, abs", "kPa"),
            },
        ),
        letter="V",
        letter_index="kept",
        result_unit="L",
        scale=LITRE,
        window=Window(charge.reserve, None, "methods 10: half a percent of the loop, at least {0.001|volume|0}"),
        source=methods(10),
    )


def _fluid_figures(design: Design, charge: SealedCharge) -> list[Figure]:
    return [
        _warm_liquid(design, charge),
        _frost_point(design, charge),
    ]


def _warm_liquid(design: Design, charge: SealedCharge) -> Figure:
    return closed_form(
        key="expansion",
        name="Warm liquid",
        basis=say(
            "from {a} to {b}",
            a=Quantity(FILL_C, "temperature"),
            b=Quantity(design.charge.hot_c.value, "temperature"),
        ),
        dimension_name="volume",
        decimals=2,
        part="vessel",
        sentence=say("Glycol swells when it warms; this much has to go somewhere."),
        expression=Expression(
            "V * (rho_cold / rho_hot - 1)",
            {
                "V": _litres(charge.contents.total, "V", "loop"),
                "rho_cold": Symbol(
                    properties(volume_share=design.glycol_share, temperature=FILL_C).density, "ρ", "fill", "kg/m³"
                ),
                "rho_hot": Symbol(
                    properties(volume_share=design.glycol_share, temperature=design.charge.hot_c.value).density,
                    "ρ",
                    "hot",
                    "kg/m³",
                ),
            },
        ),
        letter="V",
        letter_index="warm",
        result_unit="L",
        scale=LITRE,
        source=methods(10),
    )


def _frost_point(design: Design, charge: SealedCharge) -> Figure:
    return by_method(
        key="frost_point",
        name="Frost point",
        basis=say(
            "{s} glycol, coldest night {t}",
            s=Quantity(design.glycol_share, "share"),
            t=Quantity(design.survey.design_minimum_c.value, "temperature"),
        ),
        value=charge.frost_point,
        dimension_name="temperature",
        decimals=1,
        part="cold_line",
        sentence=say(
            "Where crystals begin. It should lie {m} below the coldest night.",
            m=Quantity(FROST_MARGIN_K, "difference", 0),
        ),
        method=say("From the tables of aqueous propylene glycol."),
        window=Window(
            None,
            design.survey.design_minimum_c.value - FROST_MARGIN_K,
            "methods 9: {5|difference|0} below the design minimum",
        ),
        source=methods(9),
    )


def _mix_figures(design: Design, charge: SealedCharge) -> list[Figure]:
    figures = [
        closed_form(
            key="prepare",
            name="Mix to prepare",
            basis=say("loop, vessel and surplus"),
            dimension_name="volume",
            part="station",
            sentence=say(
                "The surplus drives water and foam out ahead of the mix; it goes back into the can, labelled."
            ),
            expression=Expression(
                "V_loop + V_kept + V_more",
                {
                    "V_loop": _litres(charge.contents.total, "V", "loop"),
                    "V_kept": _litres(charge.kept, "V", "kept"),
                    "V_more": Symbol(design.charge.surplus_l.value, "V", "surplus", "L"),
                },
            ),
            letter="V",
            result_unit="L",
            scale=LITRE,
            source=methods(10),
        ),
    ]
    if charge.steam is not None:
        held = charge.contents.collectors
        figures.append(
            closed_form(
                key="steam",
                name="Steam pushes out",
                basis=say("reach {r}", r=Quantity(charge.steam.reach, "length", 1)),
                dimension_name="volume",
                decimals=2,
                part="hot_line",
                sentence=say("The field's contents, and the pipe as far as its lagging still lets steam through."),
                expression=Expression(
                    "V_field + v * reach",
                    {
                        "V_field": _litres(held, "V", "field"),
                        "v": Symbol(design.run.laid("hot").contents_l_m, "v", "pipe", "L/m"),
                        "reach": Symbol(charge.steam.reach, "L", "steam", "m"),
                    },
                ),
                letter="V",
                letter_index="steam",
                result_unit="L",
                scale=LITRE,
                source=methods(10),
            )
        )
    return figures


def direct_figures(design: Design, charge: LoopCharge) -> tuple[Figure, ...]:
    """A loop that the main fills: column, what the mains leave on top, contents."""
    height = design.survey.gauge_to_top_m.value
    return (
        static_figure(volume_share=design.glycol_share, height=height),
        closed_form(
            key="top_direct",
            name="On top",
            basis=say("the main brings {p}", p=Quantity(design.main_gauge_pa, "pressure")),
            dimension_name="pressure",
            part="vent",
            sentence=say("The cold main fills a direct loop and keeps its top under pressure."),
            expression=Expression(
                "mains - static",
                {
                    "mains": _kpa(design.main_gauge_pa, "p", "main"),
                    "static": _kpa(charge.static, "p", "static"),
                },
            ),
            letter="p",
            letter_index="top",
            result_unit="kPa",
            scale=KPA,
            window=Window(LEAST_TOP_COLD_PA, None, "Rowan's rule: {30000|pressure} on top"),
            source=methods(10),
        ),
        _contents(design, charge),
    )
