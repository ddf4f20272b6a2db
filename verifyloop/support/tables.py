"""Every table of the product, to look at.

A change here would pass by the services: seals would break, and nobody would have said why.
"""

from __future__ import annotations

from typing import Any

from django.apps import apps
from django.contrib import admin
from django.contrib.sessions.models import Session
from django.db import models
from django.http import HttpRequest

#: What nobody reads, not even here.
SECRET = {"password", "digest", "secret", "session_data", "content"}
#: Columns of a list: the first few that say what a row is.
COLUMNS, TEXT = 6, (models.CharField, models.DateField, models.IntegerField, models.BooleanField)


class ToLookAt(admin.ModelAdmin):  # type: ignore[type-arg]
    """Shown, and never changed."""

    list_per_page = 50
    show_full_result_count = False

    def __init__(self, model: type[models.Model], site: admin.AdminSite) -> None:
        super().__init__(model, site)
        names = [f.name for f in model._meta.concrete_fields if f.name not in SECRET]
        plain = [
            f.name
            for f in model._meta.concrete_fields
            if isinstance(f, TEXT) and f.name in names and not f.primary_key
        ]
        self.fields = self.readonly_fields = names  # type: ignore[misc, assignment]
        self.list_display = ("__str__", *plain[:COLUMNS])
        texts = [n for n in plain if isinstance(model._meta.get_field(n), TEXT[0])]
        self.search_fields = texts[:4]  # type: ignore[misc]

    def has_module_permission(self, request: HttpRequest) -> bool:
        """Everybody who comes in looks."""
        return self.admin_site.has_permission(request)

    def has_view_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Everybody who comes in looks."""
        return self.admin_site.has_permission(request)

    def has_add_permission(self, request: HttpRequest) -> bool:
        """Nobody adds."""
        return False

    def has_change_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Nobody changes."""
        return False

    def has_delete_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Nobody deletes."""
        return False


class Sessions(ToLookAt):
    """Somebody's device may be signed out."""

    def has_delete_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """The administrator ends a session."""
        return self.admin_site.has_permission(request)


#: Whose tables are shown.
SHOWN = ("verifyloop.", "axes", "django.contrib.auth", "django_tasks_db")


def show_all() -> None:
    """Show every table, whatever its own application made of it."""
    for app in apps.get_app_configs():
        for model in app.get_models() if app.name.startswith(SHOWN) else ():
            if admin.site.is_registered(model):
                admin.site.unregister(model)
            admin.site.register(model, ToLookAt)
    admin.site.register(Session, Sessions)
