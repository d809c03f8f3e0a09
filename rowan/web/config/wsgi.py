"""The WSGI entry: everything a page needs is loaded before the first one is asked for, and before workers are forked."""

from __future__ import annotations

import atexit
import gc
import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

from rowan.memory import keep_loaded

# a quarter million objects that stay: looked through while they come they would take half a second
gc.disable()
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rowan.web.config.settings.production")
application = get_wsgi_application()


def _load() -> None:
    """Every address with its views, the year's loop, and what a first plan and its year need: workers share what is there
    before they are forked, each for itself would hold fifty megabytes more."""
    from rowan.core.goods.places import PLACES
    from rowan.core.reckon import reckon
    from rowan.core.simulation.simulate import simulate
    from rowan.core.simulation.year import warm
    from rowan.core.studies.propose import Facts, propose

    get_resolver().reverse_dict  # noqa: B018  fills it, and imports every view on the way
    warm()
    place = next(iter(PLACES.values()))
    plan = propose(Facts(place, roof_azimuth_deg=180.0, roof_tilt_deg=40.0, covering="tile", persons=4, heater="gas"))
    simulate(plan, reckon(plan))


_load()
keep_loaded()
atexit.register(gc.unfreeze)
