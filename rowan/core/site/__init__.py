"""Climate, sun and cold main."""
