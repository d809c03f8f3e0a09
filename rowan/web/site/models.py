"""Nothing of its own any more: what was ticked here went into the runs on site."""
