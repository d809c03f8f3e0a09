"""What is said of rows of collectors: figures where there is more than one row, and what is wrong with them."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.design.inputs.rows import row_counts
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE
from rowan.core.steps.run.array import EVEN_WITHIN
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE_H


def array_figures(design: Design, run: RunResult) -> tuple[Figure, ...]:
    """Drop and rise of a string, and what the poorest row gets, where the field is divided."""
    if len(design.row_counts) == 1 and design.collector.within.value == "parallel":
        return ()
    item, field = design.collector.item.value, run.divided
    poorest = min(field.rows, key=lambda row: row.share)
    series = design.collector.within.value == "series"
    least, most = item.least_flow_l_h * LITRE_H, item.most_flow_l_h * LITRE_H
    each = min(row.flow if series else row.flow / row.collectors for row in field.rows)
    figures = [
        by_method(
            key="string_drop",
            name="Field takes",
            basis=say("from the first tee to the last"),
            value=field.drop,
            dimension_name="head",
            part="collector",
            sentence=say("Collectors one after the other add their drops; rows side by side share one."),
            method=say("Data-sheet points of the collector, and the pipes from row to row."),
            source=methods(8),
        ),
        by_method(
            key="each_flow",
            name="Each collector gets at least",
            basis=say("in the row that gets least"),
            value=each,
            dimension_name="flow",
            part="collector",
            sentence=say("What the maker asks, he asks of every collector, not of the sum."),
            method=say(
                "Flow of the row{case}",
                case=", which passes through each of them." if series else " over its collectors.",
            ),
            window=Window(least, most, "data sheet of the collector"),
            source=methods(8),
        ),
    ]
    if len(field.rows) > 1:
        figures.append(_poorest_rise(run, poorest.share))
        figures.append(
            by_method(
                key="poorest_row",
                name="The poorest row gets",
                basis=say("of an even share"),
                value=poorest.share,
                dimension_name="share",
                part="collector",
                sentence=say("Water takes the easy way: the row that is harder to reach gets less, and runs hotter."),
                method=say(
                    "Flows that leave the same drop over every way, solved together with the pipes between the tees."
                ),
                window=Window(1 - EVEN_WITHIN, None, "practice: equal rows or balanced, rule of thumb"),
                source=methods(8),
            )
        )
    return tuple(figures)


def _poorest_rise(run: RunResult, share: float) -> Figure:
    """What the row with the least flow warms by."""
    return by_method(
        key="row_rise",
        name="The poorest row warms by",
        basis=say("in full sun; the field as a whole by {r}", r=Quantity(run.temperatures.rise, "difference")),
        value=run.temperatures.rise / share,
        dimension_name="difference",
        part="collector",
        sentence=say("Less flow carries the same sun away hotter, and a hotter row keeps less of it."),
        method=say(
            "The rise over the field at {g}, by the row's share of an even flow.",
            g=Quantity(REFERENCE_IRRADIANCE, "irradiance"),
        ),
        source=methods(8),
    )


def array_findings(design: Design, run: RunResult) -> tuple[Finding, ...]:
    """Rows that do not add up, are fed unevenly, or are longer than the maker allows."""
    return (*_sum(design), *_unpumped(design), *_uneven(design, run), *_series(design))


def _unpumped(design: Design) -> list[Finding]:
    """Two planes on a loop that warm water drives: which of them would get its water?"""
    laid = design.plane_typed
    if design.pumped or not design.on_roof or laid is None:
        return []
    return [
        Finding(
            key="two_strings_unpumped",
            level="stop",
            stage="run",
            part="collector",
            title=say("a loop without a pump drives one plane"),
            reason=say(
                "Warm water rises through the string that is hotter and leaves the other standing; with two planes a pump drives both. All are reckoned on the first plane."
            ),
            cures=(
                Cure(say("Lay all on the first plane"), (Change(f"roof.planes.{laid.id}.count", 0),), "solar_share"),
            ),
            source="practice: the run",
        )
    ]


def _even(design: Design, rows: int) -> str:
    return _text(row_counts(str(rows), design.collector.count.value))


def _text(counts: tuple[int, ...]) -> str:
    return " + ".join(str(n) for n in counts)


def _sum(design: Design) -> list[Finding]:
    """Rows that do not make up what lies on their plane."""
    plane = design.plane_beside
    where = "the field" if plane is None else "the first plane"
    found = _sum_of(design.collector.rows.value, design.count_first, "collector.rows", where)
    if plane is not None:
        own = _sum_of(plane.rows, design.count_on(plane), f"roof.planes.{plane.id}.rows", "the other plane")
        found += [replace(finding, key="rows_beside_do_not_add_up") for finding in own]
    return found + _more_beside(design)


def _more_beside(design: Design) -> list[Finding]:
    """More collectors on the other plane than the field can give it."""
    laid = design.plane_typed
    if laid is None or not design.on_roof or not design.pumped or laid.count <= (most := design.count_on(laid)):
        return []
    return [
        Finding(
            key="more_beside_than_there_are",
            level="fix",
            stage="run",
            part="collector",
            title=say("the other plane asks for more collectors than it can have"),
            reason=say(
                "{count} are typed there and the field has {all}, of which one at least lies on the first plane. Reckoned and drawn with {most} there.",
                count=f"{laid.count}",
                all=f"{design.collector.count.value}",
                most=f"{most}",
            ),
            quantity=Quantity(float(laid.count), "count"),
            limit=Quantity(float(most), "count"),
            cures=(
                Cure(
                    say("{most} on the other plane", most=f"{most}"),
                    (Change(f"roof.planes.{laid.id}.count", most),),
                    "aperture",
                ),
            ),
            source="practice: the run",
        )
    ]


def _sum_of(text: str, count: int, path: str, where: str) -> list[Finding]:
    typed = row_counts(text, count)
    if sum(typed) == count:
        return []
    even = _text(row_counts(str(len(typed)), count))
    return [
        Finding(
            key="rows_do_not_add_up",
            level="fix",
            stage="run",
            part="collector",
            title=say("the rows do not add up to {where}", where=where),
            reason=say(
                "{rows} make {sum}; {where} has {count}. Reckoned as {even}.",
                rows=f"{' + '.join(str(n) for n in typed)}",
                sum=f"{sum(typed)}",
                where=where,
                count=f"{count}",
                even=f"{even}",
            ),
            quantity=Quantity(float(sum(typed)), "count"),
            limit=Quantity(float(count), "count"),
            cures=(Cure(say("Rows of {even}", even=f"{even}"), (Change(path, even),), "poorest_row"),),
            source="practice: the run",
        )
    ]


def _uneven(design: Design, run: RunResult) -> list[Finding]:
    field = run.divided
    if len(field.rows) < 2 or field.uneven <= EVEN_WITHIN:
        return []
    poorest = min(field.rows, key=lambda row: row.share)
    rows = design.row_counts
    cures = []
    if design.plane_beside is None and len(set(rows)) > 1 and sum(rows) % len(rows) == 0:
        even = _even(design, len(rows))
        cures.append(Cure(say("Rows of {even}", even=f"{even}"), (Change("collector.rows", even),), "poorest_row"))
    if design.collector.feed.value == "direct" and len(set(rows)) == 1:
        cures.append(Cure(say("Reverse the return"), (Change("collector.feed", "reverse"),), "poorest_row"))
    cures.append(Cure(say("Balance with throttles"), (Change("collector.feed", "throttled"),), "poorest_row"))
    return [
        Finding(
            key="rows_uneven",
            level="fix",
            stage="run",
            part="collector",
            title=say("a row starves"),
            reason=say(
                "The row of {collectors} gets {s} of its share and runs hotter by as much; the others hurry theirs through. Equal rows, a reversed return or throttles even it out.",
                collectors=f"{poorest.collectors}",
                s=Quantity(poorest.share, "share"),
            ),
            quantity=Quantity(poorest.share, "share"),
            limit=Quantity(1 - EVEN_WITHIN, "share"),
            cures=tuple(cures),
            source="practice: the run",
        )
    ]


def _series(design: Design) -> list[Finding]:
    item = design.collector.item.value
    longest = max(design.row_counts)
    if design.collector.within.value != "series" or longest <= item.most_in_series:
        return []
    shorter: tuple[Cure, ...] = ()
    if design.plane_beside is None:
        even = _even(design, -(-design.collector.count.value // item.most_in_series))
        shorter = (Cure(say("Rows of {even}", even=f"{even}"), (Change("collector.rows", even),), "string_drop"),)
    return [
        Finding(
            key="series_too_long",
            level="fix",
            stage="run",
            part="collector",
            title=say("more collectors stand in series than the maker allows"),
            reason=say(
                "{longest} one after the other; the data sheet says {most_in_series}. The last ones run hot and the drop adds up.",
                longest=f"{longest}",
                most_in_series=f"{item.most_in_series}",
            ),
            quantity=Quantity(float(longest), "count"),
            limit=Quantity(float(item.most_in_series), "count"),
            cures=(*shorter, Cure(say("All side by side"), (Change("collector.within", "parallel"),), "string_drop")),
            source="data sheet of the collector",
        )
    ]
