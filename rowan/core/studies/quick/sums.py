"""The quick sums: vessel and fill, mix, ohms, pump speed, friction, boiling, square, litres for a gauge.

Each uses the function that the bench of its step uses. Sources stand at those functions and in each figure.
"""

from __future__ import annotations

from rowan.core.fluid import boiling_point, exchange_litres, frost_point, properties
from rowan.core.goods.catalogue import PIPES, PUMPS
from rowan.core.goods.ratings import BAR
from rowan.core.steps.charge.figures import static_figure
from rowan.core.steps.charge.pressures import school_setting, static_pressure
from rowan.core.steps.charge.vessel import WATER_K_PA, litres_between, reserve, thermal_expansion
from rowan.core.steps.control.sensors import broken, candidates
from rowan.core.steps.roof.square import MARKED_FALL, SQUARE_RAD, square_check
from rowan.core.steps.run.figures import VELOCITY_WINDOW
from rowan.core.steps.run.friction import pipe_drop
from rowan.core.steps.run.loop import pump_curves
from rowan.core.studies.quick.quick_sum import Ask, QuickSum, Values
from rowan.core.terms.constants import ATMOSPHERE_PA
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, Window, by_method, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE

WARM_C = 45.0  # °C of a loop at work; defaults

HEIGHT = Ask("height", "Gauge to the top of the loop", "length", 9.5, 0.5, 60)
SHARE = Ask("share", "Glycol in the mix", "share", 0.4, 0.0, 0.6, path="charge.share")


def _mix_words(share: float) -> Statement:
    return say("{s} glycol", s=Quantity(share, "share")) if share else say("water")


def _charge(values: Values) -> tuple[Figure, ...]:
    static = static_pressure(volume_share=values["share"], height=values["height"])
    setting = school_setting(school="reserve", static=static, height=values["height"])
    volume = values["volume"]
    hot = values["hot"]
    return (
        by_method(
            key="precharge",
            name="Set the vessel to",
            basis=say("gas side, liquid side empty"),
            value=setting.precharge,
            dimension_name="pressure",
            part="vessel",
            sentence=say(
                "Below the cold fill, so that the vessel begins with a reserve of liquid: it replaces the air that still comes out."
            ),
            method=say("Static and half a bar, the reserve school."),
            source=methods(10),
        ),
        by_method(
            key="fill",
            name="Fill cold to",
            basis=say("at the gauge, pump off"),
            value=setting.fill,
            dimension_name="pressure",
            part="gauge",
            sentence=say("Static, half a bar on top of it, and the reserve's gap."),
            method=say("The reserve school; other schools stand side by side on the Charge bench."),
            source=methods(10),
        ),
        static_figure(volume_share=values["share"], height=values["height"]),
        by_method(
            key="swells",
            name="It swells by",
            basis=say("{v} from cold to {t}", v=Quantity(volume, "volume"), t=Quantity(hot, "temperature")),
            value=thermal_expansion(loop_volume=volume, volume_share=values["share"], hot=hot),
            dimension_name="volume",
            part="vessel",
            sentence=say("What warming adds. Steam on a day without draw comes on top; a whole plan reckons it."),
            method=say("Densities of the mix, cold over hot."),
            source=methods(10),
        ),
        by_method(
            key="reserve",
            name="Reserve to keep",
            basis=say("liquid in the vessel when cold"),
            value=reserve(loop_volume=volume),
            dimension_name="volume",
            part="vessel",
            sentence=say("What the vessel holds before anything is warm."),
            method=say("A two-hundredth of the loop, and a least of its own."),
            source=methods(10),
        ),
    )


def _mix(values: Values) -> tuple[Figure, ...]:
    volume, read, wanted = values["volume"], values["read"], values["wanted"]
    drained = exchange_litres(loop_volume=volume, share=read, wanted=wanted, concentrate=values["concentrate"])
    return (
        closed_form(
            key="exchange",
            name="Drain, and replace by concentrate",
            basis=say("of {v}", v=Quantity(volume, "volume")),
            dimension_name="volume",
            decimals=2,
            part="vessel",
            sentence=say("What is let out carries its own glycol with it: more has to come than the difference alone."),
            expression=Expression(
                "V * (w - r) / (c - r)",
                {
                    "V": Symbol(volume / LITRE, "V", "loop", "L"),
                    "w": Symbol(wanted * 100, "c", "wanted", "%"),
                    "r": Symbol(read * 100, "c", "read", "%"),
                    "c": Symbol(values["concentrate"] * 100, "c", "can", "%"),
                },
            ),
            letter="V",
            result_unit="L",
            scale=LITRE,
            source=methods(9),
        )
        if drained
        else by_method(
            key="exchange",
            name="Drain, and replace by concentrate",
            basis=say("it is strong enough"),
            value=0.0,
            dimension_name="volume",
            part="vessel",
            sentence=say("What was read is at least what is wanted."),
            method=say("Read against wanted."),
            source=methods(9),
        ),
        _frost("frost_now", "Begins to freeze now at", read),
        _frost("frost_then", "Then at", wanted),
    )


def _frost(key: str, name: str, share: float) -> Figure:
    return by_method(
        key=key,
        name=name,
        basis=_mix_words(share),
        value=frost_point(volume_share=share),
        dimension_name="temperature",
        part="field",
        sentence=say("From here on there is ice in it; it bursts nothing yet some kelvins below."),
        method=say("Table of propylene glycol, by volume."),
        source=methods(9),
    )


def _ohms(values: Values) -> tuple[Figure, ...]:
    ohm = values["ohm"]
    state = broken(ohm=ohm)
    if state == "open":
        raise ImpossibleInputError("so many ohms are no sensor: the wire is broken, or a plug is out")
    if state == "short":
        raise ImpossibleInputError("so few ohms are no sensor: the wires touch, or it is wet in the splice")
    found = candidates(ohm=ohm)
    if not found:
        raise ImpossibleInputError("no usual sensor has so many ohms at a likely temperature")
    return tuple(
        by_method(
            key=f"kind_{number}",
            name=f"As {one.kind.name}",
            basis=say("{o}", o=Quantity(ohm, "resistance")),
            value=one.temperature,
            dimension_name="temperature_fine",
            part="sensor",
            sentence=say(
                "Hold it in your hand or in ice water: of the kinds the one that is right moves to 33 or 0 degrees."
            ),
            method=say("The kind's own curve, solved for the temperature."),
            source=methods(17),
        )
        for number, one in enumerate(found)
    )


PUMP_NAMES = tuple(PUMPS)
PIPE_NAMES = tuple(PIPES)


def _pump(values: Values) -> tuple[Figure, ...]:
    item = PUMPS[PUMP_NAMES[int(values["pump"])]]
    flow, head = values["flow"], values["head"]
    rows = []
    for number, curve in enumerate(pump_curves(item), 1):
        has = curve.head(flow)
        rows.append(
            by_method(
                key=f"speed_{number}",
                name=f"Speed {number} gives",
                basis=say("at {q}; the loop wants {h}", q=Quantity(flow, "flow"), h=Quantity(head, "pressure")),
                value=has,
                dimension_name="pressure",
                part="pump",
                sentence=say("The least speed that gives what the loop wants is enough; more is noise and current."),
                method=say("The pump's chart, read between its points."),
                source=methods(8),
                window=Window(head, None, "what the loop wants at this flow"),
            )
        )
    return tuple(rows)


def _friction(values: Values) -> tuple[Figure, ...]:
    pipe = PIPES[PIPE_NAMES[int(values["pipe"])]]
    fluid = properties(volume_share=values["share"], temperature=WARM_C)
    drop = pipe_drop(
        length=values["length"],
        bore=pipe.bore_m,
        flow=values["flow"] * fluid.density,
        density=fluid.density,
        viscosity=fluid.viscosity,
        material=pipe.material,
        k_sum=values["bends"],
    )
    basis = say("{l} of {n}", l=Quantity(values["length"], "length"), n=pipe.name)
    return (
        by_method(
            key="drop",
            name="It takes",
            basis=basis,
            value=drop.pressure_drop,
            dimension_name="pressure",
            part="cold_line",
            sentence=say("Friction of the straight pipe, and of its fittings by their K together."),
            method=say(
                "Darcy and Weisbach with the friction factor of Colebrook, loop at {t}.",
                t=Quantity(WARM_C, "temperature"),
            ),
            source=methods(8),
        ),
        by_method(
            key="velocity",
            name="Velocity",
            basis=basis,
            value=drop.velocity,
            dimension_name="velocity",
            part="cold_line",
            sentence=say("Slower, and bubbles stay where they are; faster, and the pipe is worn and heard."),
            method=say("Flow over the free cross-section."),
            source=methods(8),
            window=Window(*VELOCITY_WINDOW, "carries air, and does not wear"),
        ),
        by_method(
            key="held",
            name="It holds",
            basis=basis,
            value=pipe.bore_area_m2 * values["length"],
            dimension_name="volume",
            part="cold_line",
            sentence=say("What goes on top of the loop's contents."),
            method=say("Free cross-section times length."),
            source=methods(10),
        ),
    )


def _boiling(values: Values) -> tuple[Figure, ...]:
    static = static_pressure(volume_share=values["share"], height=values["height"])
    top = values["gauge"] - static
    if top <= -0.9 * ATMOSPHERE_PA:
        raise ImpossibleInputError("so high above so low a gauge there is no liquid left")
    return (
        by_method(
            key="boils",
            name="It boils on top at",
            basis=say("{s}, {p} on top", s=_mix_words(values["share"]).text(), p=Quantity(top, "pressure")),
            value=boiling_point(volume_share=values["share"], pressure_abs=top + ATMOSPHERE_PA),
            dimension_name="temperature",
            part="field",
            sentence=say(
                "The gauge less the column up to there is what holds the liquid together; glycol adds some kelvins."
            ),
            method=say("Vapour of water and glycol by their shares, solved for the pressure."),
            source=methods(9),
        ),
        static_figure(volume_share=values["share"], height=values["height"]),
    )


def _square(values: Values) -> tuple[Figure, ...]:
    width, height = values["width"], values["across"]
    one, other = values["one"], values["other"]
    found = square_check(diagonal_1=one, diagonal_2=other, width=width, height=height)
    allowed = SQUARE_RAD * height
    return (
        closed_form(
            key="diagonal",
            name="Both diagonals should be",
            basis=say("{w} by {h}", w=Quantity(width, "length"), h=Quantity(height, "length")),
            dimension_name="length",
            decimals=3,
            part="field",
            sentence=say("Equal diagonals make a grid square; their length says that its sides are right too."),
            expression=Expression(
                "(w ** 2 + h ** 2) ** 0.5", {"w": Symbol(width, "w", "", "m"), "h": Symbol(height, "h", "", "m")}
            ),
            letter="d",
            result_unit="m",
            source=methods(12),
        ),
        by_method(
            key="move",
            name="Move the upper rail",
            basis=say("to the right; below nought to the left"),
            value=found.move,
            dimension_name="level",
            part="field",
            sentence=say("The longer diagonal leans: the upper rail goes towards its lower end."),
            method=say("Difference of the squares of the diagonals over four times the area."),
            source=methods(12),
            window=Window(-allowed, allowed, "what an eye does not see"),
        ),
        by_method(
            key="fall",
            name="Fall of a header so wide",
            basis=say("1 in {n}, so that it empties", n=f"{1 / MARKED_FALL:.0f}"),
            value=width * MARKED_FALL,
            dimension_name="level",
            part="field",
            sentence=say("Only where the loop drains; in a filled loop it lies level."),
            method=say("The fall that is marked on the roof, times the width."),
            source=methods(12),
        ),
    )


def _gauge(values: Values) -> tuple[Figure, ...]:
    litres = litres_between(
        p1=values["from"],
        p2=values["to"],
        vessel=values["vessel"],
        precharge=values["precharge"],
        loop_volume=values["volume"],
        atmosphere_pa=ATMOSPHERE_PA,
        stiffness=1 / WATER_K_PA,
    )
    return (
        by_method(
            key="litres",
            name="Pump in" if litres >= 0 else "Let out",
            basis=say("from {a} to {b}", a=Quantity(values["from"], "pressure"), b=Quantity(values["to"], "pressure")),
            value=abs(litres),
            dimension_name="volume",
            decimals=2,
            part="vessel",
            sentence=say(
                "Above its charge the vessel takes litres for each bar; below it the loop is stiff and takes drops."
            ),
            method=say("The gas of the vessel by Boyle, the water by its own give; air in the loop takes more."),
            source=methods(10),
        ),
    )


_COLD = say("Cold, pump off, covered if the sun is out: a hot field fills itself with steam.")
SUMS: dict[str, QuickSum] = {
    one.key: one
    for one in (
        QuickSum(
            "charge", "Vessel and fill", "from the height and the loop's contents",
            (HEIGHT, Ask("volume", "The loop holds", "volume", 0.0211, 0.001, 5, path=""), SHARE,
             Ask("hot", "At work up to", "temperature", 80, 20, 150, path="charge.working_hot_c")),
            _charge, _COLD,
        ),
        QuickSum(
            "mix", "Mix from a reading", "what to drain and replace",
            (Ask("volume", "The loop holds", "volume", 0.0211, 0.001, 5), Ask("read", "The refractometer reads", "share", 0.34, 0.0, 0.6),
             Ask("wanted", "Wanted", "share", 0.4, 0.0, 0.6, path="charge.share"),
             Ask("concentrate", "Glycol in the can", "share", 1.0, 0.3, 1.0, path="charge.concentrate_share")),
            _mix, say("Glycol goes into a can, never down a drain."),
        ),
        QuickSum("ohms", "Ohms to degrees", "which sensor, how warm", (Ask("ohm", "The meter reads", "resistance", 1100, 0, 1e7),), _ohms),
        QuickSum(
            "pump", "Pump speed", "from a point of the chart",
            (Ask("pump", "Pump", choices=PUMP_NAMES, path="run.pump"), Ask("flow", "Flow wanted", "flow", 4.2 / 60000, 1e-6, 0.02),
             Ask("head", "The loop takes at it", "pressure", 0.25 * BAR, 0, 3 * BAR)),
            _pump,
        ),
        QuickSum(
            "friction", "Friction of a run", "length, pipe, flow",
            (Ask("length", "Length", "length", 21, 0.1, 500), Ask("pipe", "Pipe", usual=2, choices=PIPE_NAMES, path="run.pipe"),
             Ask("flow", "Flow", "flow", 4.2 / 60000, 1e-6, 0.02), Ask("bends", "K of all fittings together", "ratio", 12, 0, 500), SHARE),
            _friction,
        ),
        QuickSum(
            "boiling", "Boiling point", "by pressure, height and strength",
            (Ask("gauge", "The gauge shows", "pressure", 1.77 * BAR, -0.5 * BAR, 10 * BAR), HEIGHT, SHARE), _boiling,
            say("Left in sun a dry field is far hotter than this: water into it is steam at once."),
        ),
        QuickSum(
            "square", "Diagonals and fall", "is the rail grid square",
            (Ask("width", "Along the rails", "length", 4.2, 0.3, 60), Ask("across", "Rail to rail", "length", 1.6, 0.2, 10),
             Ask("one", "Low left to high right", "length", 4.495, 0.3, 70), Ask("other", "Low right to high left", "length", 4.495, 0.3, 70)),
            _square,
        ),
        QuickSum(
            "gauge", "Bring a gauge up", "litres from one pressure to another",
            (Ask("from", "It shows", "pressure", 1.2 * BAR, 0, 10 * BAR), Ask("to", "Wanted", "pressure", 1.77 * BAR, 0, 10 * BAR),
             Ask("vessel", "Vessel", "tank", 0.018, 0.001, 2, path="charge.vessel_l", scale=1000),
             Ask("precharge", "Its charge", "pressure", 1.47 * BAR, 0, 6 * BAR), Ask("volume", "The loop holds", "volume", 0.0211, 0.001, 5)),
            _gauge, _COLD,
        ),
    )
}  # fmt: skip
