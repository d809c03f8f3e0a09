"""Sun, horizon, shading, cold main, weather files and the made year."""
