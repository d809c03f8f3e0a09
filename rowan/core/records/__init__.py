"""What was found and done: readings of devices, lines of a data sheet. Compared with a plan, never rewritten."""
