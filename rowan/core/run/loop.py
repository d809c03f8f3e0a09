"""Friction of the whole loop and where each pump speed lands on it."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.design.design import Design
from rowan.core.design.items import PumpItem
from rowan.core.errors import NoOperatingPointError
from rowan.core.media import properties
from rowan.core.run.friction import K_BEND, K_NON_RETURN, DropCurve, coil_drop, drop_curve, pipe_drop
from rowan.core.run.pump import OperatingPoint, PumpCurve, operating_point
from rowan.core.run.route import Profile

LITRE_H = 1e-3 / 3600
COIL_RATED_L_H = 250.0
COLD_START_C = 20.0
# data-sheet points of the pump station, water at 20 °C: flow [m³/s], drop [Pa]
STATION_POINTS = ((120 * LITRE_H, 450.0), (360 * LITRE_H, 3800.0))


@dataclass(frozen=True)
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


@dataclass(frozen=True)
class LoopCurve:
    """The loop's friction at one temperature of the fluid."""

    length: float
    bore: float
    material: str
    k_sum: float
    collector: DropCurve
    collectors: int
    coil_point: tuple[float, float]
    density: float
    viscosity: float
    station: DropCurve

    def shares(self, flow: float) -> Shares:
        """Friction by part [Pa] at flow [m³/s]."""
        if flow <= 0:
            return Shares(0, 0, 0, 0, 0)
        fluid = {"density": self.density, "viscosity": self.viscosity}
        mass_flow = flow * self.density
        pipe = pipe_drop(length=self.length, bore=self.bore, flow=mass_flow, material=self.material, **fluid)
        fittings = self.k_sum * self.density * pipe.velocity**2 / 2
        return Shares(
            pipe.pressure_drop,
            fittings,
            self.station.drop(flow=flow, **fluid),
            self.collector.drop(flow=flow / self.collectors, **fluid),
            coil_drop(flow=flow, rated_flow=self.coil_point[0] * LITRE_H, rated_drop=self.coil_point[1]),
        )

    def drop(self, flow: float) -> float:
        """Friction of the loop [Pa] at flow [m³/s]."""
        return self.shares(flow).total

    def velocity(self, flow: float) -> float:
        """Velocity in the pipe [m/s] at flow [m³/s]."""
        return flow / (3.141592653589793 / 4 * self.bore**2)


def loop_curve(design: Design, route: Profile, *, temperature: float) -> LoopCurve:
    """Friction curve of a design's loop at a fluid temperature [°C]."""
    run, item, pipe = design.run, design.collector.item.value, design.run.pipe.value
    fluid = properties(volume_share=design.glycol_share, temperature=temperature)
    points = [(q * LITRE_H, p) for q, p in item.drop_points_l_h_pa]
    return LoopCurve(
        length=route.length,
        bore=pipe.bore_m,
        material=pipe.material,
        k_sum=run.bends.value * K_BEND + (K_NON_RETURN if run.non_return.value else 0.0),
        collector=drop_curve(points=points),
        collectors=design.collector.count.value,
        # where the loop's water is the store's own no coil stands between
        coil_point=(COIL_RATED_L_H, 0.0) if design.through_store else design.store.item.value.coil_drop_l_h_pa,
        density=fluid.density,
        viscosity=fluid.viscosity,
        station=DropCurve(0.0, 0.0) if design.drains else drop_curve(points=STATION_POINTS),
    )


def maker_window(design: Design) -> tuple[float, float]:
    """The maker's flow window for the whole field [m³/s]."""
    item, count = design.collector.item.value, design.collector.count.value
    return item.least_flow_l_h * count * LITRE_H, item.most_flow_l_h * count * LITRE_H


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
