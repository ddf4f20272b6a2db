"""Who somebody is, by their password. Sign-in, signatures and second persons count together."""

from __future__ import annotations

from axes.handlers.proxy import AxesProxyHandler
from django.contrib.auth.signals import user_login_failed
from django.http import HttpRequest

from verifyloop.accounts import guessing, passkeys, pins, security
from verifyloop.accounts.models import User
from verifyloop.errors import NotAllowed
from verifyloop.register.who import request_now


class WrongPassword(NotAllowed):
    """A password that is not right; it is counted once the work on it is rolled back."""

    def __init__(
        self, username: str, message: str, remedy: str, field: str, pin: bool = False
    ) -> None:
        super().__init__("password.wrong", message, remedy, field)
        self.username = username
        self.pin = pin


def proven(username: str, password: str, wrong: tuple[str, str, str], quick: bool = False) -> User:
    """Return the person whose name and password these are.

    ``wrong`` is message, remedy and field of the refusal. ``quick``: a PIN will do where the site
    allows it, and a passkey of who is signed in.

    Raises
    ------
    NotAllowed
        ``password.locked``; ``token.signs_nothing`` for a script; ``factor.missing``.
    WrongPassword
        ``password.wrong``.
    """
    username = username[:150]
    request = request_now()
    if getattr(request, "by_token", False):
        raise NotAllowed(
            "token.signs_nothing",
            "A script signs nothing: a person does.",
            "Sign in and do it yourself.",
            wrong[2],
        )
    if request is not None:
        guessing.look(request, username, wrong[2])
    user: User | None = User.objects.filter(username=username, is_active=True).first()
    if user is not None and quick:
        if passkeys.used(request, user, password):
            return user
        if pins.looks_like(password) and (pin := pins.of(user)) is not None:
            if not pins.fits(pin, password):
                raise WrongPassword(username, *wrong, pin=True)
            return user
    if user is None:
        User().set_password(password)  # as long as for a name that exists
    if user is None or not user.check_password(password):
        raise WrongPassword(username, *wrong)
    guessing.right(request, user)
    return user


def count(wrong: WrongPassword, request: HttpRequest) -> None:
    """Write down a wrong password; to be called outside of the work that it ended."""
    request.proving = wrong.username  # type: ignore[attr-defined]
    if wrong.pin:
        pins.count_wrong(wrong.username)
        security.say("wrong PIN", wrong.username, request)
        return
    AxesProxyHandler.update_request(request)
    user_login_failed.send(
        sender=__name__, credentials={"username": wrong.username}, request=request
    )
