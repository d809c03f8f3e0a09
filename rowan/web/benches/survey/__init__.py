"""The survey bench."""
