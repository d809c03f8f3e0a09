"""`bin/rowan tables`: makes the core's fluid tables anew from CoolProp, which only tests and this command need."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.polynomial import chebyshev
from numpy.typing import NDArray

Array = NDArray[np.float64]
KELVIN = 273.15
PRESSURE_PA = 3e5
PLACE = Path(__file__).resolve().parents[1] / "core" / "fluid_tables.py"
# ranges of the fits and their degrees: beyond these nothing is gained that is printed
LIQUID, SATURATED, VAPOUR = (0.01, 133.0, 18), (133.0, 200.0, 12), (0.01, 350.0, 24)
SHARE, FROST_DEGREE = (0.10, 0.60), 12
MIXTURE_T, MIXTURE_DEGREES = (-35.0, 100.0), (5, 7)
POINTS = 400


def _nodes(low: float, high: float, count: int) -> tuple[Array, Array]:
    x = np.cos(np.pi * (np.arange(count) + 0.5) / count)
    return x, (low + high) / 2 + (high - low) / 2 * x


def _line(value: Callable[[float], float], low: float, high: float, degree: int) -> list[float]:
    x, t = _nodes(low, high, POINTS)
    return [float(c) for c in chebyshev.chebfit(x, np.array([value(v) for v in t]), degree)]


def _plane(value: Callable[[float, float], float]) -> list[list[float]]:
    """Coefficients by share and temperature; the library's own polynomials are of these degrees, so the fit is exact."""
    x, shares = _nodes(*SHARE, 14)
    y, temperatures = _nodes(*MIXTURE_T, 16)
    rows, found = [], []
    for i, share in enumerate(shares):
        for j, t in enumerate(temperatures):
            try:
                found.append(value(float(share), float(t)))
            except ValueError:  # below the frost point there is nothing to be fitted
                continue
            rows.append((x[i], y[j]))
    at = np.array(rows)
    matrix = chebyshev.chebvander2d(at[:, 0], at[:, 1], MIXTURE_DEGREES)
    solved = np.linalg.lstsq(matrix, np.array(found), rcond=None)[0]
    return [[float(c) for c in row] for row in solved.reshape([d + 1 for d in MIXTURE_DEGREES])]


def tables() -> dict[str, object]:
    """All coefficients by name, made from CoolProp."""
    from CoolProp.CoolProp import PT_INPUTS, QT_INPUTS, AbstractState, PropsSI

    water, mixture = AbstractState("HEOS", "Water"), AbstractState("INCOMP", "APG")
    of: dict[str, Callable[[Any], float]] = {
        "density": lambda s: s.rhomass(),
        "heat_capacity": lambda s: s.cpmass(),
        "viscosity": lambda s: float(np.log(s.viscosity())),
        "conductivity": lambda s: s.conductivity(),
    }

    def liquid(name: str) -> Callable[[float], float]:
        def value(t: float) -> float:
            water.update(PT_INPUTS, PRESSURE_PA, t + KELVIN)
            return float(of[name](water))

        return value

    def saturated(read: Callable[[Any], float]) -> Callable[[float], float]:
        def value(t: float) -> float:
            water.update(QT_INPUTS, 0.0, t + KELVIN)
            return float(read(water))

        return value

    def mixed(name: str) -> Callable[[float, float], float]:
        def value(share: float, t: float) -> float:
            mixture.set_volu_fractions([share])
            mixture.update(PT_INPUTS, PRESSURE_PA, t + KELVIN)
            return float(of[name](mixture))

        return value

    def frost(share: float) -> float:
        return float(PropsSI("T_FREEZE", "P", PRESSURE_PA, "T", 300, f"INCOMP::APG[{share}]")) - KELVIN

    return {
        "LIQUID": {name: _line(liquid(name), *LIQUID) for name in of},
        "SATURATED": {name: _line(saturated(read), *SATURATED) for name, read in of.items()},
        "VAPOUR": _line(saturated(lambda s: float(np.log(s.p()))), *VAPOUR),
        "FROST": _line(frost, *SHARE, FROST_DEGREE),
        "MIXTURE": {name: _plane(mixed(name)) for name in of},
    }


def write_tables() -> None:
    """Write the module of tables."""
    made = tables()
    ranges = {
        "LIQUID_C": LIQUID[:2],
        "SATURATED_C": SATURATED[:2],
        "VAPOUR_C": VAPOUR[:2],
        "SHARES": SHARE,
        "MIXTURE_C": MIXTURE_T,
    }
    lines = [
        '"""Coefficients of Chebyshev series for water and propylene glycol mixtures, made by `bin/rowan tables` from CoolProp',
        "(IAPWS water; ASHRAE mixtures as its incompressible `APG`); a test holds them to it. Viscosity and vapour pressure are",
        'logarithms. Water to 133 °C at 3 bar absolute, above it saturated liquid."""',
        "",
        "# fmt: off",
        *(f"{name} = {value!r}" for name, value in ranges.items()),
        *(f"{name} = {value!r}" for name, value in made.items()),
        "# fmt: on",
    ]
    PLACE.write_text("\n".join(lines) + "\n", encoding="utf-8")
    print(f"written: {PLACE.relative_to(PLACE.parents[2])}")
