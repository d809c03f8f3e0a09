"""The order of work on the roof: each step with what holds before it, for two people and a phone. Source: practice, the roof; site."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.steps.roof.marks import grid_diagonal
from rowan.core.steps.roof.result import Foot, Rail, RoofResult
from rowan.core.steps.roof.square import SQUARE_RAD
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record

CARRIED_GUST_M_S = 10.0  # m/s up to which collectors are carried, site: roof go or no-go
CARRIED_KG = 25.0  # kg a person lifts on a roof or a stair; site: roof go or no-go

# what each step wants in hand, by the first word of its key
TOOLS = {
    "weather": "wind meter",
    "edge": "harness, rope, ladder ties",
    "battens": "slate ripper or tile lifter, torch",
    "services": "cable finder, spade",
    "piles": "pull tester, level",
    "marks": "two tapes, chalk line, crayon, chalk sheet",
    "lower": "drill with its bit and template, impact driver, level of 600 mm",
    "line": "mason's line, two pins",
    "rails": "saw, file, 13 mm spanner",
    "diagonals": "long tape, second person",
    "sag": "line, shims",
    "tight": "torque wrench 10 to 25 N·m, paint pen, anti-seize",
    "collector": "suction lifters or straps, 13 mm spanner, warm water for the seals",
    "sensor": "strain relief, cable ties that stand the sun",
    "lagged": "knife, tape for jackets",
    "closed": "boots, dressing tool, sealant",
    "second": "torque wrench, paint pen of a second colour",
    "pressure": "gauge, hand pump or supply with a regulator",
}


@record
class Task:
    """A step of the work: its key, its name, what is done and seen; a `gate` holds everything after it until it is ticked."""

    key: str
    name: str
    words: Statement
    gate: bool = False

    @property
    def tools(self) -> str:
        """What to have in hand, sizes with it."""
        return TOOLS.get(self.key.partition("-")[0], "")


def order_of_work(design: Design, roof: RoofResult) -> tuple[Task, ...]:
    """Every step of mounting this field, in order."""
    on_roof = design.on_roof
    return (
        *(_before(design, roof) if on_roof else _ground(design)),
        *_feet(design, roof),
        *_square(design, roof),
        *_collectors(design, roof),
        *_after(design, on_roof=on_roof),
    )


def _before(design: Design, roof: RoofResult) -> Iterator[Task]:
    mass, limit = design.collector.item.value.dry_mass_kg, Quantity(CARRIED_KG, "mass")
    yield Task(
        "weather",
        "Go or no-go",
        say(
            "Gusts under {v} today and till it is clamped, no frost, no wet slate, no thunder.",
            v=Quantity(CARRIED_GUST_M_S, "gust"),
        ),
        gate=True,
    )
    yield Task(
        "edge",
        "Edge and rescue",
        say("Edge protection or scaffold stands; ladder at 75° and tied; anchor; who fetches whom, and how."),
        gate=True,
    )
    lifted = "two people or a hoist, never one" if mass > CARRIED_KG else "one person, both hands free"
    yield Task(
        "load",
        "Loads",
        say("{m} a collector: {lifted}; {l} a person at most.", lifted=lifted, m=Quantity(mass, "mass"), l=limit),
    )
    yield Task(
        "sum",
        "Structure",
        say(
            "{a} more than the roof carries now; no truss chord is cut or drilled.",
            a=Quantity(roof.added_share, "share_fine"),
        ),
    )
    if design.survey.covering.value in ("tile", "slate"):
        yield Task(
            "battens",
            "Battens and membrane",
            say(
                "With the first courses off: battens sound, nailed at each rafter, membrane whole. In doubt the work ends here, and the roofer comes."
            ),
            gate=True,
        )


def _ground(design: Design) -> Iterator[Task]:
    yield Task(
        "services",
        "What lies below",
        say("Cables, gas and water looked for and marked before the first hole."),
        gate=True,
    )
    deep = Quantity(design.roof.frost_depth_m.value, "length")
    words = say("Every foot below {d} of frost; pull one, write the number down.", d=deep)
    if design.fixing.key == "ballast":
        words = say(
            "Turf off, firm and level under every tray; {m} on each before anything stands.",
            m=Quantity(design.roof.ballast_kg.value, "mass"),
        )
    yield Task("piles", "Foundations", words, gate=True)


def _feet(design: Design, roof: RoofResult) -> Iterator[Task]:
    feet, rails = (str(sum(len(counted) for counted in of)) for of in _both(roof))
    corner = "from one corner" if roof.beside is None else "each plane from a corner of its own"
    yield Task(
        "marks", "Marked", say("{n} feet by the chalk sheet, {corner}: along first, then up.", corner=corner, n=feet)
    )
    if roof.fixing.screws:
        yield Task(
            "lower", "Lower feet, loose", say("One rail as a ruler across the middle lines; screws set, not tight.")
        )
    else:
        yield Task(
            "lower", "Lower feet, loose", say("One rail as a ruler across the middle lines; clamps set, not tight.")
        )
    yield Task("line", "Line stretched", say("Up the roof from the outer lower feet: the others come to it."))
    yield Task("rails", "Rails on", say("{n} rails, loose; splices off the feet.", n=rails))


def _both(roof: RoofResult) -> tuple[list[tuple[Foot, ...]], list[tuple[Rail, ...]]]:
    """Feet and rails of each plane."""
    return [plane.feet for plane in roof.planes], [plane.rails for plane in roof.planes]


def _square(design: Design, roof: RoofResult) -> Iterator[Task]:
    for number, plane in enumerate(roof.planes, 1):
        whole = grid_diagonal(plane)
        if whole is None:
            continue
        yield Task(
            "diagonals" if number == 1 else f"diagonals-{number}",
            "Diagonals" if number == 1 else "Diagonals of the other plane",
            say(
                "{d} both, {m} mm in each m at most: else the upper rail moves, and both are measured again.",
                d=Quantity(whole, "length", 3),
                m=f"{SQUARE_RAD * 1000:g}",
            ),
            gate=True,
        )
    yield Task("sag", "Sag", say("String from end to end; shims under the low feet."))
    if design.on_roof:
        agreed = design.roof.street_note.value
        yield Task(
            "street",
            "From the street",
            say(
                "Go down and look; agree with the customer, photograph, write down what was agreed{case}",
                case=": {n}." if agreed else ".",
                n=agreed,
            ),
        )
    yield Task(
        "tight",
        "Tightened",
        say("From the middle outward. Stainless M8 12 to 15 N·m with anti-seize, a paint mark on each."),
    )
    yield Task("catches", "Catches and end clamps", say("Catches in the lower rail, end clamps of one side first."))


def _collectors(design: Design, roof: RoofResult) -> Iterator[Task]:
    for number in range(1, sum(len(plane.collectors) for plane in roof.planes) + 1):
        words = "Hung in its catches, slid to its clamp, every clamp clicked"
        words += "." if number == 1 or not _linked(roof, number) else "; both links locked at once and looked at twice."
        yield Task(
            f"collector-{number}", f"Collector {number}", say("{words} Nobody leans on it until then.", words=words)
        )
    if design.collector.within.value == "series":
        yield Task(
            "series",
            "One after the other",
            say("Plugs moved; elbows fitted and measured, taken off, the hose cut and fitted warm, then put back."),
        )
    yield Task("ends", "End clamps", say("The last ones, and every link looked at a second time."))


def _linked(roof: RoofResult, number: int) -> bool:
    """Whether a collector has a neighbour before it in its row."""
    first = 1
    for count in (count for plane in roof.planes for count in plane.counts):
        if number == first:
            return False
        first += count
    return True


def _after(design: Design, *, on_roof: bool) -> Iterator[Task]:
    yield Task(
        "sensor",
        "Sensor home",
        say("Pushed to its stop at the hot end, strain relief, cable between lagging and jacket."),
    )
    yield Task("lagged", "Lagged", say("Links and outdoor pipe, jacket first where sun and beaks reach."))
    if on_roof:
        yield Task(
            "slack",
            "Slack and unions",
            say("Half a metre of slack and a union at both ends: the feet stay when the roof is covered anew."),
        )
        yield Task(
            "closed", "Covering closed", say("Boots dressed, hot one by its temperature; tiles notched, slates back.")
        )
    yield Task("second", "Every fastener a second time", say("Rails, clamps, catches: torque and paint mark."))
    yield Task("bonding", "Bonding conductor", say("By local code, by who is licensed for it."))
    yield Task("pressure", "Pressure test", say("Held before anything that leads up comes down."), gate=True)
    if on_roof:
        yield Task("bleed", "A later bleed", say("Reachable without scaffold, or valved from below."))
        yield Task("scaffold", "Scaffold down", say("Only now."))
