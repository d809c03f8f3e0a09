"""What a script says under the hand is what the server says of the same value, in both systems of units."""

from __future__ import annotations

import pytest

from rowan.core.design.changes import locate
from rowan.core.terms.units import SYSTEMS, System, shown
from rowan.demo.kvist import kvist_plan_a
from rowan.demo.load import TITLE
from tests.browser.pages.plan import SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]

# a handle of each dimension that is dragged: pressure, difference, temperature, length, angle
HANDLES = {
    "charge": ("charge.gap_pa", 41_000.0),
    "control": ("control.start_k", 9.5),
    "collector": ("collector.working_c", 52.0),
    "store": ("store.lower_sensor_m", 0.31),
    "survey": ("survey.roof_azimuth_deg", 203.0),
}


@pytest.mark.parametrize("units", SYSTEMS)
def test_a_value_under_the_hand_is_worded_as_the_server_words_it(sign_in: SignInPage, units: System) -> None:
    page = sign_in.open_plan(TITLE)
    if units == "us":
        with page.answered():
            page.one("#units-us").click()
    charge = page.driver.current_url
    for bench, (path, stored) in HANDLES.items():
        page.driver.get(charge.replace("/charge/", f"/{bench}/"))
        said = page.driver.execute_script(
            "const h = document.querySelector(`[data-path='${arguments[0]}']`);"
            "return window.Rowan.worded(h, arguments[1]);",
            path,
            stored,
        )
        found = locate(kvist_plan_a(), path)
        expected = shown(found.spec.si(stored), found.spec.dimension, units).replace("\N{NO-BREAK SPACE}", " ")
        assert str(said).replace("\N{NO-BREAK SPACE}", " ").replace("-", "−") == expected, (bench, units)
