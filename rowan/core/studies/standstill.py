"""Three answers to a field that stands in sun without a pump: hold boiling off, let it boil, dump the heat before.

Each is this plan with what the answer asks for; what it comes to is reckoned, and its year run. Source: practice 10 and 18.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning, reckon
from rowan.core.simulation.year import Year
from rowan.core.steps.charge.loop import loop_of
from rowan.core.steps.charge.result import SealedCharge, sealed_charge
from rowan.core.steps.charge.stage import reckon_charge
from rowan.core.steps.charge.vessel import VesselState, vessel_state
from rowan.core.steps.control.conflicts import UNDER_CUT_OUT_K
from rowan.core.studies.choices import held_within
from rowan.core.studies.loop_kinds import MANY_HOURS
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change
from rowan.core.terms.language import Message
from rowan.core.terms.record import record

ANSWERS = ("hold", "boil", "dump")
NAMES = {"hold": "hold boiling off", "boil": "let it boil", "dump": "dump the heat"}
WANTS = {
    "hold": Message("gas pumped in after filling, a vessel for it, parts that stand the pressure"),
    "boil": Message("a vessel that takes the steam, a field that empties well"),
    "dump": Message("a radiator or pool, a valve, a pump that runs in every heat"),
}
FAILS = {
    "hold": Message("its charge cannot be read any more; hotter than it holds, it boils at high pressure"),
    "boil": Message("in a field that empties badly steam reaches far; the fluid ages with each hour"),
    "dump": Message("in a power cut it does nothing: the loop must stand that day too"),
}


@record
class Standing:
    """An answer reckoned: what boils on top when hot [°C], margin to the relief [Pa], vessel needed [L], steam reach [m]; None where
    it cannot be told, with the reason. `liquid` where nothing boils at all: held off up to what the field comes to."""

    key: str
    design: Design
    boils: float | None
    margin: float | None
    needs_l: float | None
    reach: float
    refused: Statement | None
    liquid: bool = False

    @property
    def takes_steam(self) -> bool:
        """Whether a vessel takes the steam and the relief stays shut."""
        return self.needs_l is not None and self.margin is not None and self.margin > 0

    @property
    def holds_off(self) -> bool:
        """Whether nothing boils at all and the relief stays shut."""
        return self.liquid and self.margin is not None and self.margin > 0


def answer_changes(design: Design, key: str) -> list[Change]:
    """What an answer asks of a plan."""
    let = "reserve" if design.charge.school.value == "raised" else design.charge.school.value
    if key == "hold":
        return [Change("charge.school", "raised"), Change("functions.dump", "none")]
    if key == "boil":
        return [Change("charge.school", let), Change("functions.dump", "none")]
    dump = design.functions.dump.value
    before = min(design.functions.dump_c.value, design.control.cut_out_c.value - UNDER_CUT_OUT_K)
    return [
        Change("charge.school", let),
        Change("functions.dump", "radiator" if dump == "none" else dump),
        Change("functions.dump_c", held_within(design, "functions.dump_c", before)),
    ]


def chosen_answer(design: Design) -> str:
    """The answer a plan gives now."""
    if design.functions.dumps:
        return "dump"
    return "hold" if design.charge.school.value == "raised" else "boil"


def _in_its_vessel(design: Design, charge: SealedCharge) -> Design:
    """A design with the vessel that it asks for, where its own is smaller: judged in that, not in one that it fills."""
    need, own = charge.need, design.charge
    if need is None or need.standard_l * need.vessels <= own.vessel_l.value * own.vessels.value:
        return design
    fitting = [Change("charge.vessel_l", float(need.standard_l)), Change("charge.vessels", need.vessels)]
    return changed(design, fitting)


def standing(design: Design, key: str, before: Reckoning | None = None) -> Standing:
    """A sealed plan with an answer, its charge reckoned; the field and its lines are those of the plan's own reckoning `before`,
    which no answer changes.

    Raises TypeError for a loop without a vessel: ask `design.sealed` first.
    """
    tried = changed(design, answer_changes(design, key))
    plan = reckon(design) if before is None else before
    try:
        charge = sealed_charge(reckon_charge(tried, plan.run))
    except RowanError as error:
        return Standing(key, tried, None, None, None, 0.0, say(str(error)))
    roomy = _in_its_vessel(tried, charge)
    if roomy is not tried:
        tried, charge = roomy, sealed_charge(reckon_charge(roomy, plan.run))
    hot = charge.states.get("stagnation")
    still = _still_liquid(tried, charge, plan.run.route.top) if key == "hold" else None
    # held off only as far as the top stays liquid by itself, with no steam to raise it: a field that comes hotter boils all the same
    liquid = still is not None and (still.boiling_on_top or 0.0) >= plan.collector.stagnation
    hot = still if liquid else hot
    refused = next((view.refused for view in charge.schools if view.school == tried.charge.school.value), None)
    return Standing(
        key,
        tried,
        hot.boiling_on_top if hot else None,
        hot.margin_to_relief if hot else None,
        charge.need.standard_l * charge.need.vessels if charge.need else None,
        0.0 if liquid else charge.steam.reach,
        refused,
        liquid,
    )


def _still_liquid(design: Design, charge: SealedCharge, height: float) -> VesselState | None:
    """The vessel while the loop is as hot as its liquid comes to and nothing boils; None where its pressures cannot be."""
    setting = charge.setting
    if setting is None:
        return None
    loop = loop_of(design, contents=charge.contents.total, top=height, atmosphere=charge.atmosphere)
    return vessel_state(
        vessel=charge.vessel,
        precharge=setting.precharge,
        fill=setting.fill,
        loop=loop,
        temperature=design.charge.hot_c.value,
    )


def best_answer(rows: Mapping[str, Standing]) -> str:
    """The answer to give, by what each comes to: the calmest that its vessel and its relief allow. Source: practice 18."""
    if rows["boil"].takes_steam:
        return "boil"
    return "hold" if rows["hold"].holds_off else "dump"


def advice(dry: float, rows: Sequence[tuple[Standing, Year | None]]) -> Statement:
    """Which answer to give, and why; `dry` is what the field comes to [°C]."""
    by_key = {row.key: (row, year) for row, year in rows}
    hold, (boil, year) = by_key["hold"][0], by_key["boil"]
    hours = year.total("stagnation_time") if year else 0.0
    told = {"h": Quantity(hours, "hours"), "d": Quantity(dry, "temperature")}
    if boil.takes_steam and hours <= MANY_HOURS * 3600:
        return say("Let it boil: it stands hot {h} a year, and the vessel takes the steam.", **told)
    if hold.holds_off:
        return say("Hold it off: the top stays liquid up to what the field comes to, {d}.", **told)
    if boil.takes_steam:
        return say(
            "Let it boil is possible, but it stands hot {h} a year and cooks its fluid: a smaller field, a drainback or a dump.",
            **told,
        )
    return say("Dump the heat before, and size the vessel for the day the power fails.", **told)
