"""Sums without a job, by the same functions as the benches: what is asked, what comes out and why."""

from __future__ import annotations

from rowan.core.studies.quick.quick_sum import Ask, QuickSum
from rowan.core.studies.quick.sums import SUMS

__all__ = ["SUMS", "Ask", "QuickSum"]
