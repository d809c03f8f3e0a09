"""The dates app."""

from django.apps import AppConfig


class DatesConfig(AppConfig):
    name = "rowan.web.dates"
    label = "dates"
