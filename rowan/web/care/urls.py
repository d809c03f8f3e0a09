"""Addresses of devices and of what was left set."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.care import views

app_name = "care"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
urlpatterns = [
    path("readings/", views.readings, name="readings"),
    re_path(PLAN + r"live/$", views.live, name="live"),
    re_path(PLAN + r"live/now/$", views.live_now, name="live_now"),
    re_path(PLAN + r"live/connect/$", views.connect, name="connect"),
    re_path(PLAN + r"live/end/$", views.end, name="end"),
    re_path(PLAN + r"live/log\.csv$", views.log, name="log"),
    re_path(PLAN + r"as-left/$", views.as_left, name="as_left"),
]
