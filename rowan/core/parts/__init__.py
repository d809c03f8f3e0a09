"""Parts: counted from legs and rows, cut from stock lengths."""
