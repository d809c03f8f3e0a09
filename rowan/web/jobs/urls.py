"""Addresses of the jobs app."""

from __future__ import annotations

from django.urls import path

from rowan.web.jobs import views

app_name = "jobs"
urlpatterns = [
    path("", views.job_list, name="list"),
    path("proposal/", views.proposal, name="proposal"),
    path("jobs/", views.start, name="start"),
]
