"""Addresses of the practice bench."""

from __future__ import annotations

from django.urls import path

from rowan.web.practice import hunt_views, sheet_views, views

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
    path("practice/<int:number>/answer/", sheet_views.answer, name="answer"),
    path("practice/<int:number>/once-more/", sheet_views.once_more, name="once_more"),
    path("practice/<int:number>/paper/", views.paper, name="paper"),
    path("practice/<int:number>/look/", hunt_views.look, name="look"),
    path("practice/<int:number>/put-right/", hunt_views.put_right, name="put_right"),
    path("practice/practised/", sheet_views.certificate, name="certificate"),
    path("practice/practised/<int:number>/", sheet_views.certificate, name="certificate_of"),
    path("practice/practised/<int:number>/seen/", sheet_views.witnessed, name="witnessed"),
]
