"""The commissioning app."""

from django.apps import AppConfig


class CommissioningConfig(AppConfig):
    name = "rowan.web.commissioning"
    label = "commissioning"
