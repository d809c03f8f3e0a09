"""Addresses of the week, its visits and a job's own page."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.dates import views

app_name = "dates"
VISIT = r"^visits/(?P<number>\d{1,9})/"
urlpatterns = [
    path("week/", views.week, name="week"),
    path("visits/new/", views.new_visit, name="new_visit"),
    re_path(VISIT + "$", views.visit, name="visit"),
    re_path(VISIT + "move/$", views.move, name="move"),
    re_path(VISIT + "cancel/$", views.cancel, name="cancel"),
    path("me/calendar/", views.calendar, name="calendar"),
    path("me/calendar/link/", views.set_feed, name="set_feed"),
    path("feed/<slug:token>.ics", views.feed, name="feed"),
    path("jobs/<int:job>/card/", views.job, name="job"),
]
