"""The benches: pages over the reckoning."""

from django.apps import AppConfig


class StepsConfig(AppConfig):
    name = "rowan.web.steps"
    label = "steps"
