"""Where each reference case's rule is written down by its name."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Given = dict[str, Any]
Rule = Callable[[Given], dict[str, Any]]
RULES: dict[str, Rule] = {}
LITRE, LITRE_H = 1e-3, 1e-3 / 3600


def rule(name: str) -> Callable[[Rule], Rule]:
    def register(function: Rule) -> Rule:
        RULES[name] = function
        return function

    return register
