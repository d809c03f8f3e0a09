"""The control bench."""
