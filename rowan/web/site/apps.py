"""The site app."""

from django.apps import AppConfig


class SiteConfig(AppConfig):
    name = "rowan.web.site"
    label = "site"
