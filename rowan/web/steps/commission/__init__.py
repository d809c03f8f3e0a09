"""Order of the work and its valves."""
