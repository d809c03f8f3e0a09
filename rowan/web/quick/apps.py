"""The quick sums app."""

from django.apps import AppConfig


class QuickConfig(AppConfig):
    name = "rowan.web.quick"
    label = "quick"
