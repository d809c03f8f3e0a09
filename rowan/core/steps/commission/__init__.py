"""Order of the work, pressure test, cautions."""
