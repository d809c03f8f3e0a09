"""The Roof bench: the plane to scale, what holds the field on it, what is chalked."""
