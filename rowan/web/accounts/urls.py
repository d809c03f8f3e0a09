"""Addresses of the accounts app."""

from __future__ import annotations

from django.urls import path, re_path

from rowan.web.accounts import people_views, reset_views, second_views, views
from rowan.web.ui.methods import forms_only, takes_forms

app_name = "accounts"
urlpatterns = [
    path("sign-in/", takes_forms(views.SignIn.as_view()), name="sign_in"),
    path("sign-out/", forms_only(views.SignOut.as_view()), name="sign_out"),
    path("password/", takes_forms(views.ChangePassword.as_view()), name="password"),
    path("password/done/", views.password_changed, name="password_changed"),
    path("who/", views.who, name="who"),
    path("units/", views.set_units, name="units"),
    path("new-firm/", views.new_firm, name="new_firm"),
    path("invitation/<slug:secret>/", views.invitation, name="invitation"),
    path("reset/", takes_forms(reset_views.Ask.as_view()), name="reset"),
    path("reset/sent/", reset_views.Sent.as_view(), name="reset_sent"),
    path("reset/<uidb64>/<token>/", takes_forms(reset_views.Confirm.as_view()), name="reset_confirm"),
    path("reset/done/", reset_views.Done.as_view(), name="reset_done"),
    path("me/", views.me, name="me"),
    path("me/end/", views.end_session, name="end_session"),
    path("me/second/", second_views.second, name="second"),
    path("me/second/end/", second_views.second_end, name="second_end"),
    path("people/", people_views.people, name="people"),
    re_path(r"^people/(?P<number>\d{1,9})/role/$", people_views.role, name="role"),
    re_path(r"^people/(?P<number>\d{1,9})/leave/$", people_views.leave, name="leave"),
    re_path(r"^people/invitations/(?P<number>\d{1,9})/withdraw/$", people_views.withdraw, name="withdraw"),
    path("firm/", people_views.firm, name="firm"),
    path("firm/head/", people_views.logo, name="logo"),
    path("firm/log/", people_views.log, name="log"),
]
