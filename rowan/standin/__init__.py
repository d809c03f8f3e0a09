"""Simulated outside devices that ship with Rowan. They know nothing of its core: what finds faults is never tested on itself."""
