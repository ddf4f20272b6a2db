"""A PIN stands for the password at signatures and locks, where the site allows it.

It is looked at here only, counts on devices that are known for its person, and is dead after a
few wrong ones in a row.
"""

from __future__ import annotations

import re
from datetime import datetime

from django.contrib.auth.hashers import check_password, make_password
from django.utils import timezone

from calibration.kernel.errors import InputError
from verifyloop.accounts import guessing, resets
from verifyloop.accounts.models import Pin, User
from verifyloop.register.who import request_now
from verifyloop.register.write_lock import writing

FORM, MOST_TRIES = re.compile(r"\d{6,12}", re.ASCII), 5
UP = "01234567890123456789"


def looks_like(said: str) -> bool:
    """Tell whether something typed may be a PIN; no password is of digits alone."""
    return FORM.fullmatch(said) is not None


def of(user: User) -> Pin | None:
    """Return the PIN that stands for somebody's password here and now; none where none does."""
    pin = Pin.objects.filter(user=user, dead=False).first()
    if pin is None or not resets.rules().pin:
        return None
    return pin if guessing.known(request_now(), user.username) is not None else None


def fits(pin: Pin, said: str) -> bool:
    """Tell whether it is the PIN; a right one counts from the beginning again."""
    if not check_password(said, pin.password):
        return False
    if pin.tries:
        Pin.objects.filter(pk=pin.pk).update(tries=0)
    return True


@writing()
def count_wrong(username: str) -> None:
    """Count a wrong PIN; after a few it is dead, and its person is told."""
    pin = Pin.objects.select_related("user").filter(user__username=username, dead=False).first()
    if pin is None:
        return
    pin.tries += 1
    pin.dead = pin.tries >= MOST_TRIES
    pin.save(update_fields=["tries", "dead"])
    if pin.dead:
        said = f"Your PIN is dead after {MOST_TRIES} wrong ones in a row: set another one."
        resets.tell(pin.user, said, timezone.now())


def set_pin(user: User, said: str, now: datetime) -> None:
    """Set a PIN, or another one.

    Raises
    ------
    InputError
        ``pin.weak``.
    """
    easy = len(set(said)) < 3 or said in UP or said in UP[::-1] or said[:2] in ("19", "20")
    if not looks_like(said) or easy:
        raise InputError(
            "pin.weak",
            "pin",
            "That is no PIN, or one that is guessed.",
            "Take 6 to 12 digits: no row such as 123456, no year, more than two different ones.",
        )
    Pin.objects.update_or_create(
        user=user,
        defaults={"password": make_password(said), "tries": 0, "dead": False, "made_at": now},
    )
