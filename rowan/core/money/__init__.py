"""Saved energy, cost and carbon."""
