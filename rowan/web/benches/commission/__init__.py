"""The commission bench."""
