"""A plan through time: plant, controller and the compiled loop, years and days, kept by content."""
