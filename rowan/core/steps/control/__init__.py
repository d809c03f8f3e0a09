"""Differences, functions, conflicts, sensors and wiring of the controller."""
