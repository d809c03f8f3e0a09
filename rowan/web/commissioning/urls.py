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
]
