"""What holds a loop that no controller does: its store gets as hot as the sun makes it, and people and tank are guarded otherwise.

Source: practice 5, thermosiphon: temperature uncontrolled, so a tempering valve is a must.
"""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.fluid import boiling_point
from rowan.core.steps.store.heat import UNLIMITED_STORE_C
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, say
from rowan.core.terms.source import methods
from rowan.core.weather.air import atmosphere


def uncontrolled_figures(design: Design) -> tuple[Figure, ...]:
    """How hot the store may come to, beside what its water boils at under the main."""
    air = atmosphere(altitude=design.survey.altitude_m.value)
    boils = boiling_point(volume_share=0.0, pressure_abs=design.main_gauge_pa + air)
    return (
        by_method(
            key="hottest_store",
            name="Hottest store",
            basis=say("nothing limits it; the relief opens above"),
            value=UNLIMITED_STORE_C,
            dimension_name="temperature",
            part="store",
            sentence=say(
                "A week of sun without a tap opened brings the tank near boiling: the tempering valve is for people, the relief by "
                "temperature and pressure for the tank."
            ),
            method=say("The trade's figure for a store that no limit holds."),
            source="practice: system and store",
            window=Window(None, boils, "boiling under the main"),
        ),
        by_method(
            key="boils_at",
            name="Its water boils at",
            basis=say("under the main, {p}", p=Quantity(design.main_gauge_pa, "pressure")),
            value=boils,
            dimension_name="temperature",
            part="relief",
            sentence=say("Pressure keeps hot water liquid; when a tap or the relief lets it out it flashes to steam."),
            method=say("Vapour pressure of water against the main's pressure and the air's."),
            source=methods(9),
        ),
    )
