"""The whole plan as one model: the job file."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from rowan.core.design.base import Strict
from rowan.core.design.stages import Charge, Collector, Control, Duty, Money, Run, Store, Survey

SCHEMA_VERSION = 1


class Design(Strict):
    """One living design: what somebody typed, measured or assumed, and nothing reckoned."""

    schema_version: Literal[1] = 1
    title: str = Field(default="", max_length=120)
    survey: Survey
    duty: Duty
    collector: Collector
    store: Store
    run: Run
    charge: Charge
    control: Control
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
    def glycol_share(self) -> float:
        """Volume share of glycol in the loop; none in a direct loop [-]."""
        return self.charge.share.value if self.sealed else 0.0
