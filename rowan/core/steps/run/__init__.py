"""Route, friction, pump, operating point, draining, heat lost on the way."""
