"""Care: what a log says of its loop, held against the plan as built."""
