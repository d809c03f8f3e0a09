"""The run bench."""
