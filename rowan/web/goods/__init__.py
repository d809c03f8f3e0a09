"""A firm's own goods: items, prices, quotations."""
