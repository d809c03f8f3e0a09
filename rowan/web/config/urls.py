"""Every address of the application."""

from __future__ import annotations

from django.urls import include, path

handler404 = "rowan.web.ui.views.not_found"
handler500 = "rowan.web.ui.views.server_error"

urlpatterns = [
    path("", include("rowan.web.jobs.urls")),
    path("", include("rowan.web.accounts.urls")),
    path("", include("rowan.web.care.urls")),
    path("", include("rowan.web.site.urls")),
    # papers and history before benches: a bench is named by any word
    path("", include("rowan.web.papers.urls")),
    path("", include("rowan.web.history.urls")),
    path("", include("rowan.web.steps.urls")),
    path("", include("rowan.web.methods.urls")),
]
