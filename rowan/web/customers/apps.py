"""The customers app."""

from django.apps import AppConfig


class CustomersConfig(AppConfig):
    name = "rowan.web.customers"
    label = "customers"
