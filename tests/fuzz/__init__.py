"""A search for text that a parser neither takes nor refuses in words: `bin/test fuzz [seconds a parser]`. Finds become cases."""
