"""The options of `bin/rowan standin`, apart from what it loads to run."""

from __future__ import annotations

import argparse

from rowan.standin.faults import FAULTS


def add_options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    parser.add_argument("jobfile", help="the plan whose loop is imitated: a job file")
    parser.add_argument("--url", help="address that takes readings")
    parser.add_argument("--token", default="", help="the device's token")
    parser.add_argument("--csv", help="a logger file to write")
    parser.add_argument("--begin", default="2026-05-04T00:00:00", help="the loop's own time at the start, UTC")
    parser.add_argument("--hours", type=float, default=24.0, help="how long, in the loop's own time")
    parser.add_argument("--every", type=float, default=60.0, help="seconds between readings")
    parser.add_argument("--speed", type=float, default=600.0, help="times faster than life; 0 as fast as it can")
    parser.add_argument("--seed", type=int, default=1, help="which loop of all those that are 5 to 10 % off")
    parser.add_argument(
        "--fault",
        action="append",
        default=[],
        metavar="NAME[@HOURS]",
        help="; ".join(f"{k}: {v}" for k, v in FAULTS.items()).replace("%", "%%"),
    )
