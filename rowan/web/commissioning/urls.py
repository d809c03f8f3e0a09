"""Addresses of runs on site."""

from __future__ import annotations

from django.urls import re_path

from rowan.web.commissioning import views

app_name = "commissioning"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
RUN = PLAN + r"runs/(?P<number>\d{1,9})/"
urlpatterns = [
    re_path(PLAN + r"runs/$", views.runs, name="runs"),
    re_path(PLAN + r"rehearsal/$", views.rehearsal, name="rehearsal"),
    re_path(RUN + r"$", views.run, name="run"),
    re_path(RUN + r"work/$", views.work, name="work"),
    re_path(RUN + r"entries/$", views.entries, name="entries"),
    re_path(RUN + r"photos/$", views.photos, name="photos"),
    re_path(RUN + r"photos/(?P<sha>[0-9a-f]{64})\.jpg$", views.photo, name="photo"),
    re_path(RUN + r"as-built/$", views.take_built, name="as_built"),
    re_path(RUN + r"due/$", views.due, name="due"),
    re_path(RUN + r"revisit\.ics$", views.calendar, name="calendar"),
    re_path(RUN + r"record\.json$", views.record, name="record"),
]
