"""Papers: what is printed or taken away as a file."""

from django.apps import AppConfig


class PapersConfig(AppConfig):
    name = "rowan.web.papers"
    label = "papers"
