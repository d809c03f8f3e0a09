"""What to count, cut, pack and buy."""
