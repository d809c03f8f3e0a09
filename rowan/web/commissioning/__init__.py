"""Runs of commissioning on site: entries, photos, the record."""
