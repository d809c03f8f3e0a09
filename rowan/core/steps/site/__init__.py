"""Place, sun and shade of the plane."""
