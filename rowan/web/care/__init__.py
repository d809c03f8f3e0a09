"""Devices on a built loop: their readings, and what they show now; what was left set at the controller."""
