"""Backup wiring: what is live follows from the drawn rungs, in every combination and with every device dead."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.steps.control.wiring import (
    Arrangement,
    Wiring,
    alive,
    arrangements_of,
    changed_conductors,
    conductors,
    deaths,
    truth_table,
    wiring_of,
)

ARRANGEMENTS: tuple[Arrangement, ...] = ("coil", "element", "second", "winter", "summer")


def heats(wiring: Wiring, **closed: bool) -> bool:
    works = alive(wiring, closed).works
    return any(rung.load.heats and rung.load.key in works for rung in wiring.rungs)


@pytest.mark.parametrize("arrangement", ARRANGEMENTS)
def test_the_high_limit_stops_everything_in_every_combination(arrangement: Arrangement) -> None:
    wiring = wiring_of(arrangement)
    rows = truth_table(wiring)
    assert len(rows) == 2 ** len(wiring.contacts)
    heating = [row for row in rows if any(r.load.heats and r.load.key in row.works for r in wiring.rungs)]
    assert heating
    assert all(row.closed["high_limit"] for row in heating)


def test_permission_stands_in_series_with_the_programmer() -> None:
    wiring = wiring_of("coil")
    assert heats(wiring, programmer=True, permission=True, high_limit=True)
    assert not heats(wiring, programmer=False, permission=True, high_limit=True)
    assert not heats(wiring, programmer=True, permission=False, high_limit=True)
    assert heats(wiring, programmer=True, fallback=True, high_limit=True), "the fallback goes past the permission"
    assert not heats(wiring, fallback=True, high_limit=True), "and not past the programmer"


def test_the_boiler_follows_the_valve_s_end_switch() -> None:
    wiring = wiring_of("coil")
    on = alive(wiring, {"programmer": True, "permission": True, "high_limit": True})
    assert on.works == {"valve", "boiler"}
    stuck = alive(wiring, {"programmer": True, "permission": True, "high_limit": True}, dead={"valve": "open"})
    assert stuck.works == frozenset(), "a valve that does not open never starts the boiler"
    welded = alive(wiring, {}, dead={"end_switch": "closed"})
    assert welded.works == {"boiler"}, "an end switch that is welded runs the boiler against a shut valve"


def test_an_element_needs_all_to_agree_and_a_boost_goes_past_clock_and_tariff() -> None:
    wiring = wiring_of("element")
    usual = {"window": True, "thermostat": True, "off_peak": True, "high_limit": True}
    assert heats(wiring, **usual)
    for key in usual:
        assert not heats(wiring, **(usual | {key: False}))
    assert heats(wiring, boost=True, thermostat=True, high_limit=True)
    assert not heats(wiring, boost=True, high_limit=True), "a boost never goes past the thermostat"


@given(st.sampled_from(ARRANGEMENTS), st.data())
def test_one_more_closed_contact_never_takes_heat_away(arrangement: Arrangement, data: st.DataObject) -> None:
    wiring = wiring_of(arrangement)
    keys = [contact.key for contact in wiring.contacts]
    row = data.draw(st.fixed_dictionaries({key: st.booleans() for key in keys}))
    key = data.draw(st.sampled_from(keys))
    assert alive(wiring, row).works <= alive(wiring, row | {key: True}).works


def test_a_dead_controller_leaves_the_fallback() -> None:
    found = {(d.contact.key, d.state): d for d in deaths(wiring_of("coil"))}
    assert found["permission", "open"].heats
    assert found["permission", "open"].by_hand == ("fallback",)
    assert not found["programmer", "open"].heats
    assert found["permission", "closed"].stops == ("programmer", "high_limit")
    assert found["high_limit", "closed"].stops == ("programmer", "permission")
    assert found["end_switch", "closed"].stops == (), "a welded end switch runs the boiler whatever anybody says"
    assert found["fallback", "closed"].stops == ("programmer", "high_limit"), "left on, the permission says nothing"


def test_what_is_taken_out_and_what_is_new() -> None:
    out, new = changed_conductors(wiring_of("coil"))
    assert {(c.start, c.end) for c in out} == {
        ("programmer, hot water", "tank thermostat"),
        ("tank thermostat", "independent high limit, hand reset"),
    }
    assert ("programmer, hot water", "solar controller's permission") in {(c.start, c.end) for c in new}
    assert not set(out) & set(new)
    assert changed_conductors(wiring_of("second")) == ((), ())
    for arrangement in ARRANGEMENTS:
        wiring = wiring_of(arrangement)
        found = conductors(wiring.rungs)
        assert len(set(found)) == len(found)
        assert all(c.start != c.end for c in found)


def test_what_a_plan_s_backup_is_wired_as() -> None:
    assert arrangements_of("coil") == ("coil",)
    assert arrangements_of("instant") == ()
    assert arrangements_of("none") == ()
    assert arrangements_of("coil", two_heaters=True) == ("winter", "summer")
    assert arrangements_of("element", two_heaters=True) == ("element",)


def test_the_season_switch_keeps_each_heater_to_its_season() -> None:
    boiler, element = wiring_of("winter"), wiring_of("summer")
    assert heats(boiler, programmer=True, winter=True, permission=True, high_limit=True)
    assert not heats(boiler, programmer=True, winter=False, permission=True, high_limit=True)
    assert not heats(boiler, programmer=True, winter=False, fallback=True, high_limit=True), "nor by the fallback"
    assert heats(element, summer=True, window=True, thermostat=True, high_limit=True)
    assert not heats(element, summer=False, boost=True, thermostat=True, high_limit=True), "nor by a boost"
    assert changed_conductors(element)[0] == ()
