"""The WSGI entry: everything a page needs is loaded before the first one is asked for, and before workers are forked."""

from __future__ import annotations

import atexit
import gc
import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rowan.web.config.settings.production")
application = get_wsgi_application()


def _load() -> None:
    """Every address with its views, and the year's loop, compiled or loaded compiled."""
    from rowan.core.simulation.year import warm

    get_resolver().reverse_dict  # noqa: B018  fills it, and imports every view on the way
    warm()


_load()
# what is loaded stays loaded: kept out of every later collection, which would stop a page for a tenth of a second
gc.collect()
gc.freeze()
# a page makes some ten thousand objects and drops them all: no use in looking through them on the way
gc.set_threshold(50_000, 20, 20)
atexit.register(gc.unfreeze)
