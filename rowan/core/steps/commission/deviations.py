"""What a reading says, as a table: each row fires on a comparison of formulas, or keeps silent. Source: methods 13, 14, 16.

Names that begin with `plan_` are this job's reckoning, the others what was read or follows from it; all SI, pressures at the gauge.
"""

from __future__ import annotations

from rowan.core.steps.commission.pressure_test import (
    COPPER_EXPANSION,
    LEAST_ALLOWANCE_PA,
    MOST_CHANGE_AIR_K,
    MOST_CHANGE_WATER_K,
    SURE_OF_TEMPERATURE_K,
)
from rowan.core.steps.commission.result import Derived, Rule
from rowan.core.terms.constants import KELVIN
from rowan.core.terms.units import LITRE

SHORT_SHARE, LATE_SHARE = 0.2, 1.4  # of the time reckoned, under and over which the colour says something; methods 16
EARLY_SHARE, EARLY_LAMINAR_SHARE = 0.7, 0.45  # below: a row does not flow; a laminar front runs ahead
LEAST_COLOUR_S = 20.0  # s that must be reckoned, or a hand on a watch says nothing
TUB_SHARE, TUB_LEAST = 0.1, 1 * LITRE  # the tub's fall is read to a tenth and a litre
AIR_LEAST = 0.2 * LITRE  # m³ pushed in, from which air is told
CHARGE_OFF_PA = 20e3  # Pa the charge as found may be off what was noted
FLUSHES = 3.0  # contents that run through before it counts as flushed; site, valves 3
BUCKET = 5 * LITRE  # m³ into the bucket by which a kit is timed
FILL_CLOSE_PA, FILL_OVER_PA = 5e3, 10e3  # Pa under and over the fill at which a vessel is left
STOPPED_CLOSE_PA = 10e3  # Pa the gauge may be off the fill once the pump stands; site, valves 11
DRAIN_LATE, FREEZE_SHARE, MARK_CLOSE_M = (
    1.5,
    1 / 3,
    2e-3,
)  # of the time reckoned, of the time to freeze, m off the mark; site, valves 9
SHARE_CLOSE, SHARE_STRONG = 0.01, 0.03  # a refractometer is read to a hundredth; stronger does no harm but to the flow
GAUGE_OFF_PA = (
    15e3  # Pa at nought: two gauges so far off swallow the gap between charge and fill; site, before anything
)
FLOW_LOW_SHARE = 0.7  # of the flow reckoned for the speed
NO_FLOW_TIMES = 2.0  # of the time reckoned, after which heat should have come
STAYS_CLOSE = 1 * LITRE  # m³, how well litres out are counted
# volume expansion of water [1/K] at 15 °C and what each kelvin adds between 10 and 25 °C; tables of water
WATER_EXPANSION_15, WATER_EXPANSION_MORE = 1.51e-4, 1.12e-5
STEADY_SHARE = 0.5  # of the rate before, under which what is re-pumped is falling off
TEN_MIN, LAST_MIN = 10.0, 30.0  # min between re-pumpings: at 10, at 20, at 50

DERIVED: tuple[Derived, ...] = (
    Derived("division", "gauge_division"),
    Derived("division", "plan_division"),
    Derived("allowance_air", f"max({LEAST_ALLOWANCE_PA:g}, division / 2)"),
    Derived("fill_flow", f"{BUCKET} / bucket_s"),
    Derived("fill_flow", "plan_kit_flow"),
    Derived("colour_due", "plan_contents / fill_flow"),
    Derived("tub_due", "plan_contents / plan_tub"),
    Derived("air_expected", f"(test_p1 + plan_air) * (test_t2 + {KELVIN}) / (test_t1 + {KELVIN}) - plan_air"),
    Derived("water_expansion", "plan_mix_expansion"),
    Derived("water_expansion", f"{WATER_EXPANSION_15} + {WATER_EXPANSION_MORE} * (test_t1 - 15)"),
    Derived("per_kelvin", f"(water_expansion - {3 * COPPER_EXPANSION}) / plan_stiffness"),
    Derived("water_expected", "test_p1 + per_kelvin * (test_t2 - test_t1)"),
    Derived("allowance_water", f"max(allowance_air, {SURE_OF_TEMPERATURE_K} * per_kelvin, -{SURE_OF_TEMPERATURE_K} * per_kelvin)"),
    Derived("least_water", "plan_contents * plan_stiffness * allowance_water"),
    Derived("least_air", "plan_contents * allowance_air / plan_air"),
    Derived("pocket_low", "raise_before - plan_static + plan_air"),
    Derived("pocket_high", "raise_peak - plan_static + plan_air"),
    Derived("pocket", "raise_litres * pocket_high / (pocket_high - pocket_low)"),
    Derived("charge_found", "(open_fill + plan_air) * (plan_vessel - open_litres) / plan_vessel - plan_air"),
    Derived("charge_by_gas", "(open_fill + plan_air) * (vessel_set + plan_air) / (stage_first + plan_air) - plan_air"),
    Derived("arrival_due", "plan_hot_line / run_flow"),
    Derived("loud", "run_loud"),
    Derived("loud", "0 * run_flow"),
    Derived("held_back", "plan_contents - plan_stays - release_out"),
)  # fmt: skip

# the mix in the tub put right: to a volume V of share s so much of concentrate c, or of water, for the share wanted
PREPARE = (
    Rule("tub_weak", "fix", f"tub_share < plan_tub_share - {SHARE_CLOSE} and plan_concentrate > plan_tub_share",
         "{r} in the tub instead of {e}: {v} more of concentrate, stirred, read again.",
         {"r": ("tub_share", "share_fine"), "e": ("plan_tub_share", "share_fine"),
          "v": ("mix_ready * (plan_tub_share - tub_share) / (plan_concentrate - plan_tub_share)", "volume")}),
    Rule("tub_strong", "mind", f"tub_share > plan_tub_share + {SHARE_STRONG}",
         "{r} in the tub instead of {e}: {v} more of water, stirred, read again.",
         {"r": ("tub_share", "share_fine"), "e": ("plan_tub_share", "share_fine"),
          "v": ("mix_ready * (tub_share - plan_tub_share) / plan_tub_share", "volume")}),
)  # fmt: skip

FLUID = (
    Rule("thinned", "fix", f"fluid_share < plan_share_wanted - {SHARE_CLOSE} and plan_concentrate > plan_share_wanted",
         "{r} in the loop instead of {e}: exchange {v} for concentrate, let it go round, read again.",
         {"r": ("fluid_share", "share_fine"), "e": ("plan_share_wanted", "share_fine"),
          "v": ("plan_contents * (plan_share_wanted - fluid_share) / (plan_concentrate - fluid_share)", "volume")}),
)  # fmt: skip

_TIMES = {"r": ("colour_s", "time"), "e": ("colour_due", "time")}
_TUB = {"r": ("tub_fell", "level"), "e": ("tub_due", "level")}
_P2 = ("test_p2", "pressure")

INSPECT = (
    Rule("too_hot", "stop", "field_c > plan_hottest_fill", "The field stands at {t}: cover it for an hour, or come back after dark.",
         {"t": ("field_c", "temperature")}),
    Rule("gauge_off", "mind", f"gauge_zero > {GAUGE_OFF_PA:g}", "The gauge shows {z} with nothing behind it: that is half the gap between charge and fill.",
         {"z": ("gauge_zero", "pressure")}),
)  # fmt: skip

VESSEL = (
    Rule("charge_falls", "fix", f"vessel_after < vessel_set - {LEAST_ALLOWANCE_PA:g}", "From {a} to {b} in ten minutes: the pin leaks, or the membrane is gone.",
         {"a": ("vessel_set", "pressure"), "b": ("vessel_after", "pressure")}),
)  # fmt: skip

FLUSH = (
    Rule("flushed_little", "fix", f"flush_out < {FLUSHES:g} * plan_contents - 0.0005", "{r} is less than three times the loop's {v}: go on till it runs clear.",
         {"r": ("flush_out", "volume"), "v": ("plan_contents", "volume")}),
)  # fmt: skip

TEST_AIR = (
    Rule("repeat_warmer", "mind", f"test_t2 - test_t1 > {MOST_CHANGE_AIR_K}", "It warmed by {k}: that says nothing. Cover the field, begin again.",
         {"k": ("test_t2 - test_t1", "difference")}),
    Rule("repeat_colder", "mind", f"test_t1 - test_t2 > {MOST_CHANGE_AIR_K}", "It cooled by {k}: that says nothing. Begin again when it is steady.",
         {"k": ("test_t1 - test_t2", "difference")}),
    Rule("leak", "fix", "test_p2 < air_expected - allowance_air",
         "At {t} it should have become {e}; it reads {r}, and under {l} is a leak. Soap on every joint.",
         {"t": ("test_t2", "temperature_fine"), "e": ("air_expected", "pressure"), "r": _P2, "l": ("air_expected - allowance_air", "pressure")}),
    Rule("tight", "pass", "test_p2 >= air_expected - allowance_air",
         "At {t} it should have become {e}; under {l} is a leak. It sees a loss of {v} of free air.",
         {"t": ("test_t2", "temperature_fine"), "e": ("air_expected", "pressure"), "l": ("air_expected - allowance_air", "pressure"),
          "v": ("least_air", "volume")}),
)  # fmt: skip

_FALLING = f"test_ml50 / {LAST_MIN} <= {STEADY_SHARE} * test_ml20 / {TEN_MIN}"
TEST_WATER = (
    Rule("repeat_warmer", "mind", f"test_t2 - test_t1 > {MOST_CHANGE_WATER_K}",
         "It warmed by {k}, which alone moves shut-in water by {d}: begin again at dusk, or covered.",
         {"k": ("test_t2 - test_t1", "difference"), "d": ("per_kelvin * (test_t2 - test_t1)", "pressure")}),
    Rule("repeat_colder", "mind", f"test_t1 - test_t2 > {MOST_CHANGE_WATER_K}",
         "It cooled by {k}, which alone moves shut-in water by {d}: begin again when it is steady.",
         {"k": ("test_t1 - test_t2", "difference"), "d": ("per_kelvin * (test_t1 - test_t2)", "pressure")}),
    Rule("rises", "fix", "test_p2 > water_expected + allowance_water",
         "It rose to {r} where {e} was right: the fill valve passes, or the main comes in through a pinhole in the coil.",
         {"r": _P2, "e": ("water_expected", "pressure")}),
    Rule("leak", "fix", f"test_p2 < water_expected - allowance_water and test_ml50 / {LAST_MIN} > {STEADY_SHARE} * test_ml20 / {TEN_MIN}",
         "{c} re-pumped after {b}: it does not fall off, so it is a leak. Dry paper on every joint.",
         {"b": ("test_ml20", "drops"), "c": ("test_ml50", "drops")}),
    Rule("leak_evenly", "fix", f"test_p2 >= water_expected - allowance_water and test_ml50 > least_water and test_ml50 / {LAST_MIN} > {STEADY_SHARE} * test_ml20 / {TEN_MIN}",
         "The needle stands because it was re-pumped: {c} after {b} does not fall off. Dry paper on every joint.",
         {"b": ("test_ml20", "drops"), "c": ("test_ml50", "drops")}),
    Rule("with_thermometer", "pass", f"test_p2 < test_p1 - allowance_water and test_p2 >= water_expected - allowance_water and {_FALLING}",
         "It fell to {r} in step with the thermometer: no leak. It sees a loss of {v}.",
         {"r": _P2, "v": ("least_water", "drops")}),
    Rule("tight", "pass", f"test_p2 >= test_p1 - allowance_water and {_FALLING}",
         "Re-pumped less each time, and the needle stands: tight. It sees a loss of {v}.", {"v": ("least_water", "drops")}),
    Rule("settles", "pass", f"test_p2 < water_expected - allowance_water and {_FALLING}",
         "{c} re-pumped after {b}: it falls off, hoses and joints settle. Tight; looked at again next day.",
         {"b": ("test_ml20", "drops"), "c": ("test_ml50", "drops")}),
    Rule("tight_still", "pass", "test_ml50 <= least_water and test_p2 >= water_expected - allowance_water",
         "Nothing to re-pump that this test could see, {v}: tight.", {"v": ("least_water", "drops")}),
)  # fmt: skip

RELEASE = (
    Rule("held_back", "mind", f"held_back > {STAYS_CLOSE}",
         "{v} stayed in besides what the coil keeps: a trap. It thins the mix, and where it is outside it freezes.", {"v": ("held_back", "volume")}),
    Rule("let_out", "pass", f"held_back <= {STAYS_CLOSE}", "Out but for what the coil keeps."),
)  # fmt: skip

FILL = (
    Rule("short_circuit", "fix", f"colour_s < {SHORT_SHARE} * colour_due and colour_due >= {LEAST_COLOUR_S}",
         "Back after {r} instead of {e}: a short way through the valve between the ports. Shut it, and fill again.", _TIMES),
    Rule("row_dead", "fix", f"colour_s >= {SHORT_SHARE} * colour_due and colour_s < plan_front * colour_due and colour_due >= {LEAST_COLOUR_S}",
         "Back after {r} instead of {e}: {s} of the loop is passed by. A row or a stretch does not flow.",
         {**_TIMES, "s": ("1 - colour_s / colour_due", "share")}),
    Rule("late_longer", "fix", f"colour_s > {LATE_SHARE} * colour_due and tub_fell > {1 + TUB_SHARE} * tub_due",
         "Back after {r} instead of {e}, and the tub fell {m} instead of {n}: the loop holds more than was drawn.",
         {**_TIMES, "m": ("tub_fell", "level"), "n": ("tub_due", "level")}),
    Rule("late_slower", "fix", f"colour_s > {LATE_SHARE} * colour_due and tub_fell <= {1 + TUB_SHARE} * tub_due",
         "Back after {r} instead of {e}, the tub fell as it should: less flows than thought. A kink, the check, a port half shut.", _TIMES),
    Rule("tub_less", "fix", f"tub_fell < {1 - TUB_SHARE} * tub_due and (tub_due - tub_fell) * plan_tub > {TUB_LEAST}",
         "The tub fell {r} instead of {e}: about {v} of air at the highest place without a vent, or water was left. The colour tells.",
         {**_TUB, "v": ("(tub_due - tub_fell) * plan_tub", "volume")}),
    Rule("tub_more", "fix", f"tub_fell > {1 + TUB_SHARE} * tub_due and (tub_fell - tub_due) * plan_tub > {TUB_LEAST} and colour_s <= {LATE_SHARE} * colour_due",
         "The tub fell {r} instead of {e}: the vessel is open, something leaks, or a stretch is longer than drawn.", _TUB),
    Rule("as_reckoned", "pass", f"colour_s >= plan_front * colour_due and colour_s <= {LATE_SHARE} * colour_due",
         "{r} against {e}: one turn, the whole loop.", _TIMES),
)  # fmt: skip

PURGE = (
    Rule("turned_little", "fix", "purge_s < plan_turns * colour_due - 1", "{r} is {n} turns of this loop, {m} are wanted.",
         {"r": ("purge_s", "minutes"), "n": ("purge_s / colour_due", "ratio"), "m": ("plan_turns", "count")}),
    Rule("turned", "pass", "purge_s >= plan_turns * colour_due - 1", "{n} turns of the loop.", {"n": ("purge_s / colour_due", "ratio")}),
)  # fmt: skip

RAISE = (
    Rule("air_inside", "fix", f"raise_litres > {AIR_LEAST} and raise_peak > raise_before", "{l} went in from {a} to {b}: about {v} of air sits on top. Purge again.",
         {"l": ("raise_litres", "volume"), "a": ("raise_before", "pressure"), "b": ("raise_peak", "pressure"), "v": ("pocket", "volume")}),
    Rule("falls", "fix", "raise_after < raise_peak - allowance_air", "From {a} to {b} in ten minutes: a joint, or air that still dissolves. Raise it again, then look.",
         {"a": ("raise_peak", "pressure"), "b": ("raise_after", "pressure")}),
    Rule("held", "pass", "raise_after >= raise_peak - allowance_air", "It holds. That no air is left it does not prove: the tub has said that."),
)  # fmt: skip

OPEN = (
    Rule("charge_off_low", "fix", f"charge_found < vessel_set - {CHARGE_OFF_PA}",
         "{l} went into the vessel: its charge stands at {c}, not at the {s} noted. Set it again, its liquid side empty.",
         {"l": ("open_litres", "volume"), "c": ("charge_found", "pressure"), "s": ("vessel_set", "pressure")}),
    Rule("charge_off_high", "fix", f"charge_found > vessel_set + {CHARGE_OFF_PA}",
         "Only {l} went into the vessel: its charge stands at {c}, not at the {s} noted, or its valve is shut.",
         {"l": ("open_litres", "volume"), "c": ("charge_found", "pressure"), "s": ("vessel_set", "pressure")}),
    Rule("as_left", "pass", f"open_fill >= plan_fill - {FILL_CLOSE_PA:g}", "{p} with the vessel open.", {"p": ("open_fill", "pressure")}),
)  # fmt: skip

RUN = (
    Rule("no_flow", "stop", f"arrival_s > {NO_FLOW_TIMES} * arrival_due", "Heat after {r} where {e} was right: it hums and hardly flows.",
         {"r": ("arrival_s", "time"), "e": ("arrival_due", "time")}),
    Rule("flow_low_air", "fix", f"run_flow < {FLOW_LOW_SHARE} * plan_flow and loud > 0.5", "{r} instead of {e}, loud and twitching: air. Bleed the pump, slow before fast.",
         {"r": ("run_flow", "flow"), "e": ("plan_flow", "flow")}),
    Rule("flow_low", "fix", f"run_flow < {FLOW_LOW_SHARE} * plan_flow and loud < 0.5", "{r} instead of {e}, quiet: a restriction. Setter, strainer, the check, a kink.",
         {"r": ("run_flow", "flow"), "e": ("plan_flow", "flow")}),
    Rule("flows", "pass", f"run_flow >= {FLOW_LOW_SHARE} * plan_flow", "{r} read, and heat came: it flows.", {"r": ("run_flow", "flow")}),
)  # fmt: skip

STOP = (
    Rule("drains_late", "fix", f"drain_s > {DRAIN_LATE} * plan_drain", "{r} instead of {e}: an air lock, too narrow a bore, or no air gets in behind it.",
         {"r": ("drain_s", "time"), "e": ("plan_drain", "time")}),
    Rule("freezes_first", "stop", f"drain_s > {FREEZE_SHARE} * plan_freezes", "{r} to empty, and a wet pipe freezes after {f}: too close.",
         {"r": ("drain_s", "time"), "f": ("plan_freezes", "time")}),
    Rule("level_short", "fix", f"level_short > {MARK_CLOSE_M}", "{m} short of the mark: water stays in a trap, or has leaked if it stays so.",
         {"m": ("level_short", "level")}),
    Rule("empties", "pass", f"drain_s <= {DRAIN_LATE} * plan_drain and level_short <= {MARK_CLOSE_M}", "Empty in {r}, the level back at its mark.", {"r": ("drain_s", "time")}),
)  # fmt: skip

_THREE = {"a": ("weeks_fill", "pressure"), "b": ("weeks_second", "pressure"), "c": ("weeks_third", "pressure")}
WEEKS = (
    Rule("fell", "fix", f"weeks_fill < plan_fill - {STOPPED_CLOSE_PA:g}", "{r} where {e} was left: falling by steps is air that came out, falling evenly a leak.",
         {"r": ("weeks_fill", "pressure"), "e": ("plan_fill", "pressure")}),
    Rule("falls_evenly", "fix", f"weeks_fill - weeks_third > {LEAST_ALLOWANCE_PA:g} and weeks_second - weeks_third > {STEADY_SHARE} * (weeks_fill - weeks_second)",
         "{a}, {b}, {c}, each cold: it falls evenly, so it is a leak. Look for it, do not top it up.", _THREE),
    Rule("falls_off", "mind", f"weeks_fill - weeks_third > {LEAST_ALLOWANCE_PA:g} and weeks_second - weeks_third <= {STEADY_SHARE} * (weeks_fill - weeks_second)",
         "{a}, {b}, {c}, each cold: it falls less each time. Air that still leaves: bleed, and read again.", _THREE),
    Rule("stands", "pass", f"weeks_fill >= plan_fill - {STOPPED_CLOSE_PA:g}", "It stands where it was left."),
)  # fmt: skip
