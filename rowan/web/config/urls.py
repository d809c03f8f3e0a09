"""Every address of the application."""

from __future__ import annotations

from django.urls import include, path

from rowan.web.ui.views import health, ready, worker

handler404 = "rowan.web.ui.views.not_found"
handler500 = "rowan.web.ui.views.server_error"

urlpatterns = [
    # its scope is the folder it lies in: the whole of it
    path("health/", health, name="health"),
    path("ready/", ready, name="ready"),
    path("worker.js", worker, name="worker"),
    path("", include("rowan.web.jobs.urls")),
    path("", include("rowan.web.accounts.urls")),
    path("", include("rowan.web.customers.urls")),
    path("", include("rowan.web.dates.urls")),
    path("", include("rowan.web.care.urls")),
    path("", include("rowan.web.commissioning.urls")),
    path("", include("rowan.web.archive.urls")),
    path("", include("rowan.web.goods.urls")),
    path("", include("rowan.web.quick.urls")),
    path("", include("rowan.web.practice.urls")),
    path("", include("rowan.web.handover.urls")),
    # papers and history before benches: a bench is named by any word
    path("", include("rowan.web.papers.urls")),
    path("", include("rowan.web.history.urls")),
    path("", include("rowan.web.steps.urls")),
    path("", include("rowan.web.methods.urls")),
]
