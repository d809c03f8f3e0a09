"""Friction of the whole loop and where each pump speed lands on it."""

from __future__ import annotations

import math
from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.design.own_store import exchanger_of
from rowan.core.fluid import properties
from rowan.core.goods.items import PumpItem
from rowan.core.steps.run.array import Field, field_of
from rowan.core.steps.run.friction import K_BEND, K_NON_RETURN, DropCurve, coil_drop, drop_curve, pipe_drop
from rowan.core.steps.run.pump import OperatingPoint, PumpCurve, operating_point
from rowan.core.steps.run.route import Profile
from rowan.core.terms.errors import NoOperatingPointError
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE_H

COIL_RATED_L_H = 250.0  # L/h at which a coil's drop is told
COLD_START_C = 20.0  # °C of the fluid on a cool morning
# data-sheet points of the pump station, water at 20 °C: flow [m³/s], drop [Pa]
STATION_UP_TO_L_H = 600.0  # beyond it a larger one is taken
STATION_POINTS = ((120 * LITRE_H, 450.0), (360 * LITRE_H, 3800.0))  # L/h and Pa of a usual station


@record
class Shares:
    """Where the head goes at one flow [Pa]."""

    pipe: float
    fittings: float
    station: float
    collectors: float
    coil: float

    @property
    def total(self) -> float:
        """All of it [Pa]."""
        return self.pipe + self.fittings + self.station + self.collectors + self.coil


@record
class Piece:
    """All pipe of one size in the loop: length and bore [m], and the fittings in it."""

    length: float
    bore: float
    material: str
    k_sum: float


@record
class LoopCurve:
    """The loop's friction at one temperature of the fluid."""

    pieces: tuple[Piece, ...]
    field: Field
    coil_point: tuple[float, float]
    density: float
    viscosity: float
    station: DropCurve

    def shares(self, flow: float) -> Shares:
        """Friction by part [Pa] at flow [m³/s]."""
        if flow <= 0:
            return Shares(0, 0, 0, 0, 0)
        fluid = {"density": self.density, "viscosity": self.viscosity}
        pipes = fittings = 0.0
        for piece in self.pieces:
            found = pipe_drop(
                length=piece.length, bore=piece.bore, flow=flow * self.density, material=piece.material, **fluid
            )
            pipes += found.pressure_drop
            fittings += piece.k_sum * self.density * found.velocity**2 / 2
        return Shares(
            pipes,
            fittings,
            self.station.drop(flow=flow, **fluid),
            self.field.drop(flow),
            coil_drop(flow=flow, rated_flow=self.coil_point[0] * LITRE_H, rated_drop=self.coil_point[1]),
        )

    def drop(self, flow: float) -> float:
        """Friction of the loop [Pa] at flow [m³/s]."""
        return self.shares(flow).total

    @property
    def bore(self) -> float:
        """The narrowest bore [m]."""
        return min(piece.bore for piece in self.pieces)

    @property
    def widest(self) -> float:
        """The widest bore [m]."""
        return max(piece.bore for piece in self.pieces)

    def velocity(self, flow: float) -> float:
        """Velocity in the narrowest pipe [m/s] at flow [m³/s]."""
        return flow / (math.pi / 4 * self.bore**2)

    def slowest(self, flow: float) -> float:
        """Velocity in the widest pipe [m/s] at flow [m³/s]."""
        return flow / (math.pi / 4 * self.widest**2)

    def with_k(self, more: float) -> LoopCurve:
        """The loop with more fittings in its first pipe."""
        first, *rest = self.pieces
        return replace(self, pieces=(replace(first, k_sum=first.k_sum + more), *rest))

    def in_bore(self, before: float, after: float) -> LoopCurve:
        """The loop with all pipe of one bore [m] laid in another."""
        return replace(
            self,
            pieces=tuple(replace(piece, bore=after if piece.bore == before else piece.bore) for piece in self.pieces),
        )


def _pieces(design: Design, route: Profile) -> tuple[Piece, ...]:
    """The pipes of a route by size; fittings that stand on no leg are in the cold line's pipe."""
    run = design.run
    sizes: dict[tuple[float, str], tuple[list[float], list[float]]] = {}
    main = run.laid("cold")
    check = run.non_return.value and design.pumped
    loose = run.bends.value * K_BEND + (K_NON_RETURN if check else 0.0)
    sizes[main.bore_m, main.material] = ([], [loose])
    for leg in route.legs():
        lengths, fittings = sizes.setdefault((leg.pipe.bore_m, leg.pipe.material), ([], []))
        lengths.append(leg.length)
        fittings.append(leg.k_sum)
    return tuple(
        Piece(math.fsum(lengths), bore, material, math.fsum(fittings))
        for (bore, material), (lengths, fittings) in sizes.items()
        if lengths or math.fsum(fittings) or len(sizes) == 1
    )


def _station(flow_l_h: float) -> DropCurve:
    """The drop of a station: that of a house up to its flow, a larger one of the same drop above it."""
    larger = max(1.0, flow_l_h / STATION_UP_TO_L_H)
    return drop_curve(points=[(flow * larger, drop) for flow, drop in STATION_POINTS])


def loop_curve(design: Design, route: Profile, *, temperature: float) -> LoopCurve:
    """Friction curve of a design's loop at a fluid temperature [°C]."""
    item = design.collector.item.value
    fluid = properties(volume_share=design.glycol_share, temperature=temperature)
    curve = drop_curve(points=[(q * LITRE_H, p) for q, p in item.drop_points_l_h_pa])
    return LoopCurve(
        pieces=_pieces(design, route),
        field=field_of(design, curve, density=fluid.density, viscosity=fluid.viscosity),
        # where the loop's water is the store's own no coil stands between
        coil_point=(COIL_RATED_L_H, 0.0) if design.through_store else exchanger_of(design).drop_l_h_pa,
        density=fluid.density,
        viscosity=fluid.viscosity,
        # a station belongs to a pump in a loop under pressure
        station=_station(design.run.flow_l_h.value) if design.pumped and not design.drains else DropCurve(0.0, 0.0),
    )


def maker_window(design: Design) -> tuple[float, float]:
    """The maker's flow window for the whole field [m³/s]: so much goes through each way the flow divides into."""
    item, paths = design.collector.item.value, design.flow_paths
    return item.least_flow_l_h * paths * LITRE_H, item.most_flow_l_h * paths * LITRE_H


def pump_curves(item: PumpItem) -> tuple[PumpCurve, ...]:
    """The curves of a pump's speeds, slowest first."""
    return tuple(PumpCurve([(q * LITRE_H, p) for q, p in speed.points_l_h_pa]) for speed in item.speeds)


def crossings(curves: tuple[PumpCurve, ...], loop: LoopCurve) -> tuple[OperatingPoint | None, ...]:
    """Operating point of each speed, None where the pump cannot start the flow."""
    found: list[OperatingPoint | None] = []
    for curve in curves:
        try:
            found.append(operating_point(pump=curve, loop=loop.drop))
        except NoOperatingPointError:
            found.append(None)
    return tuple(found)
