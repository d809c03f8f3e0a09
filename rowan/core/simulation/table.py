"""The rows of the table that the compiled loop keeps for each place of its row of temperatures, and its four paces."""

from __future__ import annotations

from typing import Any

import numpy as np

# rows of the table: capacity [J/K], loss [W/K], 1 for outdoors, the coil's UA [W/K]; then what a node keeps of itself, takes
# from its surroundings and passes on at the present flow [-], and what it would be at an inlet of 0 °C; heat gained [J]
CAPACITY, LEAK, OUTDOORS, COIL_UA, KEEPS, TAKES, PASSES, BASE, GAIN = range(9)
# and for each of the four paces: what a resting node keeps of its difference to its surroundings [-], and loses [J/K]
RESTS, LOSES = 9, 13
# blocks of nodes while they are mixed: sum [°C] and number
BLOCK_SUM, BLOCK_COUNT = 17, 18
ROWS = 19
OWN, PAUSE, LONG, STORE = range(4)
ONE: Any = np.uint64(1)  # places are unsigned, and stay so
