"""Django's own pages over the tables, for the administrator."""

from importlib import import_module

from django.contrib.admin.apps import AdminConfig


class SupportConfig(AdminConfig):
    """With a site of our own: who comes in is said by the role."""

    default_site = "verifyloop.support.site.SupportSite"

    def ready(self) -> None:
        """Show every table, once all are known."""
        super().ready()
        import_module("verifyloop.support.tables").show_all()
