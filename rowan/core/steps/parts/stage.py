"""The parts stage: the list, how pipe is cut, and what the list says of the plan."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.charge.ratings import test_pressure
from rowan.core.steps.charge.result import ChargeResult, SealedCharge
from rowan.core.steps.parts.counting import (
    Part,
    cuttings_of,
    electrical_parts,
    fluid_parts,
    hired,
    pipe_parts,
    roof_parts,
    together,
    turns_of,
)
from rowan.core.steps.parts.cutting import Cutting
from rowan.core.steps.parts.mounting import joint_parts, mounting_parts, pack_words, rails_cut
from rowan.core.steps.parts.plant_room import station_parts
from rowan.core.steps.parts.pricing import price_figures
from rowan.core.steps.roof.result import RoofResult
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, by_method, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE


@record
class PartsResult:
    """Everything to bring, how pipe and rails are cut, and what the whole system costs [money]."""

    parts: tuple[Part, ...]
    cutting: Cutting
    rails: Cutting
    price: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


def reckon_parts(design: Design, roof: RoofResult, run: RunResult, charge: ChargeResult) -> PartsResult:
    """The parts of a design."""
    cuttings = cuttings_of(design, run)
    cutting = together(cuttings.values())
    parts = (
        *roof_parts(design, run, pack_words(design, roof)),
        *mounting_parts(design, roof),
        *joint_parts(design, run),
        *pipe_parts(design, run, cuttings),
        *station_parts(design, charge),
        *(fluid_parts(design, charge) if isinstance(charge, SealedCharge) else ()),
        *electrical_parts(design, run),
        *hired(design, test_pressure(design)),
    )
    figures = [_pieces(design, cutting), _offcut(cutting), _lagging(design, run), _heaviest(design)]
    if isinstance(charge, SealedCharge):
        figures.append(_glycol(design, charge))
    rails = rails_cut(design, roof)
    if rails.bars and design.pumped:
        figures.append(_rail_offcut(design, rails))
    prices = price_figures(design, run, parts)
    figures += prices
    return PartsResult(parts, cutting, rails, prices[-1].value, tuple(figures), (*_bends(design, run),))


def _pieces(design: Design, cutting: Cutting) -> Figure:
    return by_method(
        key="pipe_pieces",
        name="Lengths of pipe",
        basis=say("of {l} each", l=Quantity(design.parts.pipe_piece_m.value, "length")),
        value=float(len(cutting.bars)),
        dimension_name="count",
        part="cold_line",
        sentence=say("Each leg is laid into the first length it still fits, the longest leg first."),
        method=say(
            "First fit, longest first: {used} of legs in {bought} of pipe. No arrangement needs fewer than {least}.",
            used=Quantity(cutting.used, "length", 1),
            bought=Quantity(cutting.bought, "length", 1),
            least=Quantity(float(-(-cutting.used // design.parts.pipe_piece_m.value)), "count"),
        ),
        source=methods(16),
    )


def _offcut(cutting: Cutting) -> Figure:
    return closed_form(
        key="offcut",
        name="Left as offcuts",
        basis=say("of the pipe bought"),
        dimension_name="share",
        part="cold_line",
        sentence=say("Another stock length, or a coil, may leave less; what is left still makes short legs."),
        expression=Expression(
            "1 - L / B",
            {"L": Symbol(cutting.used, "L", "legs", "m"), "B": Symbol(cutting.bought, "L", "bought", "m")},
        ),
        letter="w",
        source=methods(16),
    )


def _rail_offcut(design: Design, rails: Cutting) -> Figure:
    return closed_form(
        key="rail_offcut",
        name="Left of the rails",
        basis=say(
            "{n} of {l}, {s} splices",
            n=str(len(rails.bars)),
            l=Quantity(design.roof.rail_piece_m.value, "length"),
            s=str(rails.couplings),
        ),
        dimension_name="share",
        part="collector",
        sentence=say("Rails are laid into the lengths they come in as pipe is; a splice never lies over a foot."),
        expression=Expression(
            "1 - L / B",
            {"L": Symbol(rails.used, "L", "rails", "m"), "B": Symbol(rails.bought, "L", "bought", "m")},
        ),
        letter="w",
        letter_index="rail",
        source=methods(16),
    )


def _lagging(design: Design, run: RunResult) -> Figure:
    return closed_form(
        key="lagging",
        name="Lagging to bring",
        basis=say("both lines"),
        dimension_name="length",
        decimals=1,
        part="hot_line",
        sentence=say("Every metre from field to store is lagged; mitres and offcuts take the spare."),
        expression=Expression(
            "L * (1 + s)",
            {
                "L": Symbol(sum(leg.length for leg in run.route.legs() if leg.insulation > 0), "L", "lines", "m"),
                "s": Symbol(design.parts.lagging_spare.value, "s", "spare"),
            },
        ),
        letter="L",
        letter_index="lag",
        result_unit="m",
        source=methods(16),
    )


def _heaviest(design: Design) -> Figure:
    pieces = {"collector": design.collector.item.value.dry_mass_kg}
    if not design.own_store:
        pieces["store"] = design.store.item.value.dry_mass_kg
    name = max(pieces, key=lambda key: pieces[key])
    return closed_form(
        key="heaviest",
        name="Heaviest piece",
        basis=say("the {name}, dry", name=name),
        dimension_name="mass",
        part="store",
        sentence=say("Two people, a clear way, and never a collector up a ladder in wind."),
        expression=Expression(
            "max(s, c)" if "store" in pieces else "c",
            {key[0]: Symbol(mass, "m", key, "kg") for key, mass in pieces.items()},
        ),
        letter="m",
        result_unit="kg",
        source=methods(16),
    )


def _glycol(design: Design, charge: SealedCharge) -> Figure:
    ready = design.parts.fluid_sold.value == "premix"
    share = design.glycol_share if ready else charge.tub.fill
    strong = 1.0 if ready else design.charge.concentrate.value
    return closed_form(
        key="pure_glycol",
        name="Glycol in the mix" if ready else "Concentrate to bring",
        basis=say("of {v} to prepare", v=Quantity(charge.prepare, "volume")),
        dimension_name="volume",
        part="cold_line",
        sentence=say(
            "Mixed ready it is in the cans already; as concentrate this much is needed and the rest is water."
        ),
        expression=Expression(
            "s * V / k",
            {
                "s": Symbol(share, "c", "fill"),
                "V": Symbol(charge.prepare / LITRE, "V", "prepare", "L"),
                "k": Symbol(strong, "c", "can"),
            },
        ),
        letter="V",
        letter_index="glycol",
        result_unit="L",
        scale=LITRE,
        source=methods(9),
    )


def _bends(design: Design, run: RunResult) -> list[Finding]:
    turns = turns_of(run.route.cold) + turns_of(run.route.hot)
    if design.run.all_bends >= turns or design.run.pipe.value.material == "corrugated":
        return []
    return [
        Finding(
            key="bends_few",
            level="mind",
            stage="parts",
            part="cold_line",
            title=say("fewer bends are counted than the route turns"),
            reason=say(
                "The legs meet at {t} joints, and only {b} bends are on the list and in the friction.",
                t=Quantity(float(turns), "count"),
                b=Quantity(float(design.run.all_bends), "count"),
            ),
            quantity=Quantity(float(design.run.all_bends), "count"),
            limit=Quantity(float(turns), "count"),
            cures=(
                Cure(
                    say("Count {t} bends", t=Quantity(float(turns), "count")),
                    (Change("run.bends", design.run.bends.value + turns - design.run.all_bends),),
                    "flow",
                ),
            ),
            source=methods(16),
        )
    ]
