"""Accounts, and who is signed in."""

from importlib import import_module

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """The accounts of people."""

    name = "verifyloop.accounts"

    def ready(self) -> None:
        """Watch what changes accounts and sessions, whoever does it."""
        import_module("verifyloop.accounts.remembered").connect()
