"""Efficiency, stagnation and rating forms."""
