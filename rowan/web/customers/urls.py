"""Addresses of customers, sites and job cards."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.customers import views

app_name = "customers"
CUSTOMER = r"^customers/(?P<number>\d{1,9})/"
FILE = r"^jobs/(?P<job>\d{1,9})/files/(?P<number>\d{1,9})/"
urlpatterns = [
    path("customers/", views.customers, name="customers"),
    re_path(CUSTOMER + "$", views.customer, name="customer"),
    re_path(CUSTOMER + "delete/$", views.delete, name="delete"),
    re_path(CUSTOMER + r"everything\.zip$", views.export, name="export"),
    re_path(r"^sites/(?P<number>\d{1,9})/$", views.site, name="site"),
    path("jobs/<int:job>/whose/", views.set_card, name="set_card"),
    path("jobs/<int:job>/state/", views.set_state, name="set_state"),
    path("jobs/<int:job>/note/", views.write_note, name="write_note"),
    re_path(FILE + "$", views.file, name="file"),
    re_path(FILE + "remove/$", views.remove_file, name="remove_file"),
]
