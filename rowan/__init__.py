"""Rowan: the bench a solar thermal installer works at."""

__version__ = "0.1.0"
