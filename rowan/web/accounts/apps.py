"""The accounts app."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "rowan.web.accounts"
    label = "accounts"
