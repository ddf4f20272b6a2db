"""Where the product is reached."""

from django.conf import settings


def address() -> str:
    """Return what people type, without a slash at its end; empty where nothing is set."""
    return str(settings.ADDRESS.geturl()).rstrip("/") if settings.ADDRESS else ""
