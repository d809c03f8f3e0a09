"""The jobs app."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "rowan.web.jobs"
    label = "jobs"
