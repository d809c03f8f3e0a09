"""The care app."""

from django.apps import AppConfig


class CareConfig(AppConfig):
    name = "rowan.web.care"
    label = "care"
