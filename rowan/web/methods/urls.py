"""Addresses of the method pages."""

from __future__ import annotations

from django.urls import path

from rowan.web.methods import views

app_name = "methods"
urlpatterns = [
    path("methods/", views.index, name="index"),
    path("methods/<int:number>/", views.page, name="page"),
    path("glossary/", views.glossary, name="glossary"),
    path("job-file/", views.job_file, name="job_file"),
]
