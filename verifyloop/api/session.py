"""Signing in and out."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from verifyloop.accounts import factors, guessing, passkeys, pins, resets
from verifyloop.accounts.models import Notice, User
from verifyloop.accounts.permissions import BARE, bare, can, codes_of
from verifyloop.errors import NotAllowed
from verifyloop.plant.start import is_empty
from verifyloop.records import outside

router = Router(tags=["session"])


class Me(Schema):
    """The person signed in."""

    username: str
    name: str
    role: str
    can: list[str]
    #: what they have not read yet of their own account
    told: list[str]
    #: of who looks after the site: restores to be acknowledged, and what speaks against the records
    restores: list[RestoreOut]
    set_back: list[str]
    #: the site asks this role for a second factor, and it is not there yet
    bare: bool
    #: a PIN of theirs is good on this device; they have a passkey
    pin: bool
    passkey: bool


class RestoreOut(Schema):
    """A restore that nobody has acknowledged yet: what it was from, and what is lost by it."""

    line: int
    at: str
    source: str
    lost: list[str]


class SessionOut(Schema):
    """Who is signed in, and the token that writing requests carry."""

    csrf_token: str
    user: Me | None
    #: nobody is there yet: the site is to be started
    empty: bool
    #: there is a sign-in by the account of the site
    single: bool
    #: browsers use passkeys at this address
    passkeys: bool


def _notice(one: Notice) -> str:
    return f"{timezone.localtime(one.at):%Y-%m-%d %H:%M}: {one.text}"


def _restores() -> list[RestoreOut]:
    return [
        RestoreOut(
            line=entry.pk,
            at=f"{timezone.localtime(entry.at):%Y-%m-%d %H:%M}",
            source=str(said["from"]).rstrip("/").rpartition("/")[2],
            lost=said["lost"],
        )
        for entry, said in outside.unacknowledged()
    ]


class SignIn(Schema):
    """Name and password, and the second factor where the account has one."""

    username: str
    password: str
    code: str = ""


def session_out(request: HttpRequest) -> SessionOut:
    """Return who is signed in."""
    user = request.user
    me = None
    if isinstance(user, User):
        me = Me(
            username=user.username,
            name=user.display_name,
            role=user.role,
            can=codes_of(user),
            bare=bare(),
            pin=pins.of(user) is not None,
            passkey=user.passkeys.filter(ended_at=None).exists(),
            told=[_notice(one) for one in resets.unread(user)],
            restores=_restores() if can(user, "site.change") else [],
            set_back=outside.last_state().get("wrong", []) if can(user, "site.change") else [],
        )
    return SessionOut(
        csrf_token=get_token(request),
        user=me,
        empty=me is None and is_empty(),
        single=bool(settings.SINGLE_SIGN_ON),
        passkeys=bool(passkeys.place(request)[0]),
    )


@router.get("", response=SessionOut, auth=None, operation_id="getSession")
def get_session(request: HttpRequest) -> SessionOut:
    """Tell who is signed in."""
    return session_out(request)


@router.post("", response=SessionOut, auth=None, operation_id="signIn")
def sign_in(request: HttpRequest, response: HttpResponse, body: SignIn) -> SessionOut:
    """Start a session."""
    if check_csrf(request) is not None:
        raise HttpError(403, "csrf")
    username = body.username.strip()[:150]
    guessing.look(request, username, "password")
    user = authenticate(request, username=username, password=body.password)
    if user is None:
        raise NotAllowed(
            "session.refused",
            "Name or password is not right.",
            "Check both; capital letters count in the password.",
            "password",
        )
    factors.ask(user, body.code)
    login(request, user)
    if factors.missing(user):
        request.session[BARE] = True
    guessing.remember(request, response, user)
    return session_out(request)


@router.delete("", response=SessionOut, operation_id="signOut")
def sign_out(request: HttpRequest) -> SessionOut:
    """End the session."""
    logout(request)
    return session_out(request)
