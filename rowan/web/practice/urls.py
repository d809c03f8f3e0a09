"""Addresses of the practice bench."""

from __future__ import annotations

from django.urls import path

from rowan.web.practice import views

app_name = "practice"
urlpatterns = [
    path("practice/", views.book, name="book"),
    path("practice/begin/", views.begin, name="begin"),
    path("practice/<int:number>/", views.run, name="run"),
    path("practice/<int:number>/on/", views.go_on, name="go_on"),
    path("practice/<int:number>/turn/", views.turn, name="turn"),
    path("practice/<int:number>/back/", views.back, name="back"),
    path("practice/<int:number>/end/", views.end, name="end"),
    path("practice/<int:number>/again/", views.again, name="again"),
]
