"""The store, its coil, its modes."""
