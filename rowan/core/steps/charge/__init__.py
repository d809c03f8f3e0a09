"""Fluid, vessel, pressures, gauge and tub."""
