"""Tasks about looking: a data sheet whose lines are mixed up, eight dangers in a drawn house, mistakes and what comes of them.

Source: practice 4 and 17, site (mistakes).
"""

from __future__ import annotations

from rowan.core.practice.sheet import Fold, Option, Question, Range, Scene, Sheet, Slip, around
from rowan.core.practice.sheets.ground import Ground
from rowan.core.practice.sheets.pressure import loop_column
from rowan.core.records.data_sheet_line import readings
from rowan.core.steps.commission.constants import mix_expansion
from rowan.core.steps.commission.pressure_test import water_per_kelvin
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.units import LITRE, LITRE_H

WRONG, PLACES = 8, 12
OTHER_ENDS = 3  # wrong answers that stand beside the right one
ASKED = 5  # mistakes in one task
LEFT_L = 3.0  # litres of water that stayed; site, mistakes
SAME = 0.02  # of a flow, within which two readings mean the same


def data_sheet(ground: Ground) -> Sheet:
    """Read a data sheet whose lines are mixed up."""
    design, item = ground.design, ground.design.collector.item.value
    lines = {
        "contents": (item.contents_l, "contents, in litres"),
        "least": (item.least_flow_l_h, "least flow, in litres an hour"),
        "flow": (item.flow_l_h, "recommended flow, in litres an hour"),
        "most": (item.most_flow_l_h, "most flow, in litres an hour"),
    }
    if len({round(value, 1) for value, _ in lines.values()}) < len(lines):
        raise ImpossibleInputError("two lines of this collector's sheet are alike: nothing tells them apart")
    order = [str(key) for key in ground.dice("sheet").permutation(list(lines))]
    count = design.collector.count.value
    text = f"{item.flow_l_h * count / 60:.2f}".replace(".", ",")
    means = readings(design, ground.result, line="flow", text=text, system="metric")
    right = tuple(
        str(n)
        for n, one in enumerate(means)
        if abs(one.each - item.flow_l_h * LITRE_H) < SAME * item.flow_l_h * LITRE_H
    )
    if not right:
        raise ImpossibleInputError("this plan's flow is read otherwise than its sheet says")
    numbers = [f"{lines[key][0]:.1f}".rstrip("0").rstrip(".").replace(".", ",") for key in order]
    questions = _sheet_lines(
        ground, dict(zip(order, numbers, strict=True)), {key: name for key, (_, name) in lines.items()}
    )
    flow = Question(
        key="means",
        asks=say("Another sheet says “recommended flow {text}” and no more. What does it mean?", text=text),
        marks=40,
        options=tuple(
            Option(str(n), say(one.words), one.doubts[0] if one.doubts else say("It is another flow than this plate's"))
            for n, one in enumerate(means)
        ),
        answer=right,
        hint=say("Try each: velocity in the pipe, warming in full sun, flow on a square metre."),
        why=say("Only so the field warms as it should, and the pipe runs as fast as it should: {q} for each collector.", q=Quantity(item.flow_l_h * LITRE_H, "flow")),
    )  # fmt: skip
    return Sheet(
        lead=say("A metric sheet lies on the bench, its headings lost in the fold, decimal commas and all. Say which line is which."),
        given=(
            ("aperture of one", Quantity(item.aperture_m2, "area")),
            ("collectors", Quantity(float(count), "count")),
            *((f"line {letter}", say("“{number}”", number=f"{number}")) for letter, number in zip("ABCD", numbers, strict=True)),
        ),
        shown=Fold(tuple(numbers)),
        questions=(*questions, flow),
        master=say("Types every line once, looks at what it would mean in other units, and believes none that makes the pipe roar or the field boil."),
        slips=(
            Slip("most taken for recommended", {"flow": "most", "most": "flow"}, "flow"),
            Slip("per collector taken for all, or all for one", {"means": next(str(n) for n in range(len(means)) if str(n) not in right)}, "means"),
        ),
    )  # fmt: skip


def _sheet_lines(ground: Ground, numbers: dict[str, str], names: dict[str, str]) -> list[Question]:
    return [
        Question(
            key=key,
            asks=say("Line {letter}, “{number}”, is", letter=f"{letter}", number=f"{number}"),
            marks=15,
            options=tuple(Option(other, say(name), _line_words(ground, key, other)) for other, name in names.items()),
            answer=(key,),
            hint=say("Litres in a plate are few; least, recommended and most come in their order."),
            why=say(
                "For {a} of aperture that is what such a plate has.",
                a=Quantity(ground.design.collector.item.value.aperture_m2, "area"),
            ),
        )
        for letter, (key, number) in zip("ABCD", numbers.items(), strict=True)
    ]


def _line_words(ground: Ground, key: str, other: str) -> Statement:
    """What it would mean if it were another line."""
    item = ground.design.collector.item.value
    value = {
        "contents": item.contents_l,
        "least": item.least_flow_l_h,
        "flow": item.flow_l_h,
        "most": item.most_flow_l_h,
    }[key]
    if other == "contents":
        return say("{v} in one plate: no plate holds that", v=Quantity(value * LITRE, "volume"))
    if key == "contents":
        return say("{q} through a plate: it would boil by noon", q=Quantity(value * LITRE_H, "flow", 2))
    return say("Least, recommended and most come in their order: {a} under {b} under {c}",
               a=Quantity(item.least_flow_l_h * LITRE_H, "flow"), b=Quantity(item.flow_l_h * LITRE_H, "flow"), c=Quantity(item.most_flow_l_h * LITRE_H, "flow"))  # fmt: skip


# what can be looked at in house and on roof: as it should be, as it should not, and why. Source: practice 17
SEEN: dict[str, tuple[str, str, str]] = {
    "ladder": ("ladder: tied at its head, 75°", "ladder: leans flat, tied to nothing", "A ladder slides out at its foot; 75°, tied, three rungs over the eave"),
    "edge": ("eave: scaffold with a rail", "eave: nothing", "Most who fall from a roof fall at its edge"),
    "sheets": ("shed roof: boards laid over old sheets", "shed roof: a man steps on old fibre-cement sheets", "Old sheets break under a foot, and their dust is harmful"),
    "wind": ("flag: hangs", "flag: stands straight out, a plate is carried", "A gust takes a plate like a sail, and whoever holds it"),
    "field": ("field: covered while it is filled", "field: in full sun while it is filled", "Cold water in a hot field is steam: it scalds, and shocks the plates"),
    "pipe": ("hot line: copper, brazed", "hot line: plastic, for this afternoon", "At the first standstill plastic swells and sprays"),
    "solder": ("roof space: mat and extinguisher at the flame", "roof space: flame beside straw and paper", "Roof spaces burn hours after the flame went out"),
    "relief": ("relief: pipe down into a can", "relief: a plug screwed into its pipe", "With the relief plugged something else gives way"),
    "cock": ("between field and relief: plain pipe", "between field and relief: a cock, shut", "A field shut off from its relief bursts where nobody looks"),
    "temper": ("tap side: tempering valve, store at 75 °C", "tap side: no tempering valve, store at 75 °C", "At 60 °C skin scalds in seconds"),
    "element": ("element: isolator locked, store empty", "element: live, store empty", "A dry element dies in seconds, and can set alight what is near"),
    "air": ("test: water, by hand pump", "test: compressor without regulator, an ear at the joint", "Compressed air throws what lets go"),
    "main": ("filling hose: through a backflow device, taken off after", "filling hose: from the tap straight into the loop, left on", "Glycol is sucked into drinking water when the main fails"),
    "cover": ("controller: cover shut, lead pulled", "controller: cover off, live", "Mains: isolated, locked, proved dead, by somebody licensed"),
    "can": ("can: propylene glycol", "can: ethylene glycol", "A pinhole in the coil would put a poison into the taps"),
    "tank": ("store relief: free to a drain", "store relief: a valve before it, shut", "A heated tank cut off from its relief is a bomb"),
}  # fmt: skip


def dangers(ground: Ground) -> Sheet:
    """Spot eight dangers in a drawn cellar and roof."""
    dice = ground.dice("dangers")
    chosen = [str(key) for key in dice.permutation(list(SEEN))[:PLACES]]
    wrong = set(chosen[:WRONG])
    order = sorted(chosen, key=list(SEEN).index)
    options = tuple(
        Option(
            key,
            say(f"{number} {SEEN[key][1] if key in wrong else SEEN[key][0]}"),
            say(SEEN[key][2] if key in wrong else "That one is as it should be"),
        )
        for number, key in enumerate(order, 1)
    )
    return Sheet(
        lead=say("Walk from the eave to the cellar. Eight of the twelve places could hurt somebody: which?"),
        given=(),
        shown=Scene(tuple((key, key not in wrong) for key in order)),
        questions=(
            Question(
                key="places",
                asks=say("Which places could hurt somebody?"),
                marks=70,
                several=True,
                options=options,
                answer=tuple(key for key in order if key in wrong),
                hint=say("Ask at each: what if it is touched, falls, bursts, burns, or is drunk?"),
                why=say("Eight of them; each is put right before work goes on."),
            ),
            Question(
                key="first",
                asks=say("What is done with those?"),
                marks=30,
                options=(
                    Option("stop", say("work stops until they are right; the master is told")),
                    Option(
                        "note", say("noted, put right at the next visit"), say("Between now and then somebody is hurt")
                    ),
                    Option("own", say("each looks out for himself"), say("Whoever comes next has not seen them")),
                ),
                answer=("stop",),
                grave=frozenset({"note", "own"}),
                hint=say("Who comes after you?"),
                why=say("Local code, the maker's instructions and licensed trades come first."),
            ),
        ),
        master=say("Walks once with empty hands before the first tool is out."),
        slips=(
            Slip(
                "what is right taken for a danger, what is wrong passed over",
                {"places": tuple(key for key in order if key not in wrong)},
                "places",
            ),
            Slip("noted for later", {"first": "note"}, "first"),
        ),
    )


# mistakes and what comes of each. Source: site, fifteen mistakes
ENDS: dict[str, tuple[str, str]] = {
    "between": ("the valve between the ports is left shut", "the pump hums, and the field boils on the first day"),
    "full": ("the charge is read on a full loop", "the gauge reads the loop, and the vessel stays as it came"),
    "over": (
        "the vessel is filled far over its charge",
        "its membrane is stretched, and the relief weeps when it is hot",
    ),
    "vent": ("the roof vent is left open", "the first steam empties the top"),
    "check": ("the check valve is left half open", "a few kilowatt-hours a night go out over the roof"),
    "sun": ("the loop is filled in the sun", "steam at the hose, and the tub boils over"),
    "frost": ("water is left in the field before frost", "a header splits"),
    "probe": ("the field's probe is not pushed home", "it reads far too low, starts late and hunts"),
    "swapped": ("the probes are swapped", "the pump runs by night"),
    "plastic": ("plastic is put into the hot line for an afternoon", "it sprays at the first standstill"),
    "solder": ("soft solder is used at the field", "the joint creeps and weeps"),
    "screw": ("a screw goes in beside the rafter", "it pulls out in a gust, and the hole leaks"),
    "hook": ("a hook rests on the tile", "the tile cracks under the first snow"),
    "hand": ("the controller is left on hand", "the store is cooled every night"),
}


def _what_it_costs(kelvin: float, thin: float) -> tuple[Question, ...]:
    return (
        Question(
            key="shut",
            asks=say("The vessel is left shut and the loop is full. Each degree that it warms lifts the gauge by"),
            marks=20,
            dimension="pressure",
            decimals=1,
            right=around(kelvin, 0.3),
            hint=say("Liquid has no give: bars, not tenths."),
            why=say("What the mix grows by, over the little that liquid and pipe give: {p} for a degree. The relief opens within minutes.", p=Quantity(kelvin, "pressure", 1)),
        ),
        Question(
            key="thin",
            asks=say("{w} stayed in the loop when the mix went in. It comes out at", w=Quantity(LEFT_L * LITRE, "volume")),
            marks=20,
            dimension="share",
            right=Range(thin - 0.01, thin + 0.01, thin),
            hint=say("The rest of the loop is mix, this is water."),
            why=say("The mix times what of the loop it fills: {s}.", s=Quantity(thin, "share")),
        ),
    )  # fmt: skip


def mistakes(ground: Ground) -> Sheet:
    """What comes of a mistake."""
    charge, dice = ground.sealed, ground.dice("mistakes")
    chosen = [str(key) for key in dice.permutation(list(ENDS))[:ASKED]]
    questions = []
    for key in chosen:
        others = [str(other) for other in dice.permutation([one for one in ENDS if one != key])[:OTHER_ENDS]]
        order = [str(one) for one in dice.permutation([key, *others])]
        questions.append(
            Question(
                key=key,
                asks=say(f"{ENDS[key][0][:1].upper()}{ENDS[key][0][1:]}: what comes of it?"),
                marks=12,
                options=tuple(
                    Option(one, say(ENDS[one][1]), say(f"That comes of it when {ENDS[one][0]}")) for one in order
                ),
                answer=(key,),
                hint=say("Follow water and heat through the first sunny day and the first cold night."),
                why=say(f"{ENDS[key][1][:1].upper()}{ENDS[key][1][1:]}."),
            )
        )
    share = ground.design.glycol_share
    loop = charge.contents.total
    kelvin = water_per_kelvin(stiffness=charge.stiffness, expansion=mix_expansion(volume_share=share))
    thin = share * max(loop - LEFT_L * LITRE, 0.0) / loop
    first = chosen[0]
    return Sheet(
        lead=say("Each of these has been done. Say what follows, before it is told."),
        given=(
            ("this loop holds", Quantity(loop, "volume")),
            ("its mix was prepared at", Quantity(share, "share")),
            ("vessel", Quantity(charge.vessel, "tank")),
        ),
        shown=loop_column(ground),
        questions=(
            *questions,
            *_what_it_costs(kelvin, thin),
        ),
        master=say("Has seen each of them once, and writes the tick for it into his own list."),
        slips=(
            Slip("taken for harmless", {first: next(one.key for one in questions[0].options if one.key != first)}, first),
            Slip("the vessel's gas believed to be there", {"shut": 0.02e5}, "shut"),
        ),
    )  # fmt: skip
