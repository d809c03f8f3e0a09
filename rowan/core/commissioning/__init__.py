"""Commissioning: pressure test, filling arithmetic, and the order of the work."""
