"""What the rules rest on: numbered method pages of Rowan's own, and the published work behind them."""

from __future__ import annotations

from rowan.core.terms.record import record


@record
class Method:
    """A page of docs/methods with the works it rests on."""

    number: int
    title: str
    works: tuple[str, ...] = ()


METHODS: dict[int, Method] = {
    m.number: m
    for m in (
        Method(1, "Climate and cold main", ("Burch and Christensen 2007",)),
        Method(
            2,
            "Sun on the plane",
            ("Klein 1977", "Erbs, Klein and Duffie 1982", "Collares-Pereira and Rabl 1979", "Hay and Davies 1980"),
        ),
        Method(3, "Collector", ("ISO 9806", "Duffie and Beckman, Solar Engineering of Thermal Processes, ch. 6")),
        Method(4, "Demand", ("ISO/TR 12596",)),
        Method(5, "Store", ()),
        Method(6, "The loop and the monthly correlation", ("Klein and Beckman 1976",)),
        Method(7, "Controls", ("Duffie and Beckman, control chapter",)),
        Method(8, "Hydraulics", ("Darcy and Weisbach", "Colebrook 1939")),
        Method(9, "Fluid", ("ASHRAE Handbook Fundamentals", "IAPWS-95", "Raoult")),
        Method(10, "Pressure and vessel", ("Hausner and Fink 2003",)),
        Method(11, "Drainback", ()),
        Method(12, "Mounting", ()),
        Method(13, "Pressure test", ()),
        Method(14, "Money and site arithmetic", ()),
        Method(15, "Findings", ()),
        Method(16, "Parts", ()),
        Method(17, "Commissioning", ()),
        Method(
            18,
            "The year",
            (
                "Bendt, Collares-Pereira and Rabl 1981",
                "Collares-Pereira and Rabl 1979",
                "Hay and Davies 1980",
                "Kell 1975",
            ),
        ),
        Method(19, "Care", ()),
    )
}


def methods(number: int) -> str:
    """How a figure cites a method page."""
    return f"Methods {METHODS[number].number}"
