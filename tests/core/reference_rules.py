"""Every rule of the reference cases: given (units in its keys) to results (units in their keys)."""

from __future__ import annotations

from tests.core import reference_control, reference_field, reference_loop
from tests.core.reference_registry import RULES

__all__ = ["RULES", "reference_control", "reference_field", "reference_loop"]
