"""The collector bench."""
