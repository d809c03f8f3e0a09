"""Addresses of the accounts app."""

from __future__ import annotations

from django.urls import path

from rowan.web.accounts import views
from rowan.web.ui.methods import forms_only, takes_forms

app_name = "accounts"
urlpatterns = [
    path("sign-in/", takes_forms(views.SignIn.as_view()), name="sign_in"),
    path("sign-out/", forms_only(views.SignOut.as_view()), name="sign_out"),
    path("password/", takes_forms(views.ChangePassword.as_view()), name="password"),
    path("password/done/", views.password_changed, name="password_changed"),
    path("who/", views.who, name="who"),
    path("units/", views.set_units, name="units"),
]
