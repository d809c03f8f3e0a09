"""Addresses of the papers."""

from __future__ import annotations

from django.urls import re_path

from rowan.web.papers import views

app_name = "papers"
urlpatterns = [
    re_path(r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/settings-card\.pdf$", views.settings_card, name="settings_card"),
]
