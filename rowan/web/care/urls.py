"""Addresses of devices and of what was left set."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.care import fleet, hand_views, log_views, views, window_views

app_name = "care"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
urlpatterns = [
    path("readings/", views.readings, name="readings"),
    path("fleet/", fleet.fleet, name="fleet"),
    path("logs/take/", log_views.take, name="take_log"),
    re_path(PLAN + r"care/$", log_views.bench, name="bench"),
    re_path(PLAN + r"care/health/$", log_views.health, name="health"),
    re_path(PLAN + r"care/window\.json$", window_views.window, name="window"),
    re_path(PLAN + r"care/sky/$", log_views.use_sky, name="use_sky"),
    re_path(PLAN + r"care/by-hand/$", hand_views.by_hand, name="by_hand"),
    re_path(PLAN + r"care/by-hand/strike/$", hand_views.strike, name="strike"),
    re_path(PLAN + r"care/logs/(?P<number>\d{1,9})/$", log_views.mapping, name="mapping"),
    re_path(PLAN + r"care/logs/(?P<number>\d{1,9})/delete/$", log_views.delete, name="delete_log"),
    re_path(PLAN + r"live/$", views.live, name="live"),
    re_path(PLAN + r"live/now/$", views.live_now, name="live_now"),
    re_path(PLAN + r"live/connect/$", views.connect, name="connect"),
    re_path(PLAN + r"live/end/$", views.end, name="end"),
    re_path(PLAN + r"live/log\.csv$", views.log, name="log"),
    re_path(PLAN + r"as-left/$", views.as_left, name="as_left"),
]
