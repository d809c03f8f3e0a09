"""Rowan: the bench a solar thermal installer works at."""

__version__ = "0.1.0"

import os

# requests, runs and tests share the processors as processes; threads of the matrix library within each would spin against one another
# (a match of a log took ten times as long). Before numpy is loaded; whoever sets it otherwise is heard.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
