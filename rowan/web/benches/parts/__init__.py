"""The parts bench."""
