"""Demand and draws."""
