"""The charge: contents, glycol, pressures by school, the vessel in four states."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import School
from rowan.core.design.own_store import exchanger_of
from rowan.core.fluid import COLDEST_C, FILL_C, frost_point
from rowan.core.steps.charge.drainback import drainback_figures, drainback_findings
from rowan.core.steps.charge.figures import charge_figures, direct_figures
from rowan.core.steps.charge.findings import charge_findings, direct_findings
from rowan.core.steps.charge.fluid_findings import fluid_figures, fluid_findings
from rowan.core.steps.charge.gauge import stiffness_of
from rowan.core.steps.charge.gauge_findings import filling_findings, gauge_figures
from rowan.core.steps.charge.inlet import inlet_figures, inlet_findings
from rowan.core.steps.charge.loop import loop_of
from rowan.core.steps.charge.pressures import (
    RAISED_FINAL_PA,
    SCHOOLS,
    TYPED_GAP_PA,
    Setting,
    TwoStage,
    end_pressure,
    raised_charge,
    school_setting,
    static_pressure,
    two_stage_charge,
)
from rowan.core.steps.charge.ratings import rating_findings
from rowan.core.steps.charge.result import (
    ChargeResult,
    Contents,
    DirectCharge,
    DrainbackCharge,
    LoopCharge,
    SchoolView,
    SealedCharge,
    ThermosiphonCharge,
)
from rowan.core.steps.charge.thermosiphon import thermosiphon_figures
from rowan.core.steps.charge.tub import tub_of
from rowan.core.steps.charge.vessel import (
    Loop,
    Steam,
    VesselNeed,
    VesselState,
    VesselTooSmallError,
    liquid_when_filled,
    reserve,
    steam_volume,
    thermal_expansion,
    vessel_size,
    vessel_state,
)
from rowan.core.steps.run.buoyancy import density
from rowan.core.steps.run.drainback import draining
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.store.heat import UNLIMITED_STORE_C
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Statement, refusal_statement
from rowan.core.terms.units import LITRE
from rowan.core.weather.air import atmosphere

LEAST_FOUND_SHARE = 0.9  # of the contents as drawn, that may be missing at most


def _setting(design: Design, school: School, static: float, vessel: float, air: float, end: float) -> Setting:
    """The setting of a school as the states take it; the raised school by its equivalent charge."""
    charge, gap = design.charge, design.charge.gap_pa.value
    if school == "typed":
        charged = charge.typed_charge_gauge_pa.value
        gap = TYPED_GAP_PA if charged is None else charge.typed_fill_gauge_pa.value - charged
    found = school_setting(
        school=school,
        static=static,
        height=design.survey.gauge_to_top_m.value,
        gap=gap,
        typed_fill=charge.typed_fill_gauge_pa.value,
    )
    if school == "raised":
        if end <= RAISED_FINAL_PA:
            raise ImpossibleInputError(
                "{final} is not below the highest planned pressure, {end}",
                final=(RAISED_FINAL_PA, "pressure"),
                end=(end, "pressure"),
            )
        raised = raised_charge(
            precharge=found.precharge, fill=found.fill, raised=RAISED_FINAL_PA, vessel=vessel, atmosphere_pa=air
        )
        return Setting(raised.equivalent_precharge, RAISED_FINAL_PA)
    return found


def _states(design: Design, setting: Setting, loop: Loop, vessel: float, steam: float) -> dict[str, VesselState]:
    charge = design.charge
    # under what the fluid's data reach it shrinks hardly more
    coldest = max(design.survey.design_minimum_c.value, frost_point(volume_share=loop.share), COLDEST_C)

    def state(temperature: float, pushed: float = 0.0, at_fill: bool = False) -> VesselState:
        """The vessel at a temperature [°C], with a volume pushed into it by steam [m³]."""
        return vessel_state(
            vessel=vessel,
            precharge=setting.precharge,
            fill=setting.fill,
            loop=loop,
            temperature=temperature,
            steam=pushed,
            at_fill=at_fill,
        )

    return {
        "cold": state(min(coldest, FILL_C)),
        "fill": state(FILL_C, at_fill=True),
        "hot": state(charge.working_hot_c.value),
        "stagnation": state(charge.hot_c.value, steam),
    }


def _school(design: Design, school: School, static: float, loop: Loop, vessel: float, steam: float) -> SchoolView:
    try:
        setting = _setting(design, school, static, vessel, loop.atmosphere_pa, end_pressure(relief=loop.relief))
    except ImpossibleInputError as error:
        return SchoolView(school, None, {}, refusal_statement(error))
    return SchoolView(school, setting, _states(design, setting, loop, vessel, steam))


def school_in(design: Design, run: RunResult, charge: SealedCharge, *, vessel: float) -> SchoolView:
    """The plan's school in another vessel [m³] on the same loop."""
    loop = loop_of(design, contents=charge.contents.total, top=run.route.top, atmosphere=charge.atmosphere)
    school: School = design.charge.school.value
    return _school(design, school, charge.static, loop, vessel, charge.steam.volume)


def loop_contents(design: Design, run: RunResult) -> Contents:
    """Contents of the loop by part [m³]."""
    drawn = Contents(
        design.collector.count.value * design.collector.item.value.contents_l * LITRE,
        run.route.contents,
        0.0 if design.through_store else exchanger_of(design).contents_l * LITRE,
        0.0 if design.drains else design.charge.station_l.value * LITRE,
    )
    # however little was found, some liquid is there
    return replace(drawn, found=max(design.charge.found_l.value * LITRE, -LEAST_FOUND_SHARE * drawn.total))


def reckon_charge(design: Design, run: RunResult) -> ChargeResult:
    """Contents, pressures and vessel of a design, as its kind of loop has them."""
    if design.drains:
        return _drainback(design, run)
    if not design.pumped:
        return _thermosiphon(design, run)
    return _sealed(design, run) if design.sealed else _direct(design, run)


def _every_loop(design: Design, run: RunResult) -> LoopCharge:
    """What every loop has."""
    share = design.glycol_share
    return LoopCharge(
        contents=loop_contents(design, run),
        static=static_pressure(volume_share=share, height=run.route.top),
        end=end_pressure(relief=design.charge.relief_gauge_pa.value),
        atmosphere=atmosphere(altitude=design.survey.altitude_m.value),
        frost_point=frost_point(volume_share=share),
    )


def _sealed(design: Design, run: RunResult) -> SealedCharge:
    charge, every = design.charge, _every_loop(design, run)
    contents = every.contents
    steam = steam_volume(
        collector_contents=contents.collectors,
        area=design.area_m2,
        steaming_power=charge.steaming_w_m2.value,
        pipe_loss=run.loss.indoors,
        pipe_contents=design.run.laid("hot").contents_l_m * LITRE,
        steam_lines=[run.route.hot_length, run.route.cold_length],
    )
    loop = loop_of(design, contents=contents.total, top=run.route.top, atmosphere=every.atmosphere)
    result, refusal = _in_vessel(design, run, every, loop, steam)
    result = replace(result, two_stage=_two_stage(design, result))
    figures = (
        *charge_figures(design, run, result),
        *inlet_figures(run, result),
        *gauge_figures(design, run, result),
        *fluid_figures(design, result.tub),
    )
    findings = (
        *charge_findings(design, run, result, refusal),
        *inlet_findings(run, result),
        *rating_findings(design, run, result),
        *filling_findings(design, result),
        *fluid_findings(design, result, result.tub),
    )
    return replace(result, figures=figures, findings=findings)


def _two_stage(design: Design, charge: SealedCharge) -> TwoStage | None:
    """The charge in two stages for the filling pump there is; None where it cannot fill at all or no pressures are set."""
    if charge.setting is None:
        return None
    try:
        return two_stage_charge(
            pump=design.charge.filling_gauge_pa.value,
            static=charge.static,
            precharge=charge.setting.precharge,
            fill=charge.setting.fill,
            vessel=charge.vessel,
            atmosphere_pa=charge.atmosphere,
        )
    except ImpossibleInputError:
        return None


def _in_vessel(
    design: Design, run: RunResult, every: LoopCharge, loop: Loop, steam: Steam
) -> tuple[SealedCharge, Statement | None]:
    """The charge of a sealed loop without its figures, and why the chosen school cannot be."""
    charge, air, end, static, contents = design.charge, every.atmosphere, every.end, every.static, every.contents
    vessel = charge.vessel_l.value * charge.vessels.value * LITRE
    expansion = thermal_expansion(loop_volume=loop.volume, volume_share=loop.share, hot=charge.hot_c.value)
    schools = tuple(_school(design, school, static, loop, vessel, steam.volume) for school in SCHOOLS)
    chosen = next(view for view in schools if view.school == charge.school.value)
    keep = reserve(loop_volume=contents.total)
    need: VesselNeed | None = None
    refusal = chosen.refused
    kept = 0.0
    if chosen.setting is not None:
        kept = liquid_when_filled(
            vessel=vessel, precharge=chosen.setting.precharge, fill=chosen.setting.fill, atmosphere_pa=air
        )
        try:
            need = vessel_size(
                expansion=expansion,
                steam=steam.volume,
                reserve_volume=keep,
                precharge=chosen.setting.precharge,
                fill=chosen.setting.fill,
                end=end,
                atmosphere_pa=air,
                keeps_gas=loop.keeps_gas,
            )
        except VesselTooSmallError as error:
            refusal = refusal_statement(error)
    result = SealedCharge(
        contents=contents,
        static=static,
        end=end,
        atmosphere=air,
        frost_point=every.frost_point,
        setting=chosen.setting,
        expansion=expansion,
        steam=steam,
        reserve=keep,
        vessel=vessel,
        kept=kept,
        need=need,
        states=chosen.states,
        schools=schools,
        prepare=contents.total + kept + charge.surplus_l.value * LITRE,
        tub=tub_of(design, contents.total),
        stiffness=stiffness_of(run.route),
    )
    return result, refusal


def _direct(design: Design, run: RunResult) -> DirectCharge:
    """The charge of a loop filled by the main."""
    every = _every_loop(design, run)
    result = DirectCharge(
        contents=every.contents,
        static=every.static,
        end=every.end,
        atmosphere=every.atmosphere,
        frost_point=every.frost_point,
    )
    findings = (*direct_findings(design, result), *rating_findings(design, run, result))
    return replace(result, figures=direct_figures(design, result), findings=findings)


def _thermosiphon(design: Design, run: RunResult) -> ThermosiphonCharge:
    """The charge of a tank over its field, filled by the main."""
    every, item = _every_loop(design, run), design.store.item.value
    plates = design.collector.count.value * design.collector.item.value.dry_mass_kg
    tank = item.contents_l * LITRE
    result = ThermosiphonCharge(
        contents=every.contents,
        static=every.static,
        end=every.end,
        atmosphere=every.atmosphere,
        frost_point=every.frost_point,
        mass=item.dry_mass_kg + plates + (tank + every.contents.total) * density(FILL_C),
        pushed_out=tank * (density(FILL_C) / density(UNLIMITED_STORE_C) - 1),
    )
    findings = (*direct_findings(design, result), *rating_findings(design, run, result))
    return replace(result, figures=thermosiphon_figures(design, result), findings=findings)


def _drainback(design: Design, run: RunResult) -> DrainbackCharge:
    """The charge of a loop open to the air."""
    every = _every_loop(design, run)
    found = draining(design, run.route, flow=run.flow, friction=run.warm.drop(run.flow), outdoor_loss=run.loss.outdoors)
    result = DrainbackCharge(
        contents=every.contents,
        static=every.static,
        end=every.end,
        atmosphere=every.atmosphere,
        frost_point=every.frost_point,
        draining=found,
        figures=drainback_figures(design, found, every.contents.total),
    )
    findings = (*drainback_findings(design, run, found), *rating_findings(design, run, result))
    return replace(result, findings=findings)
