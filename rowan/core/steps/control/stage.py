"""The controller: differences with their loss floor, the band where pumps hunt, limits."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.goods.prices import heat_price
from rowan.core.steps.charge.result import ChargeResult
from rowan.core.steps.collector.stage import CollectorResult
from rowan.core.steps.control.conflicts import conflicts
from rowan.core.steps.control.differences import (
    LINE_C,
    START_ABOVE_STOP_K,
    CyclingBand,
    LoopAtStart,
    cycling_band,
    loss_floor,
    proposed_start,
    proposed_stop,
)
from rowan.core.steps.control.uncontrolled import uncontrolled_figures
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.site.stage import SiteResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.record import record
from rowan.core.terms.source import methods

START_WINDOW_K, STOP_MOST_K = (5.0, 12.0), 6.0  # K, usual settings, methods 7
LEAST_BAND_K = 2.0  # K between start and stop
LEAST_RISE_K = 0.1  # keeps the share finite where the field gains nothing
STORE_BOTTOM_C = 35.0  # °C at the foot on a working day
LEAST_RUN_S = 300.0  # s that calm a hunting pump
STORE_LIMIT_WINDOW_C = (60.0, 85.0)  # °C, methods 7


@record
class Differential:
    """Loss floor [K], line loss [W], largest stop without cycling [K], the band of irradiance [W/m²] and whether the pair cycles in it."""

    floor: float
    line_loss: float
    largest_stop: float
    loop: LoopAtStart
    band: CyclingBand
    cycles: bool
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


@record
class Uncontrolled:
    """A loop that the sun alone starts and stops: nothing limits its store but what stands on the tank itself."""

    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


ControlResult = Differential | Uncontrolled


def differential(control: ControlResult) -> Differential:
    """The differences of a loop with a pump. Raises TypeError for one without: whoever asks has asked `design.pumped` before."""
    if isinstance(control, Differential):
        return control
    raise TypeError("no controller starts this loop")


def line_loss(design: Design, site: SiteResult, run: RunResult) -> float:
    """Loss of both lines at 40 °C [W]: indoor parts to the room, outdoor parts to the year's mean air."""
    return run.loss.conductance_indoors * (LINE_C - design.survey.room_c.value) + run.loss.conductance_outdoors * (
        LINE_C - site.annual_air
    )


def price_ratio(design: Design) -> float:
    """Electricity price over the price of useful heat [-]."""
    money = design.money
    return money.electricity_price.value / heat_price(
        fuel_price=money.fuel_price.value, efficiency=money.heater_efficiency.value
    )


def floor_of(design: Design, site: SiteResult, run: RunResult) -> float:
    """Least stop difference of a design [K]."""
    return loss_floor(
        sensor_error=design.control.sensor_error_k.value,
        pipe_loss=line_loss(design, site, run),
        pump_power=run.pump_power,
        price_ratio=price_ratio(design),
        flow=run.mass_flow,
        heat_capacity=run.heat_capacity,
    )


def reckon_control(
    design: Design, site: SiteResult, run: RunResult, collector: CollectorResult, charge: ChargeResult
) -> ControlResult:
    """Differences and limits of a design, or what holds a loop that has none."""
    if not design.pumped:
        return Uncontrolled(uncontrolled_figures(design), tuple(conflicts(design, charge, run)))
    control = design.control
    loss, floor = line_loss(design, site, run), floor_of(design, site, run)
    loop = LoopAtStart(
        design.area_m2,
        collector.inlet.fr_tau_alpha,
        collector.inlet.fr_ul,
        run.capacity_rate,
        STORE_BOTTOM_C,
        site.annual_air,
    )
    band = cycling_band(start=control.start_k.value, stop=control.stop_k.value, loop=loop)
    largest = control.start_k.value * design.area_m2 * collector.inlet.fr_ul / run.capacity_rate
    symbols = _symbols(design, site, run, collector, loss)
    figures = (*_pair_figures(design, symbols, floor), *_sun_figures(run, symbols), *_limit_figures(design, symbols))
    findings = (
        *_pair(design, floor),
        *_window(design),
        *_limits(design, collector),
        *conflicts(design, charge, run),
    )
    start, stop = control.start_k.value, control.stop_k.value
    cycles = largest < stop < start
    return Differential(floor, loss, largest, loop, band, cycles, figures, findings)


def _symbols(
    design: Design, site: SiteResult, run: RunResult, collector: CollectorResult, loss: float
) -> dict[str, Symbol]:
    """The letters the controller's formulas share."""
    control, inlet = design.control, collector.inlet
    return {
        "start": Symbol(control.start_k.value, "ΔT", "start", "K"),
        "stop": Symbol(control.stop_k.value, "ΔT", "stop", "K"),
        "rate": Symbol(run.capacity_rate, "ṁ·c", "", "W/K"),
        "U": Symbol(inlet.fr_ul, "U", "", "W/m²K"),
        "eta": Symbol(inlet.fr_tau_alpha, "η", ""),
        "T_store": Symbol(STORE_BOTTOM_C, "T", "store", "°C"),
        "T_air": Symbol(site.annual_air, "T", "air", "°C"),
        "A": Symbol(design.area_m2, "A", "", "m²"),
        "error": Symbol(control.sensor_error_k.value, "e", "", "K"),
        "loss": Symbol(loss, "Q", "lines", "W"),
        "pump": Symbol(run.pump_power, "P", "pump", "W"),
        "price": Symbol(price_ratio(design), "r", "price"),
        "limit": Symbol(design.store.maximum_c.value, "T", "limit", "°C"),
        "rise": Symbol(max(run.temperatures.rise, LEAST_RISE_K), "ΔT", "field", "K"),
    }


def _pair_figures(design: Design, symbols: dict[str, Symbol], floor: float) -> tuple[Figure, ...]:
    return (
        closed_form(
            key="start",
            name="Start difference",
            basis=say("field over store"),
            dimension_name="difference",
            part="sensor_field",
            sentence=say(
                "The pump starts when the field is this much warmer than the store's foot: enough to be worth the trip."
            ),
            expression=Expression("start", symbols),
            letter="ΔT",
            letter_index="start",
            window=Window(*START_WINDOW_K, "the trade's usual window"),
            source=methods(7),
        ),
        closed_form(
            key="stop",
            name="Stop difference",
            basis=say("field over store"),
            dimension_name="difference",
            part="sensor_low",
            sentence=say("Below this the loop brings less than it costs in heat on the way and in pump power."),
            expression=Expression("stop", symbols),
            letter="ΔT",
            letter_index="stop",
            window=Window(
                min(floor, STOP_MOST_K), max(floor, STOP_MOST_K), "methods 7 (loss floor), practice: controller"
            ),
            source=methods(7),
        ),
        *_run_figures(design, symbols),
    )


def _run_figures(design: Design, symbols: dict[str, Symbol]) -> tuple[Figure, ...]:
    """What the run asks of both differences."""
    return (
        closed_form(
            key="start_for_run",
            name="Start for these lines",
            basis=say(
                "its lines take {k} of it", k=Quantity(symbols["loss"].value / symbols["rate"].value, "difference")
            ),
            dimension_name="difference",
            part="hot_line",
            sentence=say(
                "The longer and barer the run, the more is lost on the way: stop at the whole degree over the least, start {k} over that.",
                k=Quantity(START_ABOVE_STOP_K, "difference"),
            ),
            expression=Expression("ceil(error + loss / rate + pump * price / rate - 1e-9) + 5", symbols),
            letter="ΔT",
            letter_index="run",
            result_unit="K",
            source=methods(7),
        ),
        closed_form(
            key="floor",
            name="Least stop difference",
            basis=say("below it heat is lost"),
            dimension_name="difference",
            part="hot_line",
            sentence=say(
                "What the sensors may be wrong, what both lines lose at {t}, and what the pump's power is worth as heat, in degrees of this flow.",
                t=Quantity(LINE_C, "temperature"),
            ),
            expression=Expression("error + loss / rate + pump * price / rate", symbols),
            letter="ΔT",
            letter_index="least",
            result_unit="K",
            source=methods(7),
            window=Window(None, design.control.stop_k.value, "the stop difference chosen"),
        ),
    )


def _sun_figures(run: RunResult, symbols: dict[str, Symbol]) -> tuple[Figure, ...]:
    return (
        closed_form(
            key="start_sun",
            name="Sun that starts it",
            basis=say("store foot at {t}", t=Quantity(STORE_BOTTOM_C, "temperature")),
            dimension_name="irradiance",
            part="collector",
            sentence=say("The light that warms a standing field by the start difference over the store."),
            expression=Expression("U * (T_store + start - T_air) / eta", symbols),
            letter="G",
            letter_index="start",
            result_unit="W/m²",
            source=methods(7),
        ),
        closed_form(
            key="hold_sun",
            name="Sun that holds it",
            basis=say("at {q}", q=Quantity(run.flow, "flow")),
            dimension_name="irradiance",
            part="pump",
            sentence=say(
                "Once the pump runs the field cools; this much light keeps it above the stop difference. Between start and hold the pump hunts."
            ),
            expression=Expression("(U * (T_store - T_air) + stop * rate / A) / eta", symbols),
            letter="G",
            letter_index="hold",
            result_unit="W/m²",
            source=methods(7),
        ),
        closed_form(
            key="steady_stop",
            name="Stop that never hunts",
            basis=say("at this flow and start"),
            dimension_name="difference",
            part="pump",
            sentence=say(
                "Up to this stop difference the sun that starts the pump also holds it. Ordinary loops break this near the threshold."
            ),
            expression=Expression("start * A * U / rate", symbols),
            letter="ΔT",
            letter_index="steady",
            result_unit="K",
            source=methods(7),
        ),
    )


def _limit_figures(design: Design, symbols: dict[str, Symbol]) -> tuple[Figure, ...]:
    return (
        closed_form(
            key="store_limit",
            name="Store limit",
            basis=say("tempering valve {case}", case="fitted" if design.store.tempering_valve.value else "missing"),
            dimension_name="temperature",
            part="sensor_high",
            sentence=say("The pump rests when the store's top has reached this."),
            expression=Expression("limit", symbols),
            letter="T",
            letter_index="limit",
            window=Window(*STORE_LIMIT_WINDOW_C, "the trade's usual window"),
            source=methods(7),
        ),
        closed_form(
            key="pump_share",
            name="Pump for heat",
            basis=say("at {g}", g=Quantity(800, "irradiance")),
            dimension_name="share_fine",
            part="pump",
            sentence=say("Electricity the pump takes for the heat it moves, in good sun."),
            expression=Expression("pump / (rate * rise)", symbols),
            letter="s",
            source=methods(7),
        ),
    )


def _pair(design: Design, floor: float) -> list[Finding]:
    start, stop = design.control.start_k.value, design.control.stop_k.value
    if stop >= start:
        return [
            Finding(
                key="stop_over_start",
                level="stop",
                stage="control",
                part="sensor_field",
                title=say("the pump would start and stop at once"),
                reason=say(
                    "Stop at {b} is not below start at {a}. It chatters until the relay gives up.",
                    a=Quantity(start, "difference"),
                    b=Quantity(stop, "difference"),
                ),
                quantity=Quantity(stop, "difference"),
                limit=Quantity(start, "difference"),
                cures=(
                    Cure(
                        say("Start at {s}", s=Quantity(stop + START_ABOVE_STOP_K, "difference")),
                        (Change("control.start_k", stop + START_ABOVE_STOP_K),),
                        "start",
                    ),
                ),
                source=methods(7),
            )
        ]
    return [*_narrow(start, stop), *_below_floor(start, stop, floor), *_short_start(start, stop, floor)]


def _narrow(start: float, stop: float) -> list[Finding]:
    found = []
    if start - stop < LEAST_BAND_K:
        found.append(
            Finding(
                key="narrow_band",
                level="fix",
                stage="control",
                part="sensor_field",
                title=say("start and stop lie too close together"),
                reason=say(
                    "{d} apart; at least {l} are needed, or every cloud switches the pump.",
                    d=Quantity(start - stop, "difference"),
                    l=Quantity(LEAST_BAND_K, "difference"),
                ),
                quantity=Quantity(start - stop, "difference"),
                limit=Quantity(LEAST_BAND_K, "difference"),
                cures=(
                    Cure(
                        say("Start at {s}", s=Quantity(stop + START_ABOVE_STOP_K, "difference")),
                        (Change("control.start_k", stop + START_ABOVE_STOP_K),),
                        "start",
                    ),
                ),
                source=methods(7),
            )
        )
    return found


def _short_start(start: float, stop: float, floor: float) -> list[Finding]:
    """A start difference that was set for a shorter run. A narrow band and a stop under the floor say so themselves."""
    wanted = proposed_start(floor=floor)
    if start >= wanted or start - stop < LEAST_BAND_K or stop < floor - 1e-9:
        return []
    return [
        Finding(
            key="start_for_run",
            level="mind",
            stage="control",
            part="hot_line",
            title=say("the start difference is small for so long a run"),
            reason=say(
                "It starts at {s}; with what the lines lose {w} suits it. A degree or two heats nothing: the water is colder than the store when it arrives.",
                s=Quantity(start, "difference"),
                w=Quantity(wanted, "difference"),
            ),
            quantity=Quantity(start, "difference"),
            limit=Quantity(wanted, "difference"),
            cures=(
                Cure(
                    say("Start at {w}", w=Quantity(wanted, "difference")), (Change("control.start_k", wanted),), "start"
                ),
            ),
            source=methods(7),
        )
    ]


def _below_floor(start: float, stop: float, floor: float) -> list[Finding]:
    found = []
    if stop < floor - 1e-9:
        wanted = proposed_stop(floor=floor)
        changes = (
            Change("control.stop_k", wanted),
            *(
                ()
                if start >= proposed_start(floor=floor)
                else (Change("control.start_k", proposed_start(floor=floor)),)
            ),
        )
        found.append(
            Finding(
                key="stop_below_floor",
                level="fix",
                stage="control",
                part="sensor_low",
                title=say("the pump runs on when it only loses"),
                reason=say(
                    "It stops at {s}; below {f} the lines, the pump and the sensors' error take more than the sun brings.",
                    s=Quantity(stop, "difference"),
                    f=Quantity(floor, "difference"),
                ),
                quantity=Quantity(stop, "difference"),
                limit=Quantity(floor, "difference"),
                cures=(Cure(say("Stop at {w}", w=Quantity(wanted, "difference")), changes, "stop"),),
                source=methods(7),
            )
        )
    return found


def _window(design: Design) -> list[Finding]:
    start, stop = design.control.start_k.value, design.control.stop_k.value
    low, high = START_WINDOW_K
    found = []
    if not low <= start <= high and stop < start:
        near = max(low if start < low else high, stop + LEAST_BAND_K)
        found.append(
            Finding(
                key="start_unusual",
                level="mind",
                stage="control",
                part="sensor_field",
                title=say("the start difference is unusual"),
                reason=say(
                    "{s}; {a} to {b} is usual. Long lines ask for more, a store below the field for less.",
                    s=Quantity(start, "difference"),
                    a=Quantity(low, "difference"),
                    b=Quantity(high, "difference"),
                ),
                quantity=Quantity(start, "difference"),
                limit=Quantity(low if start < low else high, "difference"),
                cures=(
                    Cure(
                        say("Start at {s}", s=Quantity(near, "difference")), (Change("control.start_k", near),), "start"
                    ),
                )
                if near != start and near <= high
                else (),
                source="the trade's usual window",
            )
        )
    if stop > STOP_MOST_K and stop < start:
        found.append(
            Finding(
                key="stop_high",
                level="mind",
                stage="control",
                part="sensor_low",
                title=say("the stop difference leaves heat on the roof"),
                reason=say(
                    "{s}; up to {m} is usual. Only a battery pump has a reason for more.",
                    s=Quantity(stop, "difference"),
                    m=Quantity(STOP_MOST_K, "difference"),
                ),
                quantity=Quantity(stop, "difference"),
                limit=Quantity(STOP_MOST_K, "difference"),
                cures=(
                    Cure(
                        say("Stop at {s}", s=Quantity(STOP_MOST_K, "difference")),
                        (Change("control.stop_k", STOP_MOST_K),),
                        "stop",
                    ),
                ),
                source="the trade's usual window",
            )
        )
    return found


def _limits(design: Design, collector: CollectorResult) -> list[Finding]:
    found = []
    maximum, valve = design.store.maximum_c.value, design.store.tempering_valve.value
    if not STORE_LIMIT_WINDOW_C[0] <= maximum <= STORE_LIMIT_WINDOW_C[1]:
        wanted = 80.0 if valve else 60.0
        found.append(
            Finding(
                key="store_limit",
                level="mind",
                stage="control",
                part="sensor_high",
                title=say("the store limit is unusual"),
                reason=say(
                    "{m}; {a} to {b} is usual with a tempering valve. Lower it wastes fine days, higher it scales the coil.",
                    m=Quantity(maximum, "temperature"),
                    a=Quantity(STORE_LIMIT_WINDOW_C[0], "temperature"),
                    b=Quantity(STORE_LIMIT_WINDOW_C[1], "temperature"),
                ),
                quantity=Quantity(maximum, "temperature"),
                cures=(
                    Cure(
                        say("Limit it to {w}", w=Quantity(wanted, "temperature")),
                        (Change("store.maximum_c", wanted),),
                        "store_limit",
                    ),
                ),
                source="the trade's usual window",
            )
        )
    lowest = min(design.run.joint_rating_c.value, design.run.pipe.value.rating_c)
    if design.control.cut_out_c.value > lowest:
        found.append(
            Finding(
                key="cut_out_high",
                level="fix",
                stage="control",
                part="sensor_field",
                title=say("the cut-out lies above what a part stands"),
                reason=say(
                    "The pump may send {c} through parts rated {r}.",
                    c=Quantity(design.control.cut_out_c.value, "temperature"),
                    r=Quantity(lowest, "temperature"),
                ),
                quantity=Quantity(design.control.cut_out_c.value, "temperature"),
                limit=Quantity(lowest, "temperature"),
                cures=(
                    Cure(
                        say("Cut out at {r}", r=Quantity(lowest, "temperature")),
                        (Change("control.cut_out_c", max(80.0, lowest)),),
                    ),
                ),
                source=methods(7),
            )
        )
    return found
