"""Pages, people and storage; stands on the core."""
