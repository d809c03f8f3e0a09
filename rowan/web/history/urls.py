"""Addresses of history and comparison."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.history import proposal_views, views

app_name = "history"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
urlpatterns = [
    path("jobs/<int:job>/compare/", views.compare, name="compare"),
    re_path(PLAN + r"history/$", views.history_page, name="revisions"),
    re_path(PLAN + r"merge/$", views.merge, name="merge"),
    re_path(PLAN + r"restore/$", views.restore, name="restore"),
    re_path(PLAN + r"proposals/(?P<number>\d{1,9})/$", proposal_views.proposal, name="proposal"),
    re_path(PLAN + r"proposals/(?P<number>\d{1,9})/answer/$", proposal_views.answer, name="answer"),
]
