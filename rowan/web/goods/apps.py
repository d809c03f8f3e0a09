"""The goods app."""

from django.apps import AppConfig


class GoodsConfig(AppConfig):
    name = "rowan.web.goods"
    label = "goods"
