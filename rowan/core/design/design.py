"""The whole plan as one model: the job file."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from rowan.core.design.inputs.charge import ChargeInputs
from rowan.core.design.inputs.collector import CollectorInputs
from rowan.core.design.inputs.commission import CommissionInputs
from rowan.core.design.inputs.control import ControlInputs
from rowan.core.design.inputs.duty import DutyInputs
from rowan.core.design.inputs.functions import FunctionInputs
from rowan.core.design.inputs.money import MoneyInputs
from rowan.core.design.inputs.parts import PartsInputs
from rowan.core.design.inputs.roof import RoofInputs, RoofPlane
from rowan.core.design.inputs.rows import row_counts
from rowan.core.design.inputs.run import RunInputs
from rowan.core.design.inputs.store import StoreInputs
from rowan.core.design.inputs.sun import SunInputs
from rowan.core.design.inputs.survey import SurveyInputs
from rowan.core.goods.fixings import FIXINGS, Fixing, usual_fixing
from rowan.core.terms.strict import Strict

SCHEMA_VERSION = 9
BATTERY_V = 12.0  # V, the usual battery
# every part of the file that holds inputs, in working order
STAGES = (
    "survey", "sun", "duty", "collector", "store", "roof", "run", "charge", "control", "functions", "parts", "commission", "money",
)  # fmt: skip


def _rows(text: str, count: int) -> tuple[int, ...]:
    found = row_counts(text, count)
    return found if sum(found) == count else row_counts(str(len(found)), count)


class Design(Strict):
    """One living design: what somebody typed, measured or assumed, and nothing reckoned."""

    schema_version: Literal[9] = 9
    title: str = Field(default="", max_length=120)
    survey: SurveyInputs
    sun: SunInputs = Field(default_factory=SunInputs)
    duty: DutyInputs
    collector: CollectorInputs
    store: StoreInputs
    roof: RoofInputs = Field(default_factory=RoofInputs)
    run: RunInputs
    charge: ChargeInputs
    control: ControlInputs
    functions: FunctionInputs = Field(default_factory=FunctionInputs)
    parts: PartsInputs = Field(default_factory=PartsInputs)
    commission: CommissionInputs = Field(default_factory=CommissionInputs)
    money: MoneyInputs

    def __reduce__(self) -> tuple[object, ...]:
        """Carried to another process as the document it is."""
        return type(self).model_validate_json, (self.model_dump_json(),)

    @property
    def area_m2(self) -> float:
        """Aperture of the field [m²]."""
        return self.collector.count.value * self.collector.item.value.aperture_m2

    @property
    def plane_beside(self) -> RoofPlane | None:
        """The other plane of the roof that some of the collectors lie on; None where all lie on the first.

        What stands on the ground or a wall is one field, one collector is never two, and a loop without a pump drives one string.
        """
        if not self.on_roof or not self.pumped or self.collector.count.value < 2:
            return None
        return self.plane_typed

    @property
    def plane_typed(self) -> RoofPlane | None:
        """The other plane that collectors are typed on, whether or not any can lie there."""
        return next((plane for plane in self.roof.planes if plane.count > 0), None)

    def count_on(self, plane: RoofPlane) -> int:
        """Collectors on another plane: at least one of the field stays on the first."""
        return min(plane.count, self.collector.count.value - 1)

    @property
    def count_first(self) -> int:
        """Collectors on the first plane."""
        plane = self.plane_beside
        return self.collector.count.value - (0 if plane is None else self.count_on(plane))

    @property
    def rows_first(self) -> tuple[int, ...]:
        """Collectors in each row of the first plane; rows that do not add up are reckoned as even ones."""
        return _rows(self.collector.rows.value, self.count_first)

    @property
    def rows_beside(self) -> tuple[int, ...]:
        """Collectors in each row of the other plane; none without one."""
        plane = self.plane_beside
        return () if plane is None else _rows(plane.rows, self.count_on(plane))

    @property
    def row_counts(self) -> tuple[int, ...]:
        """Collectors in each row of the whole field, those of the first plane first."""
        return self.rows_first + self.rows_beside

    @property
    def tilt_deg(self) -> float:
        """Tilt of the collectors [°]: the roof's where they lie flush, else their own."""
        roof, own = self.survey.roof_tilt_deg.value, self.roof.tilt_deg.value
        return roof if self.lies_on_covering or own is None else own

    @property
    def fixing(self) -> Fixing:
        """The fixing chosen, or the covering's usual one."""
        chosen = self.roof.fixing.value
        if chosen != "usual":
            return FIXINGS[chosen]
        mats = self.collector.item.value.kind == "unglazed"
        return FIXINGS[usual_fixing(self.survey.covering.value, way=self.roof.way.value, mats=mats)]

    @property
    def lies_on_covering(self) -> bool:
        """Whether its collectors have the roof's own pitch: flush with it, or built into it."""
        return self.roof.way.value in ("flush", "integrated")

    @property
    def stands_on_deg(self) -> float:
        """Pitch of what its rows stand on [°]: the roof's, or level ground's."""
        return self.survey.roof_tilt_deg.value if self.on_roof else 0.0

    @property
    def stands_behind(self) -> bool:
        """Whether its rows stand behind, not above, each other: on racks, in sawtooth rows or on the ground."""
        return self.roof.way.value in ("ground", "rack", "sawtooth")

    @property
    def on_roof(self) -> bool:
        """Whether the field is carried by the roof: on it, in it or standing over it."""
        return self.roof.way.value in ("flush", "integrated", "rack", "sawtooth")

    @property
    def flow_paths(self) -> int:
        """How many ways the field's flow divides into: every collector, or every row of those in series."""
        return len(self.row_counts) if self.collector.within.value == "series" else self.collector.count.value

    @property
    def sealed(self) -> bool:
        """Whether the loop is a sealed glycol loop."""
        return self.charge.kind.value == "sealed"

    @property
    def drains(self) -> bool:
        """Whether the loop empties when its pump stops."""
        return self.charge.kind.value == "drainback"

    @property
    def pumped(self) -> bool:
        """Whether a pump and its controller drive the loop; a thermosiphon drives itself."""
        return self.charge.kind.value != "thermosiphon"

    @property
    def is_pool(self) -> bool:
        """Whether a pool is its own store."""
        return self.duty.kind.value == "pool"

    @property
    def own_store(self) -> bool:
        """Whether what is warmed is its own store: there is no tank."""
        return self.duty.kind.value in ("pool", "slab", "bath")

    @property
    def through_store(self) -> bool:
        """Whether the loop's water is the store's own, without a coil between."""
        kind = self.charge.kind.value
        return kind in ("direct", "thermosiphon") or (
            kind == "drainback" and ((self.store.item.value.unpressurised and not self.own_store) or self.is_pool)
        )

    @property
    def taps_coil_m2(self) -> float:
        """Area of the coil in which taps or zones are warmed [m²]; 0 where they draw the store's own water.

        An open store's one coil is theirs where the loop's water is the store's; else it is the loop's.
        """
        item = self.store.item.value
        if not item.unpressurised or self.own_store:
            return 0.0
        if item.tap_coil_m2 is not None:
            return item.tap_coil_m2
        return item.coil_area_m2 if self.through_store else 0.0

    @property
    def supply_volts(self) -> float:
        """What a pump on a battery runs at [V]: its own, or what batteries have."""
        pump = self.run.pump.value
        return pump.volts if pump.on_panel else BATTERY_V

    @property
    def heats_house(self) -> bool:
        """Whether the store heats the house: as its only duty, or beside the taps."""
        return self.duty.kind.value == "heating" or (self.taps and self.duty.also_heats.value)

    @property
    def main_gauge_pa(self) -> float:
        """What the cold main presses into the loop with: its own pressure, or what a reducing valve lets through [Pa gauge]."""
        reduced = self.charge.reducer_gauge_pa.value
        main = self.charge.mains_gauge_pa.value
        return main if reduced is None else min(main, reduced)

    @property
    def two_heaters(self) -> bool:
        """Whether an element takes over from the boiler in summer."""
        store = self.store
        return self.taps and store.backup.value == "coil" and store.summer_element.value

    @property
    def taps(self) -> bool:
        """Whether people draw the store's heat as hot water."""
        return self.duty.kind.value in ("household", "commercial")

    @property
    def glycol_share(self) -> float:
        """Volume share of glycol in the loop; none where the loop's water is the store's [-]."""
        if self.sealed:
            return self.charge.share.value
        return self.charge.reservoir_share.value if self.drains and not self.through_store else 0.0
