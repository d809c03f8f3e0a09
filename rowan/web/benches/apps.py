"""The benches: pages over the reckoning."""

from django.apps import AppConfig


class BenchesConfig(AppConfig):
    name = "rowan.web.benches"
    label = "benches"
