"""How inputs are written down: numbers, whole numbers, choices and flags with their one definition."""

from __future__ import annotations

from typing import Any

from rowan.core.design.inputs.base import Input, InputSpec


def number(
    label: str, dimension: str, low: float, high: float, scale: float = 1.0, help: str = "", **more: Any
) -> InputSpec:
    """A number in a stored unit between two limits; `scale` makes it SI. `more` as in InputSpec: decimals, step, empty, offers."""
    return InputSpec(label, "number", dimension, low, high, scale, help, **more)


def whole(label: str, low: int, high: int, help: str = "") -> InputSpec:
    """A whole number between two limits."""
    return InputSpec(label, "whole", "count", low, high, 1.0, help)


def choice(label: str, *choices: tuple[str, str], help: str = "") -> InputSpec:
    """One of several, each with its words."""
    return InputSpec(label, "choice", choices=choices, help=help)


def flag(label: str, yes: str, no: str, help: str = "") -> InputSpec:
    """Yes or no, each with its words."""
    return InputSpec(label, "flag", choices=((True, yes), (False, no)), help=help)


Number = Input[float]
Whole = Input[int]
Text = Input[str]
Flag = Input[bool]
