"""The register as a part of the product."""

from typing import Any

from django.apps import AppConfig
from django.core.checks import Error, register
from django.core.exceptions import ImproperlyConfigured

from verifyloop.register.keys import keys


class RegisterConfig(AppConfig):
    name = "verifyloop.register"
    default_auto_field = "django.db.models.BigAutoField"


@register(deploy=True)
def keys_are_there(app_configs: Any, **kwargs: Any) -> list[Error]:
    """Say when the keys of the seals are missing or cannot be read."""
    try:
        keys()
    except ImproperlyConfigured as error:
        return [Error(str(error), id="register.E001")]
    return []
