"""A task about hanging a loop: what comes in what order along it, which way round, and of what. Each mistake is possible here.

Source: site (valves, mistakes), practice 7, 10 and 11.
"""

from __future__ import annotations

from rowan.core.goods.catalogue import PIPES
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.goods.ratings import pipe_stands
from rowan.core.practice.sheet import Option, Pair, Parts, Question, Sheet, Slip, around
from rowan.core.practice.sheets.ground import Ground
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, say

ALONG = {
    "drain": "the drain",
    "between": "the valve between the ports",
    "fill": "the fill",
    "pump": "the pump",
    "check": "the non-return",
    "relief": "relief, gauge and vessel",
}
ORDER = tuple(ALONG)


def assembly(ground: Ground) -> Sheet:
    """Hang the station and the lines of this loop."""
    design = ground.design
    if not design.sealed or not design.pumped:
        raise ImpossibleInputError("this task asks for a sealed loop with a pump")
    hot = stagnation_of(design.collector.item.value)
    order = [str(key) for key in ground.dice("assembly").permutation(list(ORDER))]
    return Sheet(
        lead=say("Station, lines and probes of this loop lie on the floor. Say what comes where, which way round, and of what. Nothing is refused; what comes of it is told after."),
        given=(
            ("collectors", say("{n} of {a}", n=Quantity(float(design.collector.count.value), "count"), a=Quantity(design.collector.item.value.aperture_m2, "area"))),
            ("relief valve", Quantity(design.charge.relief_gauge_pa.value, "pressure")),
            ("height from gauge to top", Quantity(design.survey.gauge_to_top_m.value, "length")),
        ),
        shown=Parts(tuple((key, ALONG[key].removeprefix("the ")) for key in order)),
        questions=(_along(order), *_ways(), *_heat(hot), *_probes()),
        master=say("Lays it out on the floor in the order of the flow, arrows one way, and looks along it once before a single joint is made."),
        slips=(
            Slip("the pump hung the wrong way", {"pump": "against"}, "pump"),
            Slip("plastic for an afternoon's trial", {"pipe": "plastic"}, "pipe"),
            Slip("a cock between field and relief", {"cock": "cock"}, "cock"),
        ),
    )  # fmt: skip


def _along(order: list[str]) -> Question:
    return Question(
        key="along",
        asks=say("From the store's return along the flow to the field: in what order?"),
        marks=25,
        options=tuple(Option(key, say(ALONG[key])) for key in order),
        answer=ORDER,
        pairs=(
            Pair("drain", "between", say("With the drain beyond the valve between, a flush takes the short way and never sees the loop")),
            Pair("between", "fill", say("With both ports on one side of the valve between, nothing is driven round")),
            Pair("fill", "pump", say("Filled above the pump its cavity stays dry: air under the rotor")),
            Pair("pump", "check", say("With the non-return before the pump, the pump's own joints stand on the hot side at night")),
            Pair("check", "relief", say("With the relief below the non-return the field is shut off from it: it bursts where nobody looks")),
        ),
        hint=say("What must be able to push through the whole loop, and what must never be shut off from the field?"),
        why=say("Drain, between, fill, pump, non-return; relief, gauge and vessel on the field's side of it: nothing shuts them off."),
    )  # fmt: skip


def _ways() -> tuple[Question, ...]:
    return (
        Question(
            key="pump",
            asks=say("How is the pump hung?"),
            marks=15,
            options=(
                Option("along", say("in the cold line, its arrow up to the field, its shaft level")),
                Option("against", say("in the cold line, its arrow down to the store"), say("It pushes against the non-return: it hums, nothing flows, the field boils on the first day")),
                Option("hot", say("in the hot line, beside the field's exit"), say("It sees the field's standstill, and its seals do not stand it")),
            ),
            answer=("along",),
            hint=say("Which line is cool, and which way does the non-return open?"),
            why=say("Cold line, arrow along the flow; a shaft that stands lets air gather under its rotor."),
        ),
        Question(
            key="cock",
            asks=say("Somebody offers a ball valve, to shut the field off for repairs. Where does it go?"),
            marks=15,
            options=(
                Option("none", say("not between field and relief")),
                Option("cock", say("in the hot line, between field and relief, with a lever"), say("Shut in the sun, nothing lets the field's steam out: it bursts")),
                Option("sealed", say("there too, its lever taken off"), say("Somebody finds a spanner; a field is never parted from its relief")),
            ),
            answer=("none",),
            grave=frozenset({"cock", "sealed"}),
            hint=say("What happens on a bright day if it is left shut?"),
            why=say("No shut-off between field and relief; each heated part that can be shut off has a relief of its own."),
        ),
        Question(
            key="coil",
            asks=say("Into which end of the store's coil goes the hot line?"),
            marks=10,
            options=(
                Option("upper", say("its upper end")),
                Option("lower", say("its lower end"), say("The store is stirred: its top is never hot, and the field sees warm water back")),
            ),
            answer=("upper",),
            hint=say("Where is the store hottest, and where should what leaves the coil be coldest?"),
            why=say("Hot in above, cold out below, against the layers."),
        ),
    )  # fmt: skip


def _heat(hot: float) -> tuple[Question, ...]:
    plastic = next(pipe for pipe in PIPES.values() if pipe.material == "plastic")
    stands = pipe_stands(plastic, plastic.rating_c)
    return (
        Question(
            key="dry",
            asks=say("What do these collectors come to, dry in full sun?"),
            marks=10,
            dimension="temperature",
            right=around(hot, 0.12, 10.0),
            hint=say("Far over boiling; a selective plate more than a painted one, a tube more than either."),
            why=say("{t}: as its maker measured it, or by its rating.", t=Quantity(hot, "temperature")),
        ),
        Question(
            key="pipe",
            asks=say("The copper is short by three metres, for this afternoon's trial. The hot line is closed with"),
            marks=15,
            options=(
                Option("wait", say("nothing: it waits for copper")),
                Option(
                    "plastic",
                    say("plastic, it is only for an hour"),
                    say(
                        "Its rating ends at {r}, with {p}; the field comes to {t}: it swells and sprays at the first standstill",
                        r=Quantity(plastic.rating_c, "temperature"),
                        p=Quantity(stands, "pressure", 1),
                        t=Quantity(hot, "temperature"),
                    ),
                ),
                Option("hose", say("a reinforced garden hose"), say("It softens under a hundred degrees, and scalds whoever stands there")),
            ),
            answer=("wait",),
            grave=frozenset({"plastic", "hose"}),
            hint=say("What does the field do when the pump stops in that hour?"),
            why=say("No plastic on a loop that can stand still in the sun, not for an afternoon."),
        ),
    )  # fmt: skip


def _probes() -> tuple[Question, ...]:
    return (
        Question(
            key="probe",
            asks=say("Where does the field's probe go?"),
            marks=10,
            options=(
                Option("exit", say("into the pocket at the exit end, pushed to its stop, with paste")),
                Option("inlet", say("into the pocket at the inlet end"), say("It reads what comes up from the store: the pump starts late and never stops")),
                Option("strap", say("strapped to the hot pipe, under the lagging"), say("It reads late and low; standing water tells it nothing")),
            ),
            answer=("exit",),
            hint=say("Which end of the field is warm first when nothing flows?"),
            why=say("At the hottest end, in the liquid, home in its pocket: else it reads ten to twenty degrees low and hunts."),
        ),
    )  # fmt: skip
