"""The ring of cold line, field, hot line and coil, with flow and at rest. Source: methods 6.

The ring is linear in its inlet temperature, so the inlet is solved exactly: every part maps an entering temperature x to
a + b·x, and x closes the ring. Each part's map is made for itself, so that none waits for the one before.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.compiling import called, inlined
from rowan.core.simulation.controller import ABSOLUTE_ZERO_C, DUMPS, FROST_ON, SPEED, WHY
from rowan.core.simulation.plant import (
    COIL,
    COLLECTOR,
    DUMPED,
    ELECTRIC,
    FROST,
    LINE_LOSS,
    PUMP_HEAT,
    PUMP_TIME,
    STAGNATION_TIME,
    WASTED,
)
from rowan.core.simulation.table import (
    BASE,
    CAPACITY,
    COIL_UA,
    GAIN,
    KEEPS,
    LEAK,
    LOSES,
    OUTDOORS,
    PASSES,
    RESTS,
    TAKES,
)

Array = NDArray[np.float64]


@inlined
def hottest_of(p: Any, t: Array) -> float:
    """The field's hottest node [°C]."""
    hottest = t[p.field0]
    for i in range(p.field0, p.hot0):
        hottest = max(hottest, t[i])
    return hottest


@called
def set_rest(p: Any, w: Array, pace: int, step: float) -> None:
    """What lines and store keep and lose in a step of a pace at rest."""
    for i in range(p.cold0, p.end):
        w[LOSES + pace, i] = w[LEAK, i] * step
        w[RESTS + pace, i] = w[CAPACITY, i] / (w[CAPACITY, i] + w[LEAK, i] * step)


@inlined
def set_line(w: Array, first: int, end: int, mcp: float, step: float) -> float:
    """What a line's nodes keep, take and pass on at a heat capacity rate [W/K]; gives what the line passes on whole [-]."""
    whole = 1.0
    for i in range(first, end):
        held = w[CAPACITY, i] / step
        part = 1.0 / (held + mcp + w[LEAK, i])
        w[KEEPS, i] = held * part
        w[TAKES, i] = w[LEAK, i] * part
        w[PASSES, i] = mcp * part
        whole *= w[PASSES, i]
    return whole


@inlined
def set_flow(p: Any, w: Array, mcp: float) -> tuple[float, float, float]:
    """What cold line, hot line and coil pass on of an entering temperature at a heat capacity rate [W/K].

    A direct loop passes through the store's water itself, node by node; a coil leaves exp(−UA/ṁc) of a difference.
    """
    coil = 1.0
    for i in range(p.coil0, p.coil1):
        if p.return_node >= 0:
            w[PASSES, i] = mcp / (p.node_capacity / p.step + mcp)
        else:
            w[PASSES, i] = np.exp(-w[COIL_UA, i] / mcp)
        coil *= w[PASSES, i]
    return set_line(w, p.cold0, p.field0, mcp, p.step), set_line(w, p.hot0, p.store0, mcp, p.step), coil


@inlined
def line_base(t: Array, w: Array, first: int, end: int, room: float, over: float) -> float:
    """What leaves a line that is entered at 0 °C; `over` is how much warmer the air outdoors is than the room [K]."""
    a = 0.0
    for i in range(first, end):
        base = w[KEEPS, i] * t[i] + w[TAKES, i] * (room + w[OUTDOORS, i] * over)
        w[BASE, i] = base
        a = base + w[PASSES, i] * a
    return a


@inlined
def line_run(t: Array, w: Array, first: int, end: int, room: float, over: float, entering: float) -> float:
    """Moves a line on with the pump running; gives the heat lost [J]."""
    lost = 0.0
    for i in range(first, end):
        entering = w[BASE, i] + w[PASSES, i] * entering
        t[i] = entering
        lost += w[LOSES, i] * (entering - room - w[OUTDOORS, i] * over)
    return lost


@inlined
def line_rest(p: Any, t: Array, w: Array, pace: int, air: float) -> float:
    """Lets both lines cool with the pump off; gives the heat lost [J]. What has drained stands in the reservoir."""
    lost, over = 0.0, air - p.room
    rests, loses = RESTS + pace, LOSES + pace
    for first, end in ((p.cold0, p.field0), (p.hot0, p.store0)):
        for i in range(first, end):
            if p.drains and w[OUTDOORS, i] > 0.0:
                continue
            around = p.room + w[OUTDOORS, i] * over
            left = w[rests, i] * (t[i] - around)
            t[i] = around + left
            lost += w[loses, i] * left
    return lost


@inlined
def string_base(
    t: Array, w: Array, first: int, end: int, own: tuple[float, float, float, float], sun: float, air: float, mcp: float
) -> tuple[float, float]:
    """What a string makes of an entering temperature; a2 linearised with each node's old temperature.

    `own` is a node's aperture [m²], its capacity over the step [W/K], and what it loses [W/m²K, W/m²K²].
    """
    part, held, a1, a2 = own
    a, b = 0.0, 1.0
    for i in range(first, end):
        loss = part * (a1 + a2 * abs(t[i] - air))
        whole = 1.0 / (held + mcp + loss)
        passes = mcp * whole
        base = (held * t[i] + part * sun + loss * air) * whole
        w[BASE, i], w[PASSES, i] = base, passes
        a = base + passes * a
        b *= passes
    return a, b


@inlined
def field_base(p: Any, t: Array, w: Array, sky: Any, mcp: float) -> tuple[float, float]:
    """What the field makes of an entering temperature: its one string, or two that divide the flow and are mixed at the tee."""
    sun, air, other = sky
    part, held = p.field_gain / p.field_nodes, p.field_capacity / p.field_nodes / p.step
    if p.beside_share <= 0.0:
        return string_base(t, w, p.field0, p.hot0, (part, held, p.a1, p.a2), sun, air, mcp)
    share = p.beside_share
    a, b = string_base(t, w, p.field0, p.beside0, (part, held, p.a1, p.a2), sun, air, mcp * (1.0 - share))
    part, held = p.beside_gain / p.beside_nodes, p.beside_capacity / p.beside_nodes / p.step
    a2, b2 = string_base(t, w, p.beside0, p.hot0, (part, held, p.a1, p.a2), other, air, mcp * share)
    return a + share * (a2 - a), b + share * (b2 - b)


@inlined
def string_rest(p: Any, t: Array, first: int, end: int, part: float, held: float, sun: float, air: float) -> float:
    """Lets a string stand for a step; gives its hottest node [°C]."""
    hottest = ABSOLUTE_ZERO_C
    for i in range(first, end):
        loss = part * (p.a1 + p.a2 * abs(t[i] - air))
        t[i] = (held * t[i] + part * sun + loss * air) / (held + loss)
        hottest = max(hottest, t[i])
    return hottest


@inlined
def field_rest(p: Any, t: Array, step: float, sky: Any) -> float:
    """Lets the field stand for a step; gives its hottest node [°C]. A drained one holds no liquid."""
    sun, air, other = sky
    part, held = p.field_gain / p.field_nodes, (p.field_capacity - p.field_liquid) / p.field_nodes / step
    if p.beside_share <= 0.0:
        return string_rest(p, t, p.field0, p.hot0, part, held, sun, air)
    hottest = string_rest(p, t, p.field0, p.beside0, part, held, sun, air)
    part, held = p.beside_gain / p.beside_nodes, (p.beside_capacity - p.beside_liquid) / p.beside_nodes / step
    return max(hottest, string_rest(p, t, p.beside0, p.hot0, part, held, other, air))


@inlined
def string_run(t: Array, w: Array, first: int, end: int, entering: float) -> float:
    """Moves a string on with the pump running; gives its hottest node [°C]."""
    hottest = ABSOLUTE_ZERO_C
    for i in range(first, end):
        entering = w[BASE, i] + w[PASSES, i] * entering
        t[i] = entering
        hottest = max(hottest, entering)
    return hottest


@inlined
def ring(
    p: Any, t: Array, w: Array, m: Array, total: Array, mcp: float, passes: tuple[float, float, float], sky: Any
) -> float:
    """One step with flow: the inlet is solved, then every part is moved on; gives the field's hottest node [°C].

    `passes` is what cold line, hot line and coil pass on; `sky` sun, air and the sun on the other plane. A dump to the open air stands in for the coil.
    """
    air = sky[1]
    b_cold, b_hot, b_coil = passes
    step, over = p.step, air - p.room
    power = p.pump_heat
    share = 1.0
    if m[SPEED] < 1.0:
        share = m[SPEED] ** 3  # affinity
        power *= share
    dumps = p.used > 0 and m[WHY] == DUMPS
    a_cold = line_base(t, w, p.cold0, p.field0, p.room, over)
    a_field, b_field = field_base(p, t, w, sky, mcp)
    a_hot = line_base(t, w, p.hot0, p.store0, p.room, over)
    a_coil = 0.0
    if dumps:
        b_coil = np.exp(-p.dump_w_k / mcp)
        a_coil = air * (1.0 - b_coil)
    else:
        for i in range(p.coil0, p.coil1):
            w[BASE, i] = t[i] * (1.0 - w[PASSES, i])
            a_coil = w[BASE, i] + w[PASSES, i] * a_coil
    a = a_coil + b_coil * (a_hot + b_hot * (a_field + b_field * a_cold))
    inlet = (a + power / mcp) / (1.0 - b_coil * b_hot * b_field * b_cold)
    before = a_cold + b_cold * inlet
    after = a_field + b_field * before
    arrives = a_hot + b_hot * after
    total[COLLECTOR] += mcp * (after - before) * step
    total[LINE_LOSS] += line_run(t, w, p.cold0, p.field0, p.room, over, inlet)
    total[LINE_LOSS] += line_run(t, w, p.hot0, p.store0, p.room, over, after)
    hottest = string_run(t, w, p.field0, p.beside0, before)
    if p.beside_share > 0.0:
        hottest = max(hottest, string_run(t, w, p.beside0, p.hot0, before))
    if dumps:
        total[DUMPED] += mcp * (arrives - air) * (1.0 - b_coil) * step
    else:
        heat = coil_run(p, t, w, mcp * step, arrives)
        total[COIL] += heat
        if heat < 0.0:
            total[WASTED] -= heat
            if m[FROST_ON] > 0.0:
                total[FROST] -= heat
    total[PUMP_HEAT] += power * step
    total[ELECTRIC] += p.pump_power * share * step
    total[PUMP_TIME] += step
    return hottest


@inlined
def coil_run(p: Any, t: Array, w: Array, carried: float, entering: float) -> float:
    """Heat that coil or flow leaves in each node [J], put down as its gain; gives the sum. `carried` is ṁ·c·Δt [J/K]."""
    heat = 0.0
    for i in range(p.coil0, p.coil1):
        leaving = w[BASE, i] + w[PASSES, i] * entering
        gain = carried * (entering - leaving)
        w[GAIN, i] += gain
        heat += gain
        entering = leaving
    return heat


@called
def fill(p: Any, t: Array) -> None:
    """A dry field is filled from the reservoir, the cold line's first node: liquid and absorber share their heat."""
    dry = p.field_capacity - p.field_liquid
    for i in range(p.field0, p.beside0):
        t[i] = (dry * t[i] + p.field_liquid * t[0]) / p.field_capacity
    dry = p.beside_capacity - p.beside_liquid
    for i in range(p.beside0, p.hot0):
        t[i] = (dry * t[i] + p.beside_liquid * t[0]) / p.beside_capacity


@called
def drain(p: Any, t: Array, w: Array, total: Array) -> None:
    """Field and outdoor lines empty into the reservoir, which takes up their heat."""
    reservoir = t[0]
    of_field, back = 0.0, 0.0
    for i in range(p.field0, p.beside0):
        of_field += p.field_liquid * (t[i] - reservoir) / p.field_nodes
    for i in range(p.beside0, p.hot0):
        of_field += p.beside_liquid * (t[i] - reservoir) / p.beside_nodes
    for i in range(p.cold0, p.store0):
        if w[OUTDOORS, i] > 0.0:
            back += w[CAPACITY, i] * (t[i] - reservoir)
            t[i] = reservoir
    total[COLLECTOR] += of_field
    t[0] = reservoir + (of_field + back) / w[CAPACITY, 0]


@inlined
def rest(p: Any, t: Array, w: Array, total: Array, pace: int, step: float, sky: Any) -> float:
    """One step with the pump off; gives the field's hottest node [°C]."""
    hottest = field_rest(p, t, step, sky)
    total[LINE_LOSS] += line_rest(p, t, w, pace, sky[1])
    if hottest >= p.stagnation:
        total[STAGNATION_TIME] += step
    return hottest
