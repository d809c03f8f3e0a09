"""Addresses of the work on site."""

from __future__ import annotations

from django.urls import re_path

from rowan.web.site import views

app_name = "site"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
urlpatterns = [
    re_path(PLAN + r"roof-work/$", views.roof_work, name="roof_work"),
    re_path(PLAN + r"roof-work/tick/$", views.tick, name="tick"),
]
