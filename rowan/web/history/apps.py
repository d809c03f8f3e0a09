"""What became of a plan."""

from django.apps import AppConfig


class HistoryConfig(AppConfig):
    name = "rowan.web.history"
    label = "history"
