"""Goods as a plan keeps them: copied from the catalogue, so that old jobs stay as built."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.goods.fixings import FixingKey
from rowan.core.terms.strict import Strict

LEAST_MAINS_V = 60.0  # V; below it a pump runs on a panel or a battery


class CollectorItem(Strict):
    """A collector's data sheet. Rating (η0, a1, a2) on the aperture, mean fluid temperature."""

    name: str = Field(max_length=80)
    kind: Literal["flat", "tube", "heat pipe", "unglazed", "hybrid", "concentrating"] = "flat"
    aperture_m2: float = Field(gt=0, le=20)
    gross_m2: float = Field(gt=0, le=25)
    width_m: float = Field(gt=0, le=6)
    slope_length_m: float = Field(gt=0, le=6)
    eta0: float = Field(gt=0, le=1)
    a1_w_m2k: float = Field(gt=0, le=40)
    a2_w_m2k2: float = Field(ge=0, le=0.2)
    b0: float = Field(default=0.14, ge=0, le=1)
    k_d: float = Field(default=0.9, ge=0, le=1.3)
    c_eff_j_m2k: float = Field(default=7000, ge=0)
    contents_l: float = Field(gt=0, le=60)
    dry_mass_kg: float = Field(gt=0, le=200)
    flow_l_h: float = Field(gt=0)
    least_flow_l_h: float = Field(gt=0)
    most_flow_l_h: float = Field(gt=0)
    drop_points_l_h_pa: list[tuple[float, float]] = Field(min_length=2, max_length=8)
    rated_gauge_pa: float = Field(gt=0)
    least_tilt_deg: float = Field(default=0, ge=0, le=90)
    most_tilt_deg: float = Field(default=90, ge=0, le=90)
    drains: bool = True
    most_in_series: int = Field(default=4, ge=1, le=12)
    # what its maker measured dry in full sun (1000 W/m², 30 °C); by the rating where nobody says
    stagnation_c: float | None = Field(default=None, ge=40, le=450)
    # what it is rated for: gust [m/s] and snow [Pa]; nobody says where there is none
    rated_gust_m_s: float | None = Field(default=None, gt=0, le=120)
    rated_snow_pa: float | None = Field(default=None, gt=0, le=5e4)
    # the certificate that grants ask for, as its number is printed
    certificate: str = Field(default="", max_length=60)
    # how many pieces it comes in, and the hours to put them together before it can be carried up
    pieces: int = Field(default=1, ge=1, le=60)
    assembly_h: float = Field(default=0, ge=0, le=24)
    # incidence factors of tubes over these angles [°]; plates go by b0
    angles_deg: list[float] = Field(default_factory=list, max_length=19)
    k_across: list[float] = Field(default_factory=list, max_length=19)
    k_along: list[float] = Field(default_factory=list, max_length=19)
    # what wind takes from an unglazed one: η0·(1 − b_u·u), a1 + b2·u
    b_u_s_m: float = Field(default=0, ge=0, le=0.2)
    b2_j_m3k: float = Field(default=0, ge=0, le=20)
    tracks: bool = False
    electric_w: float = Field(default=0, ge=0, le=2000)
    electric_change_per_k: float = Field(default=0, ge=-0.02, le=0)
    price: float = Field(default=0, ge=0, le=1e6)
    upkeep_a_year: float = Field(default=0, ge=0, le=1e5)
    watch: str = Field(default="", max_length=200)

    @model_validator(mode="after")
    def _tables_match(self) -> Self:
        if not len(self.angles_deg) == len(self.k_across) == len(self.k_along):
            raise PydanticCustomError("tables", "each angle needs a factor across and one along", {})
        if any(b <= a for a, b in pairwise(self.angles_deg)):
            raise PydanticCustomError("tables", "the angles must rise", {})
        return self


class StoreItem(Strict):
    """A store's data sheet; heights above its foot."""

    name: str = Field(max_length=80)
    contents_l: float = Field(gt=0, le=20000)
    diameter_m: float = Field(gt=0, le=5)
    coil_kind: Literal["plain", "finned", "wrapped"] = "plain"
    coil_area_m2: float = Field(ge=0, le=60)
    coil_contents_l: float = Field(ge=0, le=300)
    coil_top_m: float = Field(ge=0)
    coil_bottom_m: float = Field(ge=0)
    coil_drop_l_h_pa: tuple[float, float]
    dry_mass_kg: float = Field(gt=0)
    loss_w_m2k: float = Field(default=0.7, gt=0, le=10)
    twin_coil: bool = True
    # what coil and drinking-water side stand
    coil_rated_gauge_pa: float = Field(default=10e5, gt=0, le=1e7)
    tap_rated_gauge_pa: float = Field(default=6e5, gt=0, le=1e7)
    # open to the air: its water is the loop's, taps and zones run through a coil of this area; None where it has but the one coil
    unpressurised: bool = False
    tap_coil_m2: float | None = Field(default=None, ge=0, le=60)


class PumpSpeed(Strict):
    """One speed of a pump: its curve (flow, head) and the power it takes."""

    name: str = Field(max_length=20)
    points_l_h_pa: list[tuple[float, float]] = Field(min_length=2, max_length=12)
    power_w: float = Field(gt=0)


class PumpItem(Strict):
    """A pump with its speeds, slowest first. One of 12 V runs on a photovoltaic panel at the speed the sun allows."""

    name: str = Field(max_length=80)
    speeds: list[PumpSpeed] = Field(min_length=1, max_length=6)
    kind: Literal["induction", "electronic", "magnet"] = "induction"
    # every speed between the slowest and the fastest curve can be set
    variable: bool = False
    # body of bronze or stainless steel: fit for drinking water
    drinking: bool = False
    volts: float = Field(default=230, gt=0, le=400)
    # what its inlet needs over boiling
    npsh_pa: float = Field(default=10e3, ge=0, le=2e5)

    @property
    def on_panel(self) -> bool:
        """Whether a photovoltaic panel drives it."""
        return self.volts < LEAST_MAINS_V


class PipeItem(Strict):
    """A pipe size with its material and what it stands."""

    name: str = Field(max_length=80)
    material: Literal["copper", "steel", "galvanised", "corrugated", "plastic"] = "copper"
    outer_diameter_m: float = Field(gt=0, le=0.3)
    wall_m: float = Field(gt=0, le=0.02)
    rating_c: float = Field(gt=0, le=800)
    # what its maker says it stands cold; the usual of its material and size without
    rated_gauge_pa: float | None = Field(default=None, gt=0, le=1e7)
    # the standard whose size it is
    standard: str = Field(default="", max_length=20)

    @property
    def bore_m(self) -> float:
        """Inner diameter [m]."""
        return self.outer_diameter_m - 2 * self.wall_m

    @property
    def bore_area_m2(self) -> float:
        """Free cross-section [m²]."""
        return 3.141592653589793 / 4 * self.bore_m**2

    @property
    def contents_l_m(self) -> float:
        """Contents per metre [L/m]."""
        return self.bore_area_m2 * 1000


Glycol = Literal["propylene", "food", "plumbing", "ethylene"]


class FluidItem(Strict):
    """A heat carrier as its can says: which glycol, how much of it is in the can [-], its pH new and where it is to be changed."""

    name: str = Field(max_length=80)
    fluid: Glycol = "propylene"
    concentrate: float | None = Field(default=None, gt=0, le=1)
    ph_new: float | None = Field(default=None, gt=0, lt=14)
    ph_least: float | None = Field(default=None, gt=0, lt=14)


class ControllerItem(Strict):
    """A controller as its sheet says: how wrong its sensors may be [K], where its frost function begins [°C], and how far a drained
    store has to cool before it starts again [K]."""

    name: str = Field(max_length=80)
    sensor_error_k: float | None = Field(default=None, ge=0)
    frost_c: float | None = None
    restart_k: float | None = Field(default=None, gt=0)


class FixingItem(Strict):
    """A fixing as its maker rates it: its kind, what it holds upward and downward [N], how far a rail may span and overhang [m]."""

    name: str = Field(max_length=80)
    fixing: FixingKey
    holds_up_n: float | None = Field(default=None, gt=0)
    holds_down_n: float | None = Field(default=None, gt=0)
    span_m: float | None = Field(default=None, gt=0)
    overhang_m: float | None = Field(default=None, ge=0)


GhiMean = Annotated[float, Field(ge=0, le=12)]
AirMean = Annotated[float, Field(ge=-60, le=50)]


class Normals(Strict):
    """Twelve monthly means of a place, with the means of the daily range of the air where somebody knows them."""

    ghi_kwh_m2_day: list[GhiMean] = Field(min_length=12, max_length=12)
    air_c: list[AirMean] = Field(min_length=12, max_length=12)


class WeatherItem(Strict):
    """An hourly year taken from a file: its name, and the digest of its rows, by which it is found again."""

    name: str = Field(max_length=80)
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")
