"""The first ticks of work on site; only their migrations are left."""
