"""The invented places of the demo world with their normals: plausible, and said to be invented."""

from __future__ import annotations

from rowan.core.terms.record import record


@record
class Place:
    """Climate normals of a place: irradiation [kWh/m²·d], air [°C], design minimum [°C], hardness of the main [mol/m³]."""

    name: str
    latitude_deg: float
    longitude_deg: float
    altitude_m: float
    design_minimum_c: float
    hardness_mol_m3: float
    ghi_kwh_m2_day: tuple[float, ...]
    air_c: tuple[float, ...]


PLACES: dict[str, Place] = {
    place.name: place
    for place in (
        Place(
            "Aldersund",
            57.2,
            -3.1,
            85,
            -14,
            1.2,
            (0.45, 1.15, 2.3, 3.8, 4.95, 5.05, 4.75, 3.8, 2.6, 1.35, 0.6, 0.32),
            (3.4, 3.6, 5.0, 7.2, 9.8, 12.6, 14.4, 14.2, 12.2, 9.2, 6.0, 4.0),
        ),
        Place(
            "Corrim",
            44.6,
            7.2,
            1100,
            -24,
            1.2,
            (1.7, 2.6, 3.8, 4.8, 5.7, 6.4, 6.6, 5.7, 4.4, 2.9, 1.8, 1.4),
            (-7, -5.5, -1.5, 3.5, 8.5, 12.5, 15.5, 15, 10.5, 5.5, -1, -5.5),
        ),
        Place(
            "Port Maravel",
            -29.4,
            14.5,
            12,
            3,
            1.2,
            (7.1, 6.4, 5.4, 4.4, 3.5, 3.1, 3.4, 4.2, 5.2, 6.1, 6.9, 7.3),
            (21, 21, 20, 18, 16, 14, 13.5, 14, 15, 16.5, 18, 20),
        ),
        Place(
            "Pipwater",
            46.0,
            9.5,
            240,
            -12,
            3.6,
            (1.2, 2.1, 3.4, 4.5, 5.6, 6.1, 6.3, 5.4, 3.9, 2.3, 1.3, 0.9),
            (0, 1.5, 6, 10, 14.5, 18.5, 20.5, 20, 16, 10.5, 5, 1),
        ),
    )
}
