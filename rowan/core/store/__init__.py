"""Store, coil and sizing rules."""
