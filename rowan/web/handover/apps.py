"""The hand-over app."""

from django.apps import AppConfig


class HandoverConfig(AppConfig):
    name = "rowan.web.handover"
    label = "handover"
