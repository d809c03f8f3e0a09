"""Cutting, packing and shopping."""
