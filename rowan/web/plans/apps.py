"""Jobs, plans and their revisions."""

from django.apps import AppConfig


class PlansConfig(AppConfig):
    name = "rowan.web.plans"
    # the tables were made under this name; renaming them would cost every firm's database a migration and gain nothing
    label = "jobs"
