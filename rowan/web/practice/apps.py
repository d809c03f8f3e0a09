"""The practice app."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "rowan.web.practice"
    label = "practice"
