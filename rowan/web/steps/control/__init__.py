"""Control, functions, sensors and wiring."""
