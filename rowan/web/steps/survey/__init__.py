"""Survey and climate."""
