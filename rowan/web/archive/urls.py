"""Addresses of archives."""

from __future__ import annotations

from django.urls import path

from rowan.web.archive import views

app_name = "archive"
urlpatterns = [
    path("archive/", views.archive, name="archive"),
    path("archive/firm.zip", views.firm_zip, name="firm_zip"),
    path("archive/look/", views.look, name="look"),
    path("archive/take/", views.take, name="take"),
    path("jobs/<int:job>/whole.zip", views.job_zip, name="job_zip"),
]
