"""Constants of nature and of convention that more than one step needs, each with its unit and source."""

from __future__ import annotations

GRAVITY = 9.80665  # m/s², standard acceleration (CGPM 1901)
KELVIN = 273.15  # K at 0 °C, by definition
ATMOSPHERE_PA = 101325.0  # Pa, standard atmosphere at sea level, by definition
STEFAN_BOLTZMANN = 5.670374419e-8  # W/m²K⁴, CODATA 2018
COPPER_KG_M3 = 8900.0  # of copper tube, methods 6
COPPER_J_KGK = 385.0  # heat capacity of copper, methods 6
# kg/m³ and J/kg·K, as demand is usually reckoned, methods 4
WATER_KG_M3, WATER_J_KG_K = 1000.0, 4180.0
