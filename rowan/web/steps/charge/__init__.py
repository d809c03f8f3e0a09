"""Charge and fluid."""
