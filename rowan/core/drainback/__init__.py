"""Loops that empty when their pump stops."""
