"""The first start: who reads the console, and nobody else, makes the site and its first planner."""

from __future__ import annotations

import secrets

from django.conf import settings

from verifyloop.accounts.models import User
from verifyloop.accounts.people import PersonGiven, first_person
from verifyloop.errors import NotAllowed
from verifyloop.plant import zone
from verifyloop.plant.models import Site
from verifyloop.plant.selectors import site_now
from verifyloop.plant.site import SiteGiven, checked
from verifyloop.register.write_lock import writing


def is_empty() -> bool:
    """Tell whether nobody is there yet."""
    return not User.objects.exists()


def first_key() -> str:
    """Return the key of the first start; it lies beside the data until it has been used."""
    place = settings.DATA_DIR / "first.key"
    if not place.exists():
        place.touch(mode=0o600)
        place.write_text(secrets.token_urlsafe(12))
    return place.read_text().strip()


@writing()
def start(*, key: str, site: SiteGiven, person: PersonGiven, password: str) -> User:
    """Make the site and its first planner.

    Raises
    ------
    NotAllowed
        ``start.key`` for another key than that on the console.
    Conflict
        ``start.done``.
    """
    values = checked(site)
    if is_empty() and not secrets.compare_digest(key.encode(), first_key().encode()):
        raise NotAllowed(
            "start.key",
            "That is not the key of this start.",
            "Take it from the window in which the server was started.",
            "key",
        )
    user = first_person(person, password)
    made = site_now() or Site()
    for name, value in values.items():
        setattr(made, name, value)
    made.save()
    zone.forget()
    (settings.DATA_DIR / "first.key").unlink(missing_ok=True)
    return user
