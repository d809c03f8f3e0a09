"""Work on site: what was ticked, by whom and when."""
