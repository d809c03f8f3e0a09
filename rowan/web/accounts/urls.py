"""Addresses of the accounts app."""

from __future__ import annotations

from django.urls import path

from rowan.web.accounts import views

app_name = "accounts"
urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign_in"),
    path("sign-out/", views.SignOut.as_view(), name="sign_out"),
    path("password/", views.ChangePassword.as_view(), name="password"),
    path("password/done/", views.password_changed, name="password_changed"),
    path("who/", views.who, name="who"),
    path("units/", views.set_units, name="units"),
]
