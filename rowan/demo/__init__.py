"""The invented world the demo shows."""
