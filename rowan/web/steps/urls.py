"""Addresses of the benches."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.steps import control_views as control
from rowan.web.steps import question_views as beside_views
from rowan.web.steps import views

app_name = "steps"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
urlpatterns = [
    path("jobs/<int:job>/", views.open_job, name="job"),
    re_path(PLAN + r"set/$", views.set_input, name="set"),
    re_path(PLAN + r"slip/$", views.slip, name="slip"),
    re_path(PLAN + r"drag/$", views.drag, name="drag"),
    re_path(PLAN + r"race/$", control.race, name="race"),
    re_path(PLAN + r"pairs/$", control.pairs, name="pairs"),
    re_path(PLAN + r"calming/$", control.calming, name="calming"),
    re_path(PLAN + r"take/$", control.take, name="take"),
    re_path(PLAN + r"battery/$", control.battery, name="battery"),
    re_path(PLAN + r"entries/$", views.entries, name="entries"),
    re_path(PLAN + r"cure/$", views.cure, name="cure"),
    re_path(PLAN + r"(?P<direction>undo|redo)/$", views.step, name="step"),
    re_path(PLAN + r"copy/$", views.copy, name="copy"),
    re_path(PLAN + r"assumed/$", views.assumed_list, name="assumed"),
    re_path(PLAN + r"run/(?P<key>[a-z]+)/$", views.run, name="run"),
    re_path(PLAN + r"data-sheet/$", views.datasheet, name="datasheet"),
    re_path(PLAN + r"store-sheet/$", beside_views.store_sheet, name="store_sheet"),
    re_path(PLAN + r"measure/$", beside_views.measure, name="measure"),
    re_path(PLAN + r"vessel-sheet/$", beside_views.vessel_sheet, name="vessel_sheet"),
    re_path(PLAN + r"climate/$", views.climate, name="climate"),
    re_path(PLAN + r"sensors/$", control.sensors, name="sensors"),
    re_path(PLAN + r"wiring/$", control.wiring, name="wiring"),
    re_path(PLAN + r"schools/$", beside_views.schools, name="schools"),
    re_path(PLAN + r"as-found/$", beside_views.found, name="found"),
    re_path(PLAN + r"reading/$", beside_views.reading, name="reading"),
    re_path(PLAN + r"legs/$", beside_views.legs, name="legs"),
    re_path(PLAN + r"pump/$", beside_views.pump, name="pump"),
    re_path(PLAN + r"job\.json$", views.export, name="export"),
    re_path(PLAN + r"(?P<key>[a-z]+)/$", views.bench, name="bench"),
]
