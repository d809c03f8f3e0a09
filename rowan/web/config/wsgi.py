"""The WSGI entry."""

from __future__ import annotations

import atexit
import gc
import os
import threading

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rowan.web.config.settings.production")
application = get_wsgi_application()


def _warm() -> None:
    from rowan.core.simulation.year import warm

    warm()


# the year's loop is compiled, or loaded compiled, while the first page is asked for
threading.Thread(target=_warm, daemon=True).start()
# what is loaded stays loaded: kept out of every later collection, which would stop a page for a tenth of a second
gc.collect()
gc.freeze()
# a page makes some ten thousand objects and drops them all: no use in looking through them on the way
gc.set_threshold(50_000, 20, 20)
atexit.register(gc.unfreeze)
