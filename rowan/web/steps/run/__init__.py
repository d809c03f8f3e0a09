"""Route, pump, rows and sketch."""
