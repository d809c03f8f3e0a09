"""Horizon and shade."""
