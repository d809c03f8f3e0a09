"""Addresses of the jobs app."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.jobs import place_views, views

app_name = "jobs"
urlpatterns = [
    path("", views.job_list, name="list"),
    path("map/", views.job_map, name="map"),
    path("proposal/", views.proposal, name="proposal"),
    path("proposal/years/", views.facts_band, name="facts_band"),
    path("jobs/", views.start, name="start"),
    path("jobs/take-in/", views.take_in, name="take_in"),
    path("jobs/<int:job>/rename/", views.rename, name="rename"),
    path("jobs/<int:job>/duplicate/", views.duplicate, name="duplicate"),
    path("jobs/<int:job>/paper-units/", views.paper_units, name="paper_units"),
    path("jobs/<int:job>/archive/", views.archive, name="archive"),
    path("places/", place_views.places, name="places"),
    re_path(r"^places/(?P<number>\d{1,9})/remove/$", place_views.remove, name="remove_place"),
    path("job-file.schema.json", views.schema, name="schema"),
]
