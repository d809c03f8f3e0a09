"""What the heat is for, and how much of it."""
