"""The field: rating, stagnation, flags, the estimate by months."""
