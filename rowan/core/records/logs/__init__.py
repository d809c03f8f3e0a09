"""A logger's file, whatever it looks like: read by what stands in it, each guess with its reason, each repair listed."""
