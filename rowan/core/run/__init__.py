"""Route, friction, insulation and pump."""
