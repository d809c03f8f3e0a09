"""Questions asked of a plan by reckoning or running variants of it."""
