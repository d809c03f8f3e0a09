"""What a plan says: every input once, with its dimension, limits, label, default and origin."""
