"""Rowan's own method pages, served where figures cite them."""

from __future__ import annotations

from django.apps import AppConfig


class MethodsConfig(AppConfig):
    name = "rowan.web.methods"
