"""The page frame, components and vendored assets."""

from django.apps import AppConfig


class UiConfig(AppConfig):
    name = "rowan.web.ui"
    label = "ui"
