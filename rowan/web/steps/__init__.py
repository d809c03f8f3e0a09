"""One folder for each bench, with the pages beside it: drawing and words, no sums."""
