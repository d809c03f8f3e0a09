"""The coil in which taps and zones are warmed where the store's own water stands open to the air.

Cold water comes in at the foot and passes the whole height; the more flows at once, the less warm it comes out.
Source: methods 5 (coil), practice 5: large stores carry several coils, each judged by its own return.
"""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.goods.catalogue import STORES
from rowan.core.steps.duty.demand import draw_minutes
from rowan.core.steps.duty.hours import pattern_of
from rowan.core.steps.site.stage import SiteResult
from rowan.core.steps.store.sizing import COIL_U, coil_conductance
from rowan.core.terms.constants import WATER_J_KG_K, WATER_KG_M3
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, Window, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE, LITRE_MIN

SERVES_AT_C = 60.0  # °C of the store at which the coil must still serve the largest draw; methods 5, hot water in it


@takes(conductance=NOT_NEGATIVE, flow=POSITIVE, store=FINITE, cold=FINITE)
def comes_out(*, conductance: float, flow: float, store: float, cold: float) -> float:
    """Temperature of water [°C] that a flow [m³/s] has after a coil [W/K] in a store all at one temperature [°C]."""
    return store + (cold - store) * math.exp(-conductance / (flow * WATER_KG_M3 * WATER_J_KG_K))


def largest_draw(design: Design) -> float:
    """The largest draw of the day [m³/s]."""
    duty = design.duty
    volume = duty.persons.value * duty.litres_per_person_l.value * LITRE
    return max(volume * share / (60.0 * draw_minutes(volume=volume * share)) for _, share in pattern_of(design))


def taps_conductance(design: Design) -> float:
    """Of the coil for taps or zones [W/K]; none where they draw the store's own water."""
    area = design.taps_coil_m2
    return coil_conductance(kind=design.store.item.value.coil_kind, coil_area=area) if area else 0.0


def taps_coil_figures(design: Design, site: SiteResult) -> tuple[Figure, ...]:
    """How warm the largest draw comes out of its coil."""
    area = design.taps_coil_m2
    if not area or not design.taps:
        return ()
    kind = design.store.item.value.coil_kind
    symbols = {
        "T_store": Symbol(SERVES_AT_C, "T", "store", "°C"),
        "T_cold": Symbol(min(site.monthly_cold_main), "T", "cold", "°C"),
        "U": Symbol(COIL_U[kind], "U", "", "W/m²K"),
        "A": Symbol(area, "A", "coil", "m²"),
        "q": Symbol(largest_draw(design) / LITRE_MIN, "q", "", "L/min"),
        "c": Symbol(WATER_KG_M3 * WATER_J_KG_K * LITRE_MIN, "ρ·c", "", "W·min/L·K"),
    }
    return (
        closed_form(
            key="taps_coil",
            name="Taps' coil gives",
            basis=say(
                "{q} at once, store at {t}",
                q=Quantity(largest_draw(design), "flow"),
                t=Quantity(SERVES_AT_C, "temperature"),
            ),
            dimension_name="temperature",
            sentence=say(
                "The taps never touch the store's own water: what they get is what this coil can hand over in passing."
            ),
            expression=Expression("T_store + (T_cold - T_store) * exp(-U * A / (q * c))", symbols),
            letter="T",
            letter_index="out",
            source=methods(5),
            part="tap",
            window=Window(design.duty.tap_c.value, None, "the tap temperature, as asked"),
        ),
    )


def taps_coil_findings(design: Design, site: SiteResult) -> tuple[Finding, ...]:
    """No coil for the taps at all, or one that does not warm the largest draw."""
    item = design.store.item.value
    if not item.unpressurised or design.own_store or not design.taps:
        return ()
    area, tap = design.taps_coil_m2, design.duty.tap_c.value
    if not area:
        return (
            _finding(
                "taps_coil_missing",
                "stop",
                "the taps have no coil in this open store",
                say(
                    "Its water stands open and is nobody's to drink: taps want a coil of their own, beside the one for the field."
                ),
                _larger(design),
            ),
        )
    out = comes_out(
        conductance=taps_conductance(design),
        flow=largest_draw(design),
        store=SERVES_AT_C,
        cold=min(site.monthly_cold_main),
    )
    if round(out) >= round(tap):
        return ()
    words = say(
        "{q} at once leave it at {o} with the store at {s}; {t} is asked for.",
        q=Quantity(largest_draw(design), "flow"),
        o=Quantity(out, "temperature"),
        s=Quantity(SERVES_AT_C, "temperature"),
        t=Quantity(tap, "temperature"),
    )
    return (_finding("taps_coil_small", "fix", "the taps' coil is small", words, _larger(design)),)


def _larger(design: Design) -> tuple[Cure, ...]:
    """The next open stores that are sold, each with a longer coil."""
    own = design.taps_coil_m2
    sold = sorted((s for s in STORES.values() if s.unpressurised), key=lambda s: s.contents_l)
    found = [
        s
        for s in sold
        if (s.tap_coil_m2 or s.coil_area_m2) > own and s.contents_l >= design.store.item.value.contents_l
    ]
    return tuple(
        Cure(say("Take the {name}", name=s.name[:1].lower() + s.name[1:]), (Change("store.item", s),), "taps_coil")
        for s in found[:1]
    )


def _finding(key: str, level: Level, title: str, reason: Statement, cures: tuple[Cure, ...]) -> Finding:
    return Finding(
        key=key, level=level, stage="store", part="tap", title=say(title), reason=reason, cures=cures, source=methods(5)
    )
