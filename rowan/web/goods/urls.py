"""Addresses of the catalogue."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.goods import views

app_name = "goods"
GOOD = r"^catalogue/(?P<number>\d{1,9})/"
urlpatterns = [
    path("catalogue/", views.catalogue, name="catalogue"),
    path("catalogue/take-in/", views.take_in, name="take_in"),
    path("catalogue/price/", views.set_price, name="set_price"),
    path("catalogue/prices.csv", views.price_list, name="price_list"),
    re_path(r"^catalogue/(?P<kind>[a-z]{2,12})\.csv$", views.kind_csv, name="csv"),
    re_path(GOOD + "$", views.good, name="good"),
    re_path(GOOD + "use/$", views.use, name="use"),
    re_path(r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/catalogue/$", views.keep, name="keep"),
]
