"""Addresses of hand over, and of the page of whoever lives there."""

from __future__ import annotations

from django.urls import re_path

from rowan.web.handover import drill, house_views, quote_views, views

app_name = "handover"
PLAN = r"^jobs/(?P<job>\d{1,9})/(?P<letter>[A-D])/"
HOUSE = r"^h/(?P<token>[0-9]{1,12}\.[A-Za-z0-9_-]{20,80})/"
urlpatterns = [
    re_path(PLAN + r"handover/$", views.bench, name="bench"),
    re_path(PLAN + r"handover/choose/$", views.choose, name="choose"),
    re_path(PLAN + r"handover/offsets/$", views.offsets, name="offsets"),
    re_path(PLAN + r"handover/links/$", views.links, name="links"),
    re_path(PLAN + r"handover/drill/$", drill.drill, name="drill"),
    re_path(PLAN + r"handover/pack\.pdf$", views.whole_pack, name="pack"),
    re_path(PLAN + r"handover/(?P<key>[a-z]{2,12})\.pdf$", views.paper, name="paper"),
    re_path(PLAN + r"quotation/$", quote_views.quotation, name="quotation"),
    re_path(PLAN + r"quotation/(?P<number>\d{1,9})\.pdf$", quote_views.paper, name="quote_paper"),
    re_path(PLAN + r"quotation/(?P<number>\d{1,9})/price/$", quote_views.take_price, name="take_price"),
    re_path(HOUSE + "$", house_views.house, name="house"),
    re_path(HOUSE + r"(?P<key>[a-z]{2,12})\.pdf$", house_views.house_paper, name="house_paper"),
]
