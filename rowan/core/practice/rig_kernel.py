"""The training rig step by step, compiled: liquid, glycol and air in cells from the fill port round to the drain, two tubs, a drill pump.

A cell is always full: of liquid, or of air. What is pushed in at the fill port pushes as much out at the drain, or lets the shut loop
rise: then air, vessel and pipe give way together. Air in a line that falls is carried from 0.4 m/s on; some stays in headers, pump and
coil until it is shaken loose. Sources: site, valves 6 to 9; methods 8, 10; practice 14.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from rowan.core.terms.constants import ATMOSPHERE_PA, GRAVITY

Array = NDArray[np.float64]
STEP_S = 0.25
FLOWS_M3_S = 1e-6  # under which nothing flows
CARRIED_M_S, STUCK_M_S = (
    0.40,
    0.15,
)  # speed at which a falling line gives its air, and under which it keeps it; site, valves
RELEASE_M3_S = 1.0e-3  # at which a raised loop comes down through an open drain
CRACKED_M3_S = 2.0e-5  # the same through a drain that is only cracked
BURP_PA, BURP_SHARE = 160e3, 0.5  # what shakes air out of its corner, and how much of it
CHECK_S, BETWEEN_S, CRACKED_SHARE = 10.0, 30.0, 0.9  # handles that free the air beside them; site, valves 8
STAYS = (
    1.5e-4,
    5.0e-5,
    2.0e-5,
    5.0e-5,
)  # m³ of air that stays in headers, pump, between the ports, coil, when liquid comes
FOAM_OF_AIR, FOAM_OF_LIQUID, FOAM_GONE_S = (
    0.5,
    0.004,
    150.0,
)  # foam made by air and by what plunges in, and how long it lasts
FOAM_DRAWN, MOST_FOAM_M3 = (
    0.05,
    1.5e-3,
)  # share of air in what is drawn from a foaming tub, and foam from which it is drawn
SHORT_SHARE = 0.9  # of what is pushed in that takes the short way between the ports when that stands open
VENT_SHARE = 0.6  # of what arrives on top that leaves by an open vent once it is liquid
# heat of a field in the sun: what its liquid takes of it in passing, from when it steams, how fast it gives that up, heat of
# evaporation [J/kg] and of the mix [J/kg·K] as tables of water have them, the blow of steam on the gauge [Pa]; rules of thumb but those two
TAKES, BOILS_C, QUENCH_S, LATENT, HEAT_CAPACITY, BLOW_PA = 0.8, 104.0, 12.0, 2.25e6, 3.8e3, 0.6e5
MOST_BOILED = 0.05  # of a cell's liquid that boils off in a step at most
RESEATS = 0.9  # of its pressure at which a relief closes again

# handles and switches, in this order in a row of them
FILL, DRAIN, BETWEEN, CHECK, VESSEL, VENT, DRILL, HOSE, COVER, JOINT = range(10)
SHUT, OPEN, HALF = 0.0, 1.0, 2.0
TUB_ONE, TUB_TWO = 0.0, 1.0
HANDLES = 10
# the state behind the cells: liquid, glycol and what is pushed in beyond a full loop
(
    TUB1, TUB1_G, TUB2, TUB2_G, SPILLED, SPILLED_G, CAN, CAN_G, EXTRA, EXTRA_G, FOAM, GAUGE, FLOW, BUBBLES, RAISED, CHECK_FOR, BETWEEN_FOR,
    DRAWN_AIR, RELIEVING, SECOND, INSIDE, FIELD_C, SUN_J, LOST_J, CARRIED_J, STEAM_J, STEAM_KG, STEAMS, VENTED,
) = range(29)  # fmt: skip
SCALARS = 29
POCKETS = 4
HEADER_POCKET, PUMP_POCKET, BETWEEN_POCKET, COIL_POCKET = range(POCKETS)


class Rig(NamedTuple):
    """What does not change: cells, each [m³], their rise from the one before [m], the first of the field's and the last; the pipe's
    area [m²]; density [kg/m³]; friction [Pa/(m³/s)²]; the drill's dead-head [Pa] and full flow [m³/s]; vessel [m³] and its charge
    [Pa gauge]; relief [Pa gauge]; stiffness [1/Pa]; the suction's mouth [m³ in tub 1]; where each pocket of air sits. The field's heat
    capacity [J/K], what the sun gives it uncovered [W], its loss [W/K] and the air about it [°C]; without heat where it has none. What a joint weeps
    [m³/(s·√Pa)] until somebody tightens it; what the gauge shows too much [Pa], which only those see who read it."""

    cells: int
    cell: float
    rise: Any
    top: int
    last_top: int
    area: float
    density: float
    friction: float
    dead: float
    full: float
    vessel: float
    charge: float
    relief: float
    stiffness: float
    volume: float
    mouth: float
    pocket_at: Any
    metal: float = 0.0
    sun: float = 0.0
    loses: float = 0.0
    air: float = 15.0
    leak: float = 0.0
    error: float = 0.0


compiled = njit(cache=True, nogil=True, error_model="numpy")


@compiled
def static_of(rig: Any, liquid: Array) -> float:
    """The column that the gauge carries while the drain is open [Pa]; a falling line helps only where it is full."""
    total = 0.0
    for n in range(rig.cells):
        share = liquid[n] / rig.cell
        if rig.rise[n] < 0.0 and share < 0.95:
            share = 0.0
        total += share * rig.rise[n]
    return max(total, 0.0) * rig.density * GRAVITY


@compiled
def column_of(rig: Any, liquid: Array) -> float:
    """The column from the gauge to the top, as it stands when nothing flows [Pa]."""
    height, top = 0.0, 0.0
    for n in range(rig.cells):
        # what falls on the way helps where it is full: a hump is no taller than it stands
        height += liquid[n] / rig.cell * rig.rise[n]
        top = max(top, height)
    return top * rig.density * GRAVITY


@compiled
def taken_in(rig: Any, over: float, rest: float, air: float, on: float) -> float:
    """What a shut loop has taken in at a gauge [m³] over what it held at rest: by its air, its vessel, its own give."""
    p, p0 = over + ATMOSPHERE_PA, rest + ATMOSPHERE_PA
    found = air * ATMOSPHERE_PA * (1.0 / p0 - 1.0 / p) + rig.volume * rig.stiffness * (over - rest)
    if on > 0.0 and over > rig.charge:
        found += rig.vessel * (1.0 - (rig.charge + ATMOSPHERE_PA) / p)
        if rest > rig.charge:
            found -= rig.vessel * (1.0 - (rig.charge + ATMOSPHERE_PA) / p0)
    return found


@compiled
def gauge_of(rig: Any, rest: float, air: float, on: float, extra: float) -> float:
    """The gauge of a shut loop with so much pushed in [Pa], by halving."""
    if extra <= 0.0:
        return rest
    low, high = rest, rest + 3e6
    for _ in range(48):
        middle = (low + high) / 2.0
        if taken_in(rig, middle, rest, air, on) < extra:
            low = middle
        else:
            high = middle
    return (low + high) / 2.0


@compiled
def pushed(
    rig: Any,
    s: Array,
    liquid: Array,
    glycol: Array,
    pocket: Array,
    comes: tuple[float, float, float],
    handles: Array,
) -> float:
    """Moves something round the loop: so much comes in [m³], a part of it liquid, with a share of glycol in that; as much leaves. Gives the
    air that left [m³]."""
    much, wet, share = comes
    carry = min(max((s[FLOW] / rig.area - STUCK_M_S) / (CARRIED_M_S - STUCK_M_S), 0.0), 1.0)
    come_l, come_g, come_a = much * wet, much * wet * share, much * (1.0 - wet)
    for n in range(rig.cells):
        inside = rig.cell
        for k in range(POCKETS):
            if rig.pocket_at[k] == n:
                inside -= max(pocket[k], 0.0)
        air = max(inside - liquid[n], 0.0)
        out = come_l + come_a
        # what leaves is what the cell holds; a falling line keeps its air where the flow is slow
        out_a = min(out * air / inside, air)
        if rig.rise[n] < 0.0 and liquid[n] > 0.02 * inside:
            out_a *= carry
        out_l = out - out_a
        if out_l > liquid[n]:
            out_a = min(out_a + out_l - liquid[n], air)
            out_l = out - out_a
        strength = glycol[n] / liquid[n] if liquid[n] > 1e-12 else 0.0
        taken = min(out_l, liquid[n])
        liquid[n] += come_l - taken
        glycol[n] += come_g - taken * strength
        come_l, come_g, come_a = taken, taken * strength, out - taken
        if n == rig.last_top and handles[VENT] != SHUT:
            gone_a = come_a
            come_a = 0.0
            gone_l = 0.0
            if gone_a < 0.2 * (come_l + gone_a):
                gone_l = come_l * VENT_SHARE
            s[SPILLED] += gone_l
            s[SPILLED_G] += gone_l * strength
            come_l -= gone_l
            come_g -= gone_l * strength
    # out at the drain, by the hose into a tub
    if handles[HOSE] == TUB_ONE:
        s[TUB1] += come_l
        s[TUB1_G] += come_g
        s[FOAM] += FOAM_OF_AIR * come_a + FOAM_OF_LIQUID * come_l
    else:
        s[TUB2] += come_l
        s[TUB2_G] += come_g
    return come_a


@compiled
def air_in(rig: Any, liquid: Array) -> float:
    """All air in the loop [m³], as it is without pressure."""
    total = 0.0
    for n in range(rig.cells):
        total += rig.cell - liquid[n]
    return total


@compiled
def freed(pocket: Array, which: int, share: float) -> None:
    """Frees a share of the air that sits in a corner: it is the cell's own from now on, and goes with the flow."""
    pocket[which] *= 1.0 - share


@compiled
def settles(rig: Any, liquid: Array, pocket: Array) -> None:
    """Air stays behind in each corner once liquid has come there."""
    for k in range(POCKETS):
        n = rig.pocket_at[k]
        if pocket[k] < 0.0 and liquid[n] > 0.5 * rig.cell:
            pocket[k] = min(STAYS[k], rig.cell - liquid[n])


@compiled
def drill(rig: Any, dt: float, against: float) -> float:
    """What the drill pump gives against a pressure [m³]."""
    return max(rig.full * (1.0 - against / rig.dead), 0.0) * dt


@compiled
def drawn(rig: Any, s: Array, much: float) -> tuple[float, float]:
    """Takes so much out of tub 1; gives the liquid part of it and its share of glycol. Under the suction's mouth it draws air."""
    if s[TUB1] <= rig.mouth:
        s[DRAWN_AIR] += much
        return 0.0, 0.0
    wet = 1.0 - FOAM_DRAWN * min(s[FOAM] / MOST_FOAM_M3, 1.0) if s[FOAM] > 0.3 * MOST_FOAM_M3 else 1.0
    share = s[TUB1_G] / s[TUB1]
    s[TUB1] -= much * wet
    s[TUB1_G] -= much * wet * share
    return wet, share


@compiled
def step(rig: Any, s: Array, liquid: Array, glycol: Array, pocket: Array, handles: Array) -> None:
    """One step of time with the handles as they stand."""
    dt = STEP_S
    s[SECOND] += dt
    s[FOAM] *= 1.0 - dt / FOAM_GONE_S
    s[STEAMS] = 0.0
    shines(rig, s, handles, dt)
    s[BUBBLES] = 0.0
    fed = handles[DRILL] > 0.0 and handles[FILL] != SHUT
    rest = column_of(rig, liquid)
    settles(rig, liquid, pocket)
    air = air_in(rig, liquid)
    if handles[DRAIN] != SHUT:
        flows(rig, s, liquid, glycol, pocket, handles, fed, dt)
    elif fed:
        s[FLOW] = 0.0
        wanted = drill(rig, dt, s[GAUGE])
        # no more than what brings it to what the pump reaches
        room = taken_in(rig, rig.dead, rest, air, handles[VESSEL]) - loose(s, handles)
        wanted = max(min(wanted, room), 0.0)
        wet, share = drawn(rig, s, wanted)
        s[EXTRA] += wanted * wet
        s[EXTRA_G] += wanted * wet * share
        s[GAUGE] = gauge_of(rig, rest, air, handles[VESSEL], loose(s, handles))
        s[RAISED] = max(s[RAISED], s[GAUGE])
    else:
        s[FLOW] = 0.0
        s[GAUGE] = gauge_of(rig, rest, air, handles[VESSEL], loose(s, handles))
    if handles[DRILL] <= 0.0 and handles[FILL] != SHUT:
        runs_back(rig, s, liquid, glycol, handles, dt)
    weeps(rig, s, handles, dt)
    vents(s, handles, dt)
    relieves(rig, s, rest, air, handles, dt)
    if handles[VESSEL] != SHUT:
        s[INSIDE] = min(inside_of(rig, s[GAUGE], rest), s[EXTRA])
    cracked(s, pocket, handles, dt)


@compiled
def loose(s: Array, handles: Array) -> float:
    """What is pushed in beyond a full loop and can come out again [m³]: a vessel that is shut keeps what it has."""
    return s[EXTRA] - (s[INSIDE] if handles[VESSEL] == SHUT else 0.0)


@compiled
def inside_of(rig: Any, over: float, rest: float) -> float:
    """What the vessel has taken in at a gauge over what it held at rest [m³]."""
    found = 0.0
    if over > rig.charge:
        found = rig.vessel * (1.0 - (rig.charge + ATMOSPHERE_PA) / (over + ATMOSPHERE_PA))
        if rest > rig.charge:
            found -= rig.vessel * (1.0 - (rig.charge + ATMOSPHERE_PA) / (rest + ATMOSPHERE_PA))
    return max(found, 0.0)


@compiled
def let_down(s: Array, handles: Array, dt: float, rate: float) -> tuple[float, float]:
    """Takes out of a raised loop what comes down in a step at a rate [m³/s]: how much [m³], and its share of glycol [-]."""
    much = min(loose(s, handles), rate * dt)
    share = s[EXTRA_G] / s[EXTRA]
    s[EXTRA] -= much
    s[EXTRA_G] -= much * share
    return much, share


@compiled
def flows(
    rig: Any, s: Array, liquid: Array, glycol: Array, pocket: Array, handles: Array, fed: bool, dt: float
) -> None:
    """The drain is open: what was raised comes down, what is pushed in goes round."""
    if loose(s, handles) > 0.0:
        rate = CRACKED_M3_S if handles[DRAIN] == HALF else RELEASE_M3_S
        much, share = let_down(s, handles, dt, rate)
        s[FLOW] = rate
        s[BUBBLES] += pushed(rig, s, liquid, glycol, pocket, (much, 1.0, share), handles) / dt
        if s[RAISED] > 0.0:
            shaken = BURP_SHARE * min(max(s[RAISED] - static_of(rig, liquid), 0.0) / BURP_PA, 1.0) ** 2
            freed(pocket, HEADER_POCKET, shaken)
            freed(pocket, COIL_POCKET, shaken)
            s[RAISED] = 0.0
    static = static_of(rig, liquid)
    s[FLOW] = 0.0
    s[GAUGE] = static
    left = loose(s, handles)
    if left > 0.0:  # the vessel still pushes
        s[GAUGE] = max(gauge_of(rig, column_of(rig, liquid), air_in(rig, liquid), handles[VESSEL], left), static)
    if not fed:
        return
    narrow = 3.0 if handles[DRAIN] == HALF else 1.0
    b, c = rig.dead / rig.full, static - rig.dead
    k = rig.friction * narrow
    flow = 0.0 if c >= 0.0 else (-b + np.sqrt(b * b - 4.0 * k * c)) / (2.0 * k)
    wet, share = drawn(rig, s, flow * dt)
    if handles[BETWEEN] != SHUT:
        past = SHORT_SHARE if handles[BETWEEN] == OPEN else 0.5 * SHORT_SHARE
        short = flow * dt * past
        # straight to the drain, and back to where the hose hangs
        if handles[HOSE] == TUB_ONE:
            s[TUB1] += short * wet
            s[TUB1_G] += short * wet * share
        else:
            s[TUB2] += short * wet
            s[TUB2_G] += short * wet * share
        flow *= 1.0 - past
    s[FLOW] = flow
    s[GAUGE] = static + k * flow * flow
    s[BUBBLES] += pushed(rig, s, liquid, glycol, pocket, (flow * dt, wet, share), handles) / dt
    cools(rig, s, liquid, glycol, flow * dt * liquid[rig.top] / rig.cell, dt)


@compiled
def shines(rig: Any, s: Array, handles: Array, dt: float) -> None:
    """What the sun gives an uncovered field, and what it loses to the air."""
    if rig.metal <= 0.0:
        return
    gain = rig.sun if handles[COVER] == SHUT else 0.0
    loss = rig.loses * (s[FIELD_C] - rig.air)
    s[FIELD_C] += (gain - loss) * dt / rig.metal
    s[SUN_J] += gain * dt
    s[LOST_J] += loss * dt


@compiled
def cools(rig: Any, s: Array, liquid: Array, glycol: Array, much: float, dt: float) -> None:
    """Liquid that passes the field [m³] takes heat from it; over boiling it steams, and what steams is blown off."""
    if rig.metal <= 0.0 or much <= 0.0:
        return
    if s[FIELD_C] > BOILS_C:
        hot = rig.metal * (s[FIELD_C] - BOILS_C) * min(dt / QUENCH_S, 1.0)
        # water boils off, glycol stays
        water = max(liquid[rig.top] - glycol[rig.top], 0.0)
        boiled = min(hot / LATENT / rig.density, MOST_BOILED * water)
        hot = boiled * rig.density * LATENT
        liquid[rig.top] -= boiled
        s[SPILLED] += boiled
        s[FIELD_C] -= hot / rig.metal
        s[STEAM_J] += hot
        s[STEAM_KG] += boiled * rig.density
        if boiled > 0.0:
            s[STEAMS] = 1.0
            s[GAUGE] += BLOW_PA
            s[FOAM] += FOAM_OF_AIR * boiled
    taken = min(much * rig.density * HEAT_CAPACITY * TAKES, 0.5 * rig.metal) * (s[FIELD_C] - rig.air)
    s[FIELD_C] -= taken / rig.metal
    s[CARRIED_J] += taken


@compiled
def runs_back(rig: Any, s: Array, liquid: Array, glycol: Array, handles: Array, dt: float) -> None:
    """The drill stands and the fill is open: what was raised, then the column, runs back into tub 1."""
    if loose(s, handles) > 0.0:
        much, share = let_down(s, handles, dt, RELEASE_M3_S)
        s[TUB1] += much
        s[TUB1_G] += much * share
        return
    # the rising line empties from its top, air comes after by whatever stands open
    for n in range(rig.last_top, -1, -1):
        if liquid[n] > 1e-9:
            much = min(liquid[n], 0.2 * RELEASE_M3_S * dt)
            share = glycol[n] / liquid[n]
            liquid[n] -= much
            glycol[n] -= much * share
            s[TUB1] += much
            s[TUB1_G] += much * share
            return


@compiled
def vents(s: Array, handles: Array, dt: float) -> None:
    """What was raised sprays out at a vent that is opened on top."""
    if handles[VENT] == SHUT or loose(s, handles) <= 0.0:
        return
    much, share = let_down(s, handles, dt, RELEASE_M3_S)
    s[SPILLED] += much
    s[SPILLED_G] += much * share
    s[VENTED] += much


@compiled
def weeps(rig: Any, s: Array, handles: Array, dt: float) -> None:
    """A joint that weeps lets out what was pushed in beyond a full loop; the next step's gauge shows it."""
    if rig.leak <= 0.0 or handles[JOINT] != SHUT or s[GAUGE] <= 0.0:
        return
    much = min(max(loose(s, handles), 0.0), rig.leak * np.sqrt(s[GAUGE]) * dt)
    if much > 0.0:
        share = s[EXTRA_G] / s[EXTRA]
        s[EXTRA] -= much
        s[EXTRA_G] -= much * share
        s[SPILLED] += much
        s[SPILLED_G] += much * share


@compiled
def relieves(rig: Any, s: Array, rest: float, air: float, handles: Array, dt: float) -> None:
    """The relief opens at its pressure, and closes again some tenths below."""
    if s[GAUGE] >= rig.relief:
        s[RELIEVING] = 1.0
    if s[RELIEVING] > 0.0 and loose(s, handles) > 0.0:
        much, share = let_down(s, handles, dt, RELEASE_M3_S)
        s[CAN] += much
        s[CAN_G] += much * share
        s[GAUGE] = gauge_of(rig, rest, air, handles[VESSEL], loose(s, handles))
    if s[GAUGE] < RESEATS * rig.relief:
        s[RELIEVING] = 0.0


@compiled
def cracked(s: Array, pocket: Array, handles: Array, dt: float) -> None:
    """The check held half open for ten seconds in a flow frees the pump's air, the valve between cracked for thirty its own."""
    flowing = s[FLOW] > FLOWS_M3_S
    s[CHECK_FOR] = s[CHECK_FOR] + dt if handles[CHECK] == HALF and flowing else 0.0
    s[BETWEEN_FOR] = s[BETWEEN_FOR] + dt if handles[BETWEEN] == HALF and flowing else 0.0
    if CHECK_S <= s[CHECK_FOR] < CHECK_S + dt:
        freed(pocket, PUMP_POCKET, CRACKED_SHARE)
    if BETWEEN_S <= s[BETWEEN_FOR] < BETWEEN_S + dt:
        freed(pocket, BETWEEN_POCKET, CRACKED_SHARE)


@compiled
def run(rig: Any, s: Array, liquid: Array, glycol: Array, pocket: Array, handles: Array, steps: int) -> None:
    """So many steps with the handles as they stand."""
    for _ in range(steps):
        step(rig, s, liquid, glycol, pocket, handles)
