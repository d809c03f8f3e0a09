"""The roof: how collectors lie on it."""
