"""Links that set a password once: for somebody new, or for one who forgot theirs.

Whoever has the link has the account. So who makes one proves who they are, nobody makes one for
themselves, and the person, the register and later signatures are told.
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from calibration.kernel.errors import InputError
from verifyloop.accounts import factors, resets
from verifyloop.accounts.models import OneTimeLink, SignInRules, User
from verifyloop.accounts.people import PersonGiven, by_username, entered, password_ok
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.errors import NotAllowed, NotFound
from verifyloop.register.who import in_the_name
from verifyloop.register.write_lock import writing

#: How long a link may be used.
LINK_LASTS = timedelta(days=7)
#: Who makes one where nobody else can: see ``manage.py password_link``.
MACHINE = "somebody at the server itself"


@dataclass(frozen=True, kw_only=True)
class Proof:
    """What shows who makes a link: one's own password, and a second person where the site asks."""

    own: str
    second: str = ""
    second_password: str = ""


@writing()
def invite(*, actor: User, said: PersonGiven, proof: Proof, now: datetime) -> tuple[User, str]:
    """Make an account without a password, and the link by which its person sets one."""
    who = makers(actor, proof)
    user = entered(said)
    return user, _link(who, user, now)


@writing()
def new_link(*, actor: User, username: str, proof: Proof, now: datetime) -> tuple[User, str]:
    """Make a link for one who forgot their password; every earlier link ends.

    Raises
    ------
    NotAllowed
        ``link.own``: nobody makes one for themselves.
    """
    require(actor, "people.manage")
    user = _another(actor, username, proof)
    who = makers(actor, proof)
    _works_here(user)
    return user, _link(who, user, now)


@writing()
def link_of_machine(username: str, now: datetime) -> str:
    """Make a link at the server itself, for a site where nobody else can."""
    user = by_username(username)
    _works_here(user)
    return _link([], user, now)


@writing()
def end_factors(*, actor: User, username: str, proof: Proof, now: datetime) -> None:
    """End the second factors and the PIN of somebody else, who lost them."""
    require(actor, "people.manage")
    user = _another(actor, username, proof)
    by = " and ".join(resets.named(u) for u in makers(actor, proof))
    factors.end_all(user, now)
    resets.opened(user, f"its second factors were ended by {by}.", now)
    user.save(update_fields=["reset_at", "reset_how"])
    resets.tell(user, f"{by} ended the second factors and the PIN of your account.", now)


def _another(actor: User, username: str, proof: Proof) -> User:
    """Return somebody who is none of those that open a way into their account."""
    user = by_username(username)
    if user.pk == actor.pk or user.username == proof.second:
        raise NotAllowed(
            "link.own",
            "Nobody does that for themselves.",
            "Change your own at Site, My sign-in; or ask somebody else.",
        )
    return user


def _works_here(user: User) -> None:
    if not user.is_active:
        raise InputError(
            "person.inactive", "username", f"{user.display_name} has ended.", "Begin again first."
        )


def makers(actor: User, proof: Proof) -> list[User]:
    """Return who opens a way into an account, each by their own password, as the site asks."""
    require(actor, "people.manage")
    asked = resets.rules().links_by
    if asked == SignInRules.LinksBy.ADMINISTRATOR and actor.role != User.Role.ADMINISTRATOR:
        raise NotAllowed(
            "link.administrator",
            "At this site an administrator does that.",
            "Ask an administrator; where there is none: manage.py password_link at the server.",
        )
    found = [proven(actor.username, proof.own, _wrong("That is not your own password.", "own"))]
    if asked == SignInRules.LinksBy.TWO:
        found.append(_second(actor, proof))
    return found


def _second(actor: User, proof: Proof) -> User:
    if not proof.second or proof.second == actor.username:
        raise InputError(
            "link.second",
            "second",
            "At this site two people do that.",
            "Let another planner or administrator type their own name and password; where there "
            "is none: manage.py password_link at the server.",
        )
    words = _wrong("Name or password of the second person is not right.", "second_password")
    second = proven(proof.second, proof.second_password, words)
    require(second, "people.manage")
    return second


def _wrong(said: str, field: str) -> tuple[str, str, str]:
    return (said, "Nothing was done. Type it again.", field)


def _link(makers: list[User], user: User, now: datetime) -> str:
    user.links.filter(used_at=None, expires_at__gt=now).update(expires_at=now)
    token = secrets.token_urlsafe(24)
    by = " and ".join(resets.named(u) for u in makers) or MACHINE
    OneTimeLink.objects.create(
        user=user,
        digest=hashlib.sha256(token.encode()).hexdigest(),
        made_by=by[:120],
        accounts=",".join(u.username for u in makers)[:310],
        made_at=now,
        expires_at=now + LINK_LASTS,
    )
    if user.has_usable_password():
        resets.tell(user, f"{by} made a link by which your password can be set anew.", now)
    return token


def by_link(token: str, now: datetime) -> OneTimeLink:
    """Return a link that may still be used.

    Raises
    ------
    NotFound
        ``link.ended``.
    """
    digest = hashlib.sha256(token.encode()).hexdigest()
    link = OneTimeLink.objects.select_related("user").filter(digest=digest).first()
    if link is None or link.used_at or link.expires_at <= now or not link.user.is_active:
        raise NotFound(
            "link.ended",
            "This link has been used, or its week is over.",
            "Ask a planner for a new one.",
        )
    return link


@writing()
def accept(token: str, password: str, now: datetime) -> User:
    """Set a password by a link; all sessions of before end. Whoever has the link does it."""
    link = by_link(token, now)
    user = link.user
    with in_the_name(f"link by {link.accounts or 'the server'}"):
        anew = user.has_usable_password()
        user.set_password(password_ok(password, user))
        resets.opened(user, f"its password was set by a link that {link.made_by} made.", now)
        user.save(update_fields=["password", "reset_at", "reset_how"])
        link.used_at = now
        link.save(update_fields=["used_at"])
        if anew:
            said = f"Your password was set anew by the link that {link.made_by} made."
            resets.tell(user, said, now)
    return user
