"""The accounts app."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "rowan.web.accounts"
    label = "accounts"

    def ready(self) -> None:
        """Listens for who signs in."""
        from rowan.web.accounts import signals  # noqa: F401
