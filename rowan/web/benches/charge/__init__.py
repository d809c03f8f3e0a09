"""The charge bench."""
