"""The house app."""

from django.apps import AppConfig


class HouseConfig(AppConfig):
    name = "rowan.web.house"
    label = "house"
