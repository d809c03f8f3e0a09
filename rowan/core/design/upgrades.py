"""Older job files brought to the present schema, one version at a time. Every version has a kept sample in the tests."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rowan.core.design.design import SCHEMA_VERSION
from rowan.core.design.inputs.base import written
from rowan.core.design.inputs.commission import CommissionInputs
from rowan.core.design.inputs.functions import FunctionInputs
from rowan.core.design.inputs.parts import PartsInputs
from rowan.core.design.inputs.survey import HARD_MOL_M3, SOFT_MOL_M3
from rowan.core.design.routes import siphon_lines
from rowan.core.goods.catalogue import ELEMENT_FOR_L, ELEMENT_W
from rowan.core.terms.errors import JobFileError

Data = dict[str, Any]


def _with_parts_and_commission(data: Data) -> Data:
    """Version 1 knew neither how goods are sold nor the filling station: the usual values, assumed."""
    return {
        **data,
        "parts": data.get("parts", PartsInputs().model_dump(mode="json")),
        "commission": data.get("commission", CommissionInputs().model_dump(mode="json")),
    }


def _with_backup(data: Data) -> Data:
    """Version 2 said by heater and store what else heats; it knew no horizon and no other duty: none, assumed."""
    try:
        heater, item = data["duty"]["heater"]["value"], data["store"]["item"]["value"]
        electric, twin = heater == "electric", bool(item.get("twin_coil", True))
        element = ELEMENT_W * max(1, round(float(item["contents_l"]) / ELEMENT_FOR_L))
    except (KeyError, TypeError, ValueError, AttributeError, OverflowError):
        return data  # not a job file of that version: it is refused where it is read, by field
    backup: Data = {"backup": {"value": "element" if electric else "coil" if twin else "instant"}}
    if electric:
        backup["backup_w"] = {"value": element}
    return {**data, "store": {**backup, **data["store"]}}


def _with_standard(data: Data) -> Data:
    """Version 3 laid both lines in one pipe, fed one row and kept no log; its copper was all of one standard."""
    try:
        pipe = data["run"]["pipe"]["value"]
        copper = pipe["material"] == "copper" and str(pipe["name"]).startswith("Copper ")
    except (KeyError, TypeError):
        return data
    if not copper:
        return data
    held = {**data["run"]["pipe"], "value": {**pipe, "standard": "EN 1057"}}
    return {**data, "run": {**data["run"], "pipe": held}}


def _with_functions(data: Data) -> Data:
    """Version 4 knew two differences, their limits and one frost level: every further function off, assumed."""
    return {**data, "functions": data.get("functions", FunctionInputs().model_dump(mode="json"))}


def _with_ratings(data: Data) -> Data:
    """Version 5 knew no reducing valve, no end of a draining return and no ratings of pipe and store: none, and the usual."""
    return data


def _with_water(data: Data) -> Data:
    """Version 6 called tap water soft or hard, and knew neither what a tank is made of nor what fire may stand on it: the usual
    figures for both words, and the usual rest, assumed."""
    survey = data.get("survey")
    if not isinstance(survey, dict):
        return data  # refused where it is read, by field
    held = survey.get("water")
    figures = {"soft": SOFT_MOL_M3, "hard": HARD_MOL_M3}
    if not isinstance(held, dict) or held.get("value") not in figures:
        return data
    rest = {key: value for key, value in survey.items() if key != "water"}
    return {**data, "survey": {**rest, "hardness_mol_m3": {**held, "value": figures[held["value"]]}}}


def _without_guessed_price(data: Data) -> Data:
    """A price that nobody offered follows the list of parts from now on."""
    money = data.get("money")
    price = money.get("system_price") if isinstance(money, dict) else None
    if not isinstance(money, dict) or not isinstance(price, dict) or price.get("origin", "assumed") != "assumed":
        return data
    return {**data, "money": {key: value for key, value in money.items() if key != "system_price"}}


def _with_short_lines(data: Data) -> Data:
    """Version 7 drew a loop without a pump along the house's pipes and reckoned it by short ones: those are drawn now, as a guess."""
    data = _without_guessed_price(data)
    charge, run = data.get("charge"), data.get("run")
    kind = charge.get("kind") if isinstance(charge, dict) else None
    if not isinstance(kind, dict) or kind.get("value") != "thermosiphon" or not isinstance(run, dict):
        return data
    cold, hot = ([leg.model_dump(mode="json") for leg in legs] for legs in siphon_lines())
    return {**data, "run": {**run, "cold": cold, "hot": hot, "bends": {"value": 0}}}


def _with_kit(data: Data) -> Data:
    """Version 8 knew one way to fill, from a station: the usual kit and valves, assumed."""
    return data


UPGRADES: dict[int, Callable[[Data], Data]] = {
    1: _with_parts_and_commission,
    2: _with_backup,
    3: _with_standard,
    4: _with_functions,
    5: _with_ratings,
    6: _with_water,
    7: _with_short_lines,
    8: _with_kit,
}


def upgraded(data: Data) -> Data:
    """The data in the present version's form. Raises JobFileError without a version or for one not known."""
    version = data.get("schema_version")
    if isinstance(version, bool) or not isinstance(version, int):
        raise JobFileError(
            "schema_version", f"must be a whole number from 1 to {SCHEMA_VERSION}; a job file says its version"
        )
    if version > SCHEMA_VERSION:
        raise JobFileError(
            "schema_version", f"written by a newer Rowan ({written(version)}); this one reads up to {SCHEMA_VERSION}"
        )
    if version < 1:
        raise JobFileError("schema_version", f"there is no version {written(version)}; the first is 1")
    for step in range(version, SCHEMA_VERSION):
        data = {**UPGRADES[step](data), "schema_version": step + 1}
    return data
