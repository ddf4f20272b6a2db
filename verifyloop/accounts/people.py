"""Who works here: enter, change, end. Links by which a password is set are in ``links``."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.models import Group
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from calibration.kernel.errors import InputError
from verifyloop import form_values
from verifyloop.accounts import resets, security
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import ALLOWED, require
from verifyloop.accounts.proving import proven
from verifyloop.errors import Conflict, NotFound
from verifyloop.register.kept import version_of
from verifyloop.register.write_lock import writing

USERNAME = re.compile(r"[a-z0-9][a-z0-9._-]{1,29}")
ROLES: tuple[str, ...] = tuple(str(value) for value in User.Role.values)


@dataclass(frozen=True, kw_only=True)
class PersonGiven:
    """What was typed of a person."""

    username: str
    first_name: str
    last_name: str
    email: str = ""
    role: str = "technician"


def role_is(user: User, role: str) -> None:
    """Give somebody a role, and the Django group of its name alone among those of roles."""
    user.role = role
    user.save(update_fields=["role"])
    group, _ = Group.objects.get_or_create(name=role)
    user.groups.remove(*user.groups.filter(name__in=ROLES).exclude(pk=group.pk))
    user.groups.add(group)


def made(known: Iterable[tuple[str, str, str, str]], password: str) -> dict[str, User]:
    """Make accounts of name, first and last name and role, all with one known password."""
    found = {}
    for username, first, last, role in known:
        user = User(username=username, first_name=first, last_name=last)
        user.set_password(password)
        user.save()
        role_is(user, role)
        found[username] = user
    return found


def password_ok(password: str, user: User, field: str = "password") -> str:
    """Return a password that the rules of the site allow.

    Raises
    ------
    InputError
        ``password.weak``, with what is asked of one.
    """
    try:
        validate_password(password, user)
    except ValidationError as refused:
        raise InputError(
            "password.weak",
            field,
            " ".join(refused.messages),
            "Take ten characters or more that nobody guesses: three words, for example.",
        ) from None
    if len(password) > 200:
        raise InputError("password.long", field, "It is too long.", "Use at most 200 characters.")
    return password


def person_wrong(said: PersonGiven, new: bool) -> InputError | None:
    """Return what is wrong with a person; none where nothing is."""
    try:
        _person(said, new)
    except InputError as wrong:
        return wrong
    return None


def entered(said: PersonGiven) -> User:
    """Make an account without a password; its person gets a link later."""
    user = _person(said)
    user.set_unusable_password()
    user.save()
    role_is(user, user.role)
    return user


def _person(said: PersonGiven, new: bool = True) -> User:
    """Return a person as typed, not stored yet."""
    username = said.username.strip().lower()
    if not USERNAME.fullmatch(username):
        raise InputError(
            "username.wrong",
            "username",
            "A name to sign in with has 2 to 30 small letters, digits, dots or hyphens.",
            "For example the first name: ana, or ana.b where there are two.",
        )
    if new and User.objects.filter(username=username).exists():
        raise InputError(
            "username.taken", "username", f"'{username}' is there already.", "Take another name."
        )
    return User(
        username=username,
        first_name=form_values.text(said.first_name, "first_name", "The first name", 60),
        last_name=form_values.text(said.last_name, "last_name", "The last name", 60),
        email=email_ok(said.email),
        role=form_values.one_of(said.role, "role", "Role", ROLES),
    )


def email_ok(said: str) -> str:
    """Return an address that mail can be sent to, or nothing.

    Raises
    ------
    InputError
        ``email.wrong``.
    """
    email = form_values.text(said, "email", "The address", 200, required=False)
    if email and not re.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s]+", email):
        raise InputError("email.wrong", "email", "That is no e-mail address.", "Or leave it empty.")
    return email


@writing()
def first_person(said: PersonGiven, password: str) -> User:
    """Make the first planner of an empty plant.

    Raises
    ------
    Conflict
        ``start.done`` when there is somebody already.
    """
    if User.objects.exists():
        raise Conflict("start.done", "This plant has been started already.", "Sign in.")
    user = _person(said)
    user.set_password(password_ok(password, user))
    user.save()
    role_is(user, User.Role.PLANNER)
    return user


@writing()
def change_password(*, actor: User, old: str, new: str) -> User:
    """Set one's own password, proven by the one of before; all other sessions end."""
    proven(actor.username, old, ("That is not your password.", "Type it again.", "old"))
    actor.set_password(password_ok(new, actor, "new"))
    actor.save(update_fields=["password"])
    return actor


@writing()
def change_person(
    *,
    actor: User,
    username: str,
    role: str,
    active: bool,
    email: str,
    version: str,
    own: str,
    now: datetime,
) -> User:
    """Change the role of somebody, or end or begin them; nobody is ever deleted.

    Another address is another way in where the site's own sign-in goes by it: it takes the
    password ``own`` of who changes it, its person is told, and their signatures say so.

    Raises
    ------
    Conflict
        when somebody else changed them since; ``people.last`` when nobody could invite any more.
    """
    require(actor, "people.manage")
    user = by_username(username)
    if version_of(user) != version:
        raise Conflict(
            "version.old",
            f"Somebody else changed {user.display_name} meanwhile.",
            "Look again, then change it.",
        )
    role = form_values.one_of(role, "role", "Role", ROLES)
    if not (active and role in ALLOWED["people.manage"]) and _last(user):
        raise Conflict(
            "people.last",
            f"{user.display_name} is the last one who may invite people.",
            "Give somebody else the role of planner or administrator first.",
        )
    address = email_ok(email)
    if address != user.email:
        proven(actor.username, own, ("That is not your own password.", "Type it again.", "own"))
        resets.address_changed(user, address, actor, now)
    user.is_active = active
    user.save(update_fields=["email", "is_active", "reset_at", "reset_how"])
    if role != user.role:
        role_is(user, role)
    security.say("changed", user.username, role=role, active=active)
    return user


def _last(user: User) -> bool:
    others = User.objects.filter(is_active=True, role__in=ALLOWED["people.manage"])
    return user.role in ALLOWED["people.manage"] and not others.exclude(pk=user.pk).exists()


def by_username(username: str) -> User:
    """Return an account."""
    found: User | None = User.objects.filter(username=username[:150]).first()
    if found is None:
        raise NotFound("person.unknown", "There is nobody of that name.", "Reload the list.")
    return found
