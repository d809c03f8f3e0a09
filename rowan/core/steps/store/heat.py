"""How hot a store and its taps may become, and the temperatures that matter to people.

A limit of the controller holds the sun alone: what else heats the water has its own. Source: practice of the trade, system and store.
"""

from __future__ import annotations

from rowan.core.design.design import Design

SCALD_C = 50.0  # °C at the tap that hurts
UNLIMITED_STORE_C = 95.0  # °C a store comes to in summer where no limit acts; practice, thermosiphon
HOT_STORE_C = 60.0  # °C at which hygiene is served


def hottest_tap(design: Design, limit: float | None = None) -> float:
    """The hottest water that may come to a tap [°C], with the store limited as it is or to `limit`: what the sun, the backup
    or a weekly pass heat it to. No limit acts on a loop without a pump, nor on a fire."""
    store = design.store
    found = [store.maximum_c.value if limit is None else limit]
    if not design.pumped or store.solid_fuel.value != "none":
        found.append(UNLIMITED_STORE_C)
    if store.backup.value != "none":
        found.append(store.backup_c.value)
        if store.hygiene.value == "weekly":
            found.append(design.functions.hygiene_c.value)
    return max(found)
