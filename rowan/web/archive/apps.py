"""The archive app."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    name = "rowan.web.archive"
    label = "archive"
