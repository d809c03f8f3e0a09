"""Price, fuel and what a year saves."""
