"""How collectors lie on a plane."""
