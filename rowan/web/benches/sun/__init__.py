"""The sun bench."""
