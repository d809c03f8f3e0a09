"""The store bench."""
