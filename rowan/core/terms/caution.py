"""Safety sentences that stand where the work can hurt: each said once, whoever shows it.

A page or paper asks for a caution by its key and never words one itself. Those that depend on a plan's own figures are
made by the commissioning step. Source: practice of the trade, dangers.
"""

from __future__ import annotations

from rowan.core.terms.figure import Statement, say

CAUTIONS: dict[str, Statement] = {
    "deference": say(
        "Local code, the makers' instructions and licensed trades come first; structural and electrical results are for planning."
    ),
    "mains": say("Mains is for a licensed electrician: isolate, lock off, prove dead before a cover comes off."),
    "first_look": say(
        "What is said here is a first look. Never work on a pump or a wire because of it before the mains are off and proved dead."
    ),
    "sensor_cable": say("Sensor cable and mains never share a trunking."),
    "high_limit": say("The independent high limit with its hand reset stays in the way to the heater."),
    "vessel_charge": say(
        "A vessel's charge is measured at its own valve with its liquid side empty, never beside a loop under pressure."
    ),
    "solar_fluid": say(
        "Propylene glycol made for solar; never vehicle antifreeze. What is drained goes into a labelled can."
    ),
}


def caution(key: str) -> Statement:
    """A safety sentence by its key. Raises KeyError for one that nobody wrote."""
    return CAUTIONS[key]
