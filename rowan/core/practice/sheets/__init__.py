"""Every task that is answered on paper, by its key: its name, what it trains, and how it is made from a plan and a seed."""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.practice.sheet import Sheet
from rowan.core.practice.sheets import assembly, control, fluid, house, pressure, pump, roof
from rowan.core.practice.sheets.ground import Ground
from rowan.core.terms.record import record

PARTS = ("survey and choice", "roof and run", "pressure and fluid", "controller and wiring", "looking")


@record
class Task:
    """A task: its key, its name, the part of the work it belongs to, how it is made."""

    key: str
    name: str
    part: str
    made: Callable[[Ground], Sheet]


TASKS: tuple[Task, ...] = (
    Task("datasheet", "Read a data sheet with mixed-up lines", PARTS[0], house.data_sheet),
    Task("shade", "Say yes or no to a house by its shade", PARTS[0], roof.shade),
    Task("square", "Square two rails", PARTS[1], roof.square),
    Task("traps", "Lay a run without traps for a drainback", PARTS[1], roof.traps),
    Task("rows", "Balance two rows", PARTS[1], pump.rows),
    Task("chart", "Read a pump chart and choose a speed", PARTS[1], pump.chart),
    Task("assembly", "Hang the station and the lines", PARTS[1], assembly.assembly),
    Task("vessel", "Set a vessel on the bench and fill to pressure", PARTS[2], pressure.vessel),
    Task("test", "Flush, test and release a loop", PARTS[2], pressure.loop_test),
    Task("tub", "Mix a tub with unknown water in the coil", PARTS[2], fluid.tub),
    Task("weeks", "Leak or air, by weeks of a gauge", PARTS[2], pressure.weeks),
    Task("differences", "Choose differences for three loops", PARTS[3], control.differences),
    Task("ohms", "Which sensor, which wires swapped", PARTS[3], control.ohms),
    Task("hunting", "Find out why the pump hunts", PARTS[3], pump.hunting),
    Task("wiring", "Follow live with one dead device", PARTS[3], control.wiring),
    Task("card", "Write the settings card after a reset", PARTS[3], control.card),
    Task("dangers", "Spot eight dangers", PARTS[4], house.dangers),
    Task("mistakes", "What comes of a mistake", PARTS[4], house.mistakes),
)
BY_KEY = {task.key: task for task in TASKS}
