"""A collector from its data sheet: either rating form, on either area, with a plausibility check."""

from __future__ import annotations

from typing import Literal

from rowan.core.fluid import properties
from rowan.core.goods.efficiency import InletRating, Rating, inlet_to_mean, stagnation_temperature
from rowan.core.goods.items import CollectorItem
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE_H

Form = Literal["mean", "inlet"]
AreaKind = Literal["aperture", "gross"]
TEST_WATER_C = 30.0  # °C, of the water in the test that a rating comes from
# what a liquid collector's stagnation may be on a plausible sheet [°C], rules of thumb
DRY_APART_K = (
    60.0  # K between the maker's dry temperature and the rating's: conduction in the manifold explains no more
)
LEAST_DRY_C, MOST_DRY_C = 50.0, 400.0  # °C, dry in full sun: a line outside has been mixed up


@record
class Sheet:
    """The rating as printed: `gain` is η0 or F_Rτα [-], `loss` a1 or F_RU_L [W/m²K], `curve` a2 [W/m²K²]."""

    form: Form
    area_kind: AreaKind
    gain: float
    loss: float
    curve: float = 0.0
    test_flow_l_h: float = 0.0


def rating_on_aperture(*, sheet: Sheet, aperture: float, gross: float) -> Rating:
    """The mean form on the aperture. Areas [m²]. Source: methods 3.

    A rating on the gross area is carried over by the ratio of the areas; one on the inlet temperature is turned by its
    test flow. Raises ImpossibleInputError for areas that cannot be, or an inlet rating without its flow.
    """
    if not 0 < aperture <= gross:
        raise ImpossibleInputError("the aperture must be above zero and not above the gross area")
    rated = aperture if sheet.area_kind == "aperture" else gross
    if sheet.form == "inlet":
        if sheet.test_flow_l_h <= 0:
            raise ImpossibleInputError("a rating by intercept and slope needs the flow it was measured with")
        water = properties(volume_share=0.0, temperature=TEST_WATER_C)
        found = inlet_to_mean(
            rating=InletRating(sheet.gain, sheet.loss),
            area=rated,
            flow=sheet.test_flow_l_h * LITRE_H * water.density,
            heat_capacity=water.heat_capacity,
        )
    else:
        found = Rating(sheet.gain, sheet.loss, sheet.curve)
    scale = rated / aperture
    return Rating(found.eta0 * scale, found.a1 * scale, found.a2 * scale)


def plausibility(item: CollectorItem) -> tuple[str, ...]:
    """What on a data sheet looks as if a line had been mixed up."""
    found = []
    dry = stagnation_temperature(rating=Rating(item.eta0, item.a1_w_m2k, item.a2_w_m2k2))
    if not LEAST_DRY_C <= dry <= MOST_DRY_C:
        found.append(f"dry in full sun it would reach {dry:.0f} °C: look at gain and loss again")
    if item.stagnation_c is not None and abs(item.stagnation_c - dry) > DRY_APART_K:
        found.append(
            f"measured dry it comes to {item.stagnation_c:.0f} °C, by its rating to {dry:.0f} °C: look at both again"
        )
    per_m2 = item.flow_l_h / item.aperture_m2
    if not 10 <= per_m2 <= 120:
        found.append(f"its flow is {per_m2:.0f} L/h for each m²; 15 to 75 is usual: per collector, or in all?")
    holds = item.contents_l / item.aperture_m2
    if not 0.2 <= holds <= 4:
        found.append(f"it holds {holds:.1f} L for each m²; 0.4 to 2 is usual")
    if abs(item.width_m * item.slope_length_m / item.gross_m2 - 1) > 0.15:
        found.append("width times length is not its gross area")
    return tuple(found)
