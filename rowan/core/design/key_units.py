"""What the end of a key says about its unit."""

from __future__ import annotations

# longest first, so that `_l_h` is not read as hours
KEY_UNITS = (
    ("_kwh_m2_day", "kWh/m² a day"),
    ("_j_m2k", "J/m²K"),
    ("_j_m3k", "J/m³K"),
    ("_per_k", "1/K"),
    ("_s_m", "s/m"),
    ("_w_k", "W/K"),
    ("_w_m2k2", "W/m²K²"),
    ("_kg_co2_kwh", "kg CO₂ a kWh"),
    ("_gauge_pa", "Pa over the local atmosphere"),
    ("_l_h_pa", "pairs of L/h and Pa"),
    ("_w_m2k", "W/m²K"),
    ("_w_mk", "W/mK"),
    ("_w_m2", "W/m²"),
    ("_kg_m2", "kg/m²"),
    ("_kg_m3", "kg/m³"),
    ("_mol_m3", "mol/m³, that is mmol/L"),
    ("_l_h", "L/h"),
    ("_ohm", "Ω"),
    ("_wh", "Wh"),
    ("_v", "V"),
    ("_years", "years"),
    ("_deg", "degrees"),
    ("_kg", "kg"),
    ("_m2", "m²"),
    ("_pa", "Pa"),
    ("_l", "L"),
    ("_m", "m"),
    ("_c", "°C"),
    ("_k", "K"),
    ("_w", "W"),
    ("_j", "J"),
    ("_s", "s"),
    ("_n", "N"),
    ("_a", "years"),
)


def key_unit(key: str) -> str:
    """The unit a key carries in its name; empty for one without."""
    return next((unit for end, unit in KEY_UNITS if key.endswith(end)), "")
