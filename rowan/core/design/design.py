"""The whole plan as one model: the job file."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from rowan.core.design.base import Strict
from rowan.core.design.stages import Charge, Collector, Commission, Control, Duty, Money, Parts, Run, Store, Sun, Survey

SCHEMA_VERSION = 3
# every part of the file that holds inputs, in working order
STAGES = ("survey", "sun", "duty", "collector", "store", "run", "charge", "control", "parts", "commission", "money")


class Design(Strict):
    """One living design: what somebody typed, measured or assumed, and nothing reckoned."""

    schema_version: Literal[3] = 3
    title: str = Field(default="", max_length=120)
    survey: Survey
    sun: Sun = Field(default_factory=Sun)
    duty: Duty
    collector: Collector
    store: Store
    run: Run
    charge: Charge
    control: Control
    parts: Parts = Field(default_factory=Parts)
    commission: Commission = Field(default_factory=Commission)
    money: Money

    @property
    def area_m2(self) -> float:
        """Aperture of the field [m²]."""
        return self.collector.count.value * self.collector.item.value.aperture_m2

    @property
    def sealed(self) -> bool:
        """Whether the loop is a sealed glycol loop."""
        return self.charge.kind.value == "sealed"

    @property
    def drains(self) -> bool:
        """Whether the loop empties when its pump stops."""
        return self.charge.kind.value == "drainback"

    @property
    def is_pool(self) -> bool:
        """Whether a pool is its own store."""
        return self.duty.kind.value == "pool"

    @property
    def through_store(self) -> bool:
        """Whether the loop's water is the store's own, without a coil between."""
        kind = self.charge.kind.value
        return kind in ("direct", "thermosiphon") or (
            kind == "drainback" and (self.store.item.value.unpressurised or self.is_pool)
        )

    @property
    def taps(self) -> bool:
        """Whether people draw the store's heat as hot water."""
        return self.duty.kind.value in ("household", "commercial")

    @property
    def glycol_share(self) -> float:
        """Volume share of glycol in the loop; none in a direct loop [-]."""
        return self.charge.share.value if self.sealed else 0.0
