"""The one definition of every input, a model for each step of the work."""
