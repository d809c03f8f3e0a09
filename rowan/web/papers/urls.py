"""Addresses of the papers."""

from __future__ import annotations

from django.urls import re_path

from rowan.web.papers import views

app_name = "papers"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
urlpatterns = [
    re_path(PLAN + r"runs/(?P<number>\d{1,9})/record\.pdf$", views.run_record, name="run_record"),
    re_path(PLAN + r"settings-card\.pdf$", views.settings_card, name="settings_card"),
    re_path(PLAN + r"job-sheet\.pdf$", views.job_sheet, name="job_sheet"),
    re_path(PLAN + r"sun-and-shade\.pdf$", views.shade_letter, name="shade_letter"),
    re_path(PLAN + r"wiring\.pdf$", views.wiring_paper, name="wiring"),
    re_path(PLAN + r"chalk-sheet\.pdf$", views.chalk_sheet, name="chalk_sheet"),
    re_path(PLAN + r"roof\.csv$", views.roof_marks, name="roof_csv"),
    re_path(PLAN + r"roof\.dxf$", views.roof_drawing, name="roof_dxf"),
    re_path(PLAN + r"parts\.csv$", views.parts, name="parts_csv"),
    re_path(PLAN + r"drawings/(?P<key>[a-z-]{1,40})\.svg$", views.drawing, name="drawing"),
    re_path(PLAN + r"papers/$", views.papers, name="papers"),
]
