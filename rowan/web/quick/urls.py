"""Addresses of the quick sums."""

from __future__ import annotations

from django.urls import path

from rowan.web.quick import views

app_name = "quick"
urlpatterns = [
    path("quick/", views.quick, name="quick"),
    path("quick/<slug:key>/", views.quick_sum, name="sum"),
    path("quick/<slug:key>/keep/", views.keep, name="keep"),
]
