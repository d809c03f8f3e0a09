"""Places of a firm: kept, changed, taken away; a plan copies what it takes, so that old jobs stay as they were."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import transaction

from rowan.core.goods.items import Normals
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.services import note
from rowan.web.plans import policy
from rowan.web.plans.models import FirmPlace, WeatherYear
from rowan.web.ui.errors import NoSuchStepError

MOST_PLACES = 300


@record
class PlaceWish:
    """A place as somebody wants it: position [°], elevation [m], coldest night [°C], means or the year that they are of."""

    name: str
    latitude: float
    longitude: float
    altitude: float
    coldest: float
    ghi: Sequence[float] = ()
    air: Sequence[float] = ()
    year: WeatherYear | None = None


def save_place(*, firm: Firm, person: User, wish: PlaceWish) -> FirmPlace:
    """A place of the firm; one of the same name is replaced.

    Raises NoSuchStepError without a name, for a position that is none, or means that are not twelve or cannot be; NotAllowedError.
    """
    name = wish.name.strip()[:80]
    if not name:
        raise NoSuchStepError("a place needs a name")
    if not (-90 <= wish.latitude <= 90 and -180 <= wish.longitude <= 180):
        raise NoSuchStepError("a latitude lies between −90 and 90°, a longitude between −180 and 180°")
    if not (-400 <= wish.altitude <= 5000 and -60 <= wish.coldest <= 25):
        raise NoSuchStepError("an elevation lies between −400 and 5,000 m, a coldest night between −60 and 25 °C")
    ghi, air = wish.ghi, wish.air
    if wish.year is not None:
        ghi, air = wish.year.means["ghi"], wish.year.means["air"]
    try:
        means = Normals(ghi_kwh_m2_day=list(ghi), air_c=list(air))
    except ValueError as error:
        raise NoSuchStepError(
            "twelve means of sun (0 to 12 kWh/m² a day) and of air (−60 to 50 °C) are wanted"
        ) from error
    with transaction.atomic():
        policy.check(person, firm, "work")
        if firm.places.count() >= MOST_PLACES:
            raise NoSuchStepError(tr("a firm keeps {most} places", most=MOST_PLACES))
        found, _ = FirmPlace.objects.update_or_create(
            firm=firm,
            name=name,
            defaults={
                "latitude": wish.latitude, "longitude": wish.longitude, "altitude": wish.altitude, "coldest": wish.coldest,
                "ghi": means.ghi_kwh_m2_day, "air": means.air_c, "year": wish.year,
            },
        )  # fmt: skip
        note(firm, person, tr("kept the place {name}", name=name))
    return found


def remove_place(*, place: FirmPlace, person: User) -> None:
    """Off the list; plans that took it keep what they took. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, place.firm, "work")
        note(place.firm, person, tr("took the place {name} away", name=place.name))
        place.delete()
