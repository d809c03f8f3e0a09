"""Collector and its data sheet."""
