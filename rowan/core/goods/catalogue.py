"""The generic goods Rowan starts with; all invented. A plan copies what it takes."""

from __future__ import annotations

from typing import Any

from rowan.core.goods.items import CollectorItem, PipeItem, PumpItem, PumpSpeed, StoreItem
from rowan.core.terms.units import INCH

PA_PER_M = 9806.65
ELEMENT_W, ELEMENT_FOR_L = 3_000.0, 300.0  # the usual element, and the store it is usual for

# factors of tubes by angle: light between the tubes reaches the absorber from the side
TUBE_ANGLES = [0.0, 10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0]

COLLECTORS: dict[str, CollectorItem] = {
    item.name: item
    for item in (
        CollectorItem(
            name="Plate 2.3 selective",
            kind="flat",
            aperture_m2=2.30,
            gross_m2=2.41,
            width_m=1.17,
            slope_length_m=2.06,
            eta0=0.80,
            a1_w_m2k=3.6,
            a2_w_m2k2=0.014,
            b0=0.14,
            k_d=0.9,
            c_eff_j_m2k=7000,
            contents_l=1.60,
            dry_mass_kg=38,
            flow_l_h=120,
            least_flow_l_h=60,
            most_flow_l_h=180,
            drop_points_l_h_pa=[(120, 1000), (180, 2000)],
            rated_gauge_pa=1e6,
            least_tilt_deg=15,
            most_tilt_deg=75,
            drains=True,
            most_in_series=4,
            price=640,
            upkeep_a_year=8,
            watch="stands above the rating of soft solder when dry",
        ),
        CollectorItem(
            name="Plate 2.0 painted",
            kind="flat",
            aperture_m2=2.00,
            gross_m2=2.12,
            width_m=1.04,
            slope_length_m=2.04,
            eta0=0.76,
            a1_w_m2k=5.6,
            a2_w_m2k2=0.010,
            b0=0.15,
            k_d=0.9,
            c_eff_j_m2k=7500,
            contents_l=1.5,
            dry_mass_kg=36,
            flow_l_h=100,
            least_flow_l_h=50,
            most_flow_l_h=160,
            drop_points_l_h_pa=[(100, 900), (160, 1900)],
            rated_gauge_pa=1e6,
            least_tilt_deg=15,
            most_tilt_deg=90,
            drains=True,
            most_in_series=4,
            price=450,
            upkeep_a_year=8,
            watch="cools fast in cold wind; kind to its fluid",
        ),
        CollectorItem(
            name="Tube 20 heat pipe",
            kind="heat pipe",
            aperture_m2=1.90,
            gross_m2=3.2,
            width_m=1.64,
            slope_length_m=1.95,
            eta0=0.62,
            a1_w_m2k=1.1,
            a2_w_m2k2=0.005,
            b0=0.0,
            k_d=1.0,
            c_eff_j_m2k=9000,
            contents_l=1.1,
            dry_mass_kg=62,
            flow_l_h=90,
            least_flow_l_h=45,
            most_flow_l_h=180,
            drop_points_l_h_pa=[(90, 800), (180, 2600)],
            rated_gauge_pa=1e6,
            least_tilt_deg=20,
            most_tilt_deg=80,
            drains=False,
            most_in_series=3,
            angles_deg=TUBE_ANGLES,
            k_across=[1.0, 1.02, 1.08, 1.18, 1.35, 1.42, 1.30, 0.95, 0.5, 0.0],
            k_along=[1.0, 1.0, 0.99, 0.97, 0.94, 0.90, 0.83, 0.70, 0.43, 0.0],
            price=1180,
            upkeep_a_year=14,
            watch="stands hotter than joints and fluid like; a tube that has lost its vacuum shows only as less heat",
        ),
        CollectorItem(
            name="Tube 15 direct",
            kind="tube",
            aperture_m2=1.40,
            gross_m2=2.3,
            width_m=1.22,
            slope_length_m=1.92,
            eta0=0.66,
            a1_w_m2k=1.4,
            a2_w_m2k2=0.006,
            b0=0.0,
            k_d=1.0,
            c_eff_j_m2k=12000,
            contents_l=2.3,
            dry_mass_kg=45,
            flow_l_h=80,
            least_flow_l_h=40,
            most_flow_l_h=150,
            drop_points_l_h_pa=[(80, 2200), (150, 6400)],
            rated_gauge_pa=1e6,
            least_tilt_deg=0,
            most_tilt_deg=90,
            drains=False,
            most_in_series=4,
            angles_deg=TUBE_ANGLES,
            k_across=[1.0, 1.01, 1.05, 1.12, 1.22, 1.28, 1.20, 0.90, 0.48, 0.0],
            k_along=[1.0, 1.0, 0.99, 0.97, 0.94, 0.90, 0.83, 0.70, 0.43, 0.0],
            price=890,
            upkeep_a_year=12,
            watch="does not drain: what stands in it boils and freezes",
        ),
        CollectorItem(
            name="Hybrid 1.6",
            kind="hybrid",
            aperture_m2=1.60,
            gross_m2=1.65,
            width_m=0.99,
            slope_length_m=1.66,
            eta0=0.55,
            a1_w_m2k=9.0,
            a2_w_m2k2=0.0,
            b0=0.15,
            k_d=0.9,
            c_eff_j_m2k=14000,
            contents_l=1.2,
            dry_mass_kg=27,
            flow_l_h=80,
            least_flow_l_h=40,
            most_flow_l_h=140,
            drop_points_l_h_pa=[(80, 1500), (140, 4000)],
            rated_gauge_pa=6e5,
            least_tilt_deg=10,
            most_tilt_deg=75,
            drains=False,
            most_in_series=4,
            electric_w=320,
            electric_change_per_k=-0.0035,
            price=760,
            upkeep_a_year=10,
            watch="two trades on one roof: who services it?",
        ),
        CollectorItem(
            name="Mat unglazed",
            kind="unglazed",
            aperture_m2=2.0,
            gross_m2=2.0,
            width_m=1.0,
            slope_length_m=2.0,
            eta0=0.88,
            a1_w_m2k=12.0,
            a2_w_m2k2=0.0,
            b0=0.0,
            k_d=1.0,
            b_u_s_m=0.02,
            b2_j_m3k=3.0,
            c_eff_j_m2k=9000,
            contents_l=3.0,
            dry_mass_kg=7,
            flow_l_h=160,
            least_flow_l_h=80,
            most_flow_l_h=400,
            drop_points_l_h_pa=[(160, 900), (400, 4200)],
            rated_gauge_pa=2e5,
            least_tilt_deg=0,
            most_tilt_deg=90,
            drains=True,
            most_in_series=2,
            price=130,
            upkeep_a_year=4,
            watch="wind takes its heat, sun its plastic: about fifteen years",
        ),
        CollectorItem(
            name="Trough 3",
            kind="concentrating",
            aperture_m2=3.0,
            gross_m2=3.4,
            width_m=1.25,
            slope_length_m=2.72,
            eta0=0.72,
            a1_w_m2k=0.6,
            a2_w_m2k2=0.002,
            b0=0.0,
            k_d=0.0,
            c_eff_j_m2k=3000,
            contents_l=1.0,
            dry_mass_kg=74,
            flow_l_h=150,
            least_flow_l_h=80,
            most_flow_l_h=300,
            drop_points_l_h_pa=[(150, 1800), (300, 6200)],
            rated_gauge_pa=1e6,
            least_tilt_deg=0,
            most_tilt_deg=60,
            drains=False,
            most_in_series=4,
            tracks=True,
            price=2100,
            upkeep_a_year=60,
            watch="drive, mirror and seals want looking after; without beam sun it stands idle",
        ),
    )
}


def _store(contents: float, diameter: float, coil: float, coil_contents: float, mass: float, twin: bool) -> StoreItem:
    height = contents / 1000 / (3.141592653589793 / 4 * diameter**2)
    return StoreItem(
        name=f"Store {contents:.0f} {'twin' if twin else 'single'} coil",
        contents_l=contents,
        diameter_m=diameter,
        coil_area_m2=coil,
        coil_contents_l=coil_contents,
        coil_top_m=round(0.57 * height, 2),
        coil_bottom_m=round(0.095 * height, 2),
        coil_drop_l_h_pa=(250, 500),
        dry_mass_kg=mass,
        twin_coil=twin,
    )


STORES: dict[str, StoreItem] = {
    item.name: item
    for twin in (True, False)
    for item in (
        _store(150, 0.48, 0.8, 4.9, 68, twin),
        _store(200, 0.50, 1.0, 6.1, 82, twin),
        _store(300, 0.55, 1.4, 8.6, 110, twin),
        _store(400, 0.62, 1.8, 11.0, 138, twin),
        _store(500, 0.65, 2.1, 12.9, 162, twin),
        _store(750, 0.75, 2.9, 17.8, 215, twin),
        _store(1000, 0.85, 3.8, 23.3, 270, twin),
    )
}


def _open_store(contents: float, diameter: float, coil: float, mass: float) -> StoreItem:
    """A store without pressure: its water is the loop's, the taps run through its coil."""
    item = _store(contents, diameter, coil, round(coil * 6, 1), mass, False)
    return item.model_copy(update={"name": f"Open store {contents:.0f}", "unpressurised": True})


STORES |= {
    item.name: item
    for item in (_open_store(800, 0.79, 5.0, 130), _open_store(1500, 1.0, 8.0, 190), _open_store(3000, 1.3, 14.0, 310))
}

CURVE_SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)  # of the flow at which the head is spent


def _circulator(name: str, speeds: tuple[tuple[float, float, float], ...], **more: Any) -> PumpItem:
    """A pump from (head at rest [m], flow without head [L/min], power [W]) of each speed, slowest first."""
    made = []
    for number, (head, most, power) in enumerate(speeds, 1):
        points = [(share * most * 60, round(head * PA_PER_M * (1 - share**1.7), 1)) for share in CURVE_SHARES]
        made.append(PumpSpeed(name=str(number), power_w=power, points_l_h_pa=points))
    return PumpItem(name=name, speeds=made, **more)


THREE_SPEED = _circulator("Circulator, three speeds", ((1.75, 8.5, 28), (3.0, 11.0, 42), (4.2, 13.5, 58)))
LARGE_PUMP = _circulator("Circulator, large, three speeds", ((3.5, 30, 75), (5.5, 45, 120), (7.5, 60, 175)))
LIFTING_PUMP = _circulator("Drainback pump, 9 m", ((7.4, 34, 105), (9.0, 44, 150)))
SMALL_MAGNET = _circulator("Magnet drive, small", ((1.4, 14, 18),), kind="magnet", drinking=True)
SIGNAL_PUMP = _circulator(
    "Electronic pump, by signal", ((0.6, 4.5, 4), (2.2, 9.0, 12), (5.5, 15.0, 40)), kind="electronic", variable=True
)


def in_bronze(pump: PumpItem) -> PumpItem:
    """The same pump with a body fit for drinking water."""
    return pump.model_copy(update={"name": f"{pump.name}, bronze"[:80], "drinking": True})


BRONZE_PUMP, LARGE_BRONZE_PUMP = in_bronze(THREE_SPEED), in_bronze(LARGE_PUMP)
PANEL_PUMP = _circulator("Pump for 12 V", ((2.6, 11.0, 14),), kind="magnet", drinking=True, volts=12)
PUMPS = {
    item.name: item
    for item in (
        THREE_SPEED,
        LARGE_PUMP,
        BRONZE_PUMP,
        LARGE_BRONZE_PUMP,
        SIGNAL_PUMP,
        LIFTING_PUMP,
        SMALL_MAGNET,
        PANEL_PUMP,
    )
}


def _copper(outer: float, wall: float) -> PipeItem:
    return PipeItem(
        name=f"Copper {outer:g} × {wall:g}",
        material="copper",
        outer_diameter_m=outer / 1000,
        wall_m=wall / 1000,
        rating_c=400,
        standard="EN 1057",
    )


# ASTM B88: nominal size, outer diameter, wall of type L and of type M [in]
_B88 = (
    ("½", 0.625, 0.040, 0.028),
    ("¾", 0.875, 0.045, 0.032),
    ("1", 1.125, 0.050, 0.035),
    ("1¼", 1.375, 0.055, 0.042),
    ("1½", 1.625, 0.060, 0.049),
    ("2", 2.125, 0.070, 0.058),
)


def _copper_us(size: str, outer: float, wall: float, kind: str) -> PipeItem:
    return PipeItem(
        name=f"Copper {size} inch type {kind}",
        material="copper",
        outer_diameter_m=round(outer * INCH, 7),
        wall_m=round(wall * INCH, 7),
        rating_c=400,
        standard="ASTM B88",
    )


def _corrugated(size: int, outer: float) -> PipeItem:
    return PipeItem(
        name=f"Corrugated DN {size}", material="corrugated", outer_diameter_m=outer / 1000, wall_m=0.0003, rating_c=400
    )


# EN 1057 and ASTM B88 sizes; corrugated by its mean bore
PIPES: dict[str, PipeItem] = {
    item.name: item
    for item in (
        *(_copper(o, w) for o, w in ((12, 1), (15, 1), (18, 1), (22, 1), (28, 1), (35, 1.2), (42, 1.2), (54, 1.5))),
        *(_copper_us(size, outer, heavy, "L") for size, outer, heavy, _ in _B88),
        *(_copper_us(size, outer, light, "M") for size, outer, _, light in _B88),
        *(_corrugated(size, outer) for size, outer in ((12, 14.2), (16, 18.2), (20, 22.2), (25, 28.2))),
        PipeItem(name="Steel ¾", material="steel", outer_diameter_m=0.0269, wall_m=0.0026, rating_c=300),
        PipeItem(name="Galvanised ¾", material="galvanised", outer_diameter_m=0.0269, wall_m=0.0026, rating_c=300),
        PipeItem(name="Plastic 20 × 2", material="plastic", outer_diameter_m=0.020, wall_m=0.002, rating_c=95),
    )
}
