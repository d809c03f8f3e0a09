"""Whoever signs in to the demo. Printed by bin/demo; here alone, so that a client without Django knows it too."""

EMAIL, PASSWORD, NAME = "mara@hollinwray.example", "rope-walk-40", "Mara Hollin"
