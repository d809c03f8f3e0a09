"""Store, its day and its year."""
