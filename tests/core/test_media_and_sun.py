from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core import fluid as media
from rowan.core.goods.places import PLACES
from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.weather.cold_main import cold_main
from rowan.core.weather.sun import best_plane, mean_days, plane_months

KWH = 3.6e6
SHARES = st.floats(0.25, 0.6)


@given(share=SHARES, cold=st.floats(5, 90), step=st.floats(1, 9))
def test_warmer_mix_is_thinner_and_lighter(share: float, cold: float, step: float) -> None:
    a = media.properties(volume_share=share, temperature=cold)
    b = media.properties(volume_share=share, temperature=cold + step)
    assert b.viscosity < a.viscosity
    assert b.density < a.density


@given(share=st.floats(0.0, 0.59), more=st.floats(0.001, 0.01))
def test_more_glycol_freezes_later(share: float, more: float) -> None:
    assert media.frost_point(volume_share=share + more) < media.frost_point(volume_share=share)


@given(share=st.floats(0, 0.6), low=st.floats(9e4, 5e5), more=st.floats(1e3, 1e5))
def test_higher_pressure_boils_later(share: float, low: float, more: float) -> None:
    assert media.boiling_point(volume_share=share, pressure_abs=low + more) > media.boiling_point(
        volume_share=share, pressure_abs=low
    )


def test_water_boils_at_a_hundred_degrees() -> None:
    assert media.boiling_point(volume_share=0, pressure_abs=101325) == pytest.approx(100.0, abs=0.05)


@given(minimum=st.floats(-40, 5))
def test_strength_stands_its_night_and_is_the_least_that_does(minimum: float) -> None:
    share = media.strength(design_minimum=minimum)
    assert media.frost_point(volume_share=share) <= minimum - 5
    assert share == 0.25 or media.frost_point(volume_share=round(share - 0.05, 2)) > minimum - 5


@given(volume=st.floats(5e-3, 0.2), share=st.floats(0.05, 0.3), wanted=st.floats(0.31, 0.5))
def test_exchanged_litres_bring_the_strength_wanted(volume: float, share: float, wanted: float) -> None:
    out = media.exchange_litres(loop_volume=volume, share=share, wanted=wanted, concentrate=1.0)
    assert ((volume - out) * share + out) / volume == pytest.approx(wanted)


@pytest.mark.parametrize(("share", "temperature"), [(0.7, 20), (0.4, 210), (0.4, -40), (-0.1, 20)])
def test_outside_the_tables_is_refused(share: float, temperature: float) -> None:
    with pytest.raises(OutOfRangeError):
        media.properties(volume_share=share, temperature=temperature)


def test_no_mixture_for_a_polar_night() -> None:
    with pytest.raises(ImpossibleInputError, match="no mixture"):
        media.strength(design_minimum=-60)


@pytest.mark.parametrize("place", PLACES.values(), ids=lambda p: p.name)
def test_a_flat_plane_gets_the_horizontal_irradiation(place: object) -> None:
    ghi = tuple(g * KWH for g in place.ghi_kwh_m2_day)  # type: ignore[attr-defined]
    days = mean_days(latitude=place.latitude_deg, ghi=ghi)  # type: ignore[attr-defined]
    flat = plane_months(days=days, tilt=0, azimuth=123)
    # plane over flat is held below one degree of sun, which costs less than a thousandth
    assert np.allclose(flat.total, ghi, rtol=1e-3)


@given(latitude=st.floats(-60, 60), tilt=st.floats(0, 90), off=st.floats(0, 180))
def test_east_and_west_get_the_same(latitude: float, tilt: float, off: float) -> None:
    ghi = (2.5 * KWH,) * 12
    days = mean_days(latitude=latitude, ghi=ghi)
    east, west = (plane_months(days=days, tilt=tilt, azimuth=(180 + sign * off) % 360) for sign in (-1, 1))
    assert east.year == pytest.approx(west.year, rel=1e-9)


@given(latitude=st.floats(5, 60), tilt=st.floats(5, 80), azimuth=st.floats(0, 360))
def test_the_southern_half_mirrors_the_northern(latitude: float, tilt: float, azimuth: float) -> None:
    """Same normals shifted by half a year, mirrored bearing: the same within what the earth's orbit differs."""
    north = [1.2, 2.0, 3.1, 4.2, 5.0, 5.3, 5.1, 4.4, 3.3, 2.2, 1.4, 1.0]
    south = north[6:] + north[:6]
    a = plane_months(days=mean_days(latitude=latitude, ghi=tuple(g * KWH for g in north)), tilt=tilt, azimuth=azimuth)
    b = plane_months(
        days=mean_days(latitude=-latitude, ghi=tuple(g * KWH for g in south)), tilt=tilt, azimuth=(180 - azimuth) % 360
    )
    assert a.year == pytest.approx(b.year, rel=0.05)


def test_the_best_plane_faces_the_equator_on_both_sides_of_it() -> None:
    for place, azimuth in ((PLACES["Aldersund"], 180), (PLACES["Port Maravel"], 0)):
        best = best_plane(latitude=place.latitude_deg, ghi=tuple(g * KWH for g in place.ghi_kwh_m2_day))
        assert best.azimuth == azimuth
        assert abs(best.tilt - abs(place.latitude_deg)) <= 15


def test_days_add_up_to_a_year() -> None:
    assert sum(DAYS_IN_MONTH) == 365


@given(day=st.integers(1, 365), latitude=st.floats(-60, 60))
def test_the_cold_main_is_never_frozen(day: int, latitude: float) -> None:
    assert cold_main(monthly_air=[-20.0 + i for i in range(12)], day=day, latitude=latitude) >= 1.0


def test_threads_do_not_disturb_each_other() -> None:
    def column(shift: int) -> list[tuple[float, float, float]]:
        found = []
        for k in range(400):
            t = 5 + (k * 7 + shift * 13) % 90
            media.properties.cache_clear()
            fluid = media.properties(volume_share=0.4, temperature=float(t))
            found.append((float(t), fluid.density, media.water_vapour_pressure(temperature=float(t))))
        return found

    alone = {t: (density, pressure) for t, density, pressure in column(0)}
    with ThreadPoolExecutor(4) as pool:
        for rows in pool.map(column, range(8)):
            for t, density, pressure in rows:
                if t in alone:
                    assert (density, pressure) == alone[t]
