"""People: who may sign in and as what; links by which they set a password."""

from __future__ import annotations

from django.contrib.auth import login, update_session_auth_hash
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from verifyloop.accounts import people
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.api.session import SessionOut, session_out
from verifyloop.register.kept import version_of

router = Router(tags=["people"])


class PersonOut(Schema):
    """One account."""

    username: str
    name: str
    email: str
    role: str
    active: bool
    #: a password was set
    ready: bool
    last_seen: str
    version: str


class PeopleOut(Schema):
    """All accounts, and the roles there are."""

    people: list[PersonOut]
    roles: list[str]


class PersonIn(Schema):
    """Somebody new."""

    username: str
    first_name: str
    last_name: str
    email: str = ""
    role: str


class PersonChange(Schema):
    """What is changed of somebody, and the state that was read before."""

    role: str
    active: bool
    email: str = ""
    version: str


class LinkOut(Schema):
    """A link that is shown once: nobody can look it up again."""

    person: PersonOut
    path: str
    days: int


class WelcomeOut(Schema):
    """Whose link it is."""

    username: str
    name: str


class NewPassword(Schema):
    """A password to be set."""

    password: str


class PasswordChange(Schema):
    """One's own password, before and from now on."""

    old: str
    new: str


def _out(user: User) -> PersonOut:
    return PersonOut(
        username=user.username,
        name=user.display_name,
        email=user.email,
        role=user.role,
        active=user.is_active,
        ready=user.has_usable_password(),
        last_seen=timezone.localtime(user.last_login).date().isoformat() if user.last_login else "",
        version=version_of(user),
    )


def _link(user: User, token: str) -> LinkOut:
    days = people.LINK_LASTS.days
    return LinkOut(person=_out(user), path=f"/welcome/{token}", days=days)


@router.get("", response=PeopleOut, operation_id="getPeople")
def get_people(request: HttpRequest) -> PeopleOut:
    """Return who may sign in."""
    require(request.user, "people.manage")  # type: ignore[arg-type]
    found = User.objects.order_by("-is_active", "first_name", "username")
    return PeopleOut(people=[_out(u) for u in found], roles=list(people.ROLES))


@router.post("", response=LinkOut, operation_id="invite")
def invite(request: HttpRequest, body: PersonIn) -> LinkOut:
    """Make an account, and the link by which its person sets a password."""
    user, token = people.invite(
        actor=request.user,  # type: ignore[arg-type]
        said=people.PersonGiven(**body.dict()),
        now=timezone.now(),
    )
    return _link(user, token)


@router.put("/{username}", response=PersonOut, operation_id="putPerson")
def put_person(request: HttpRequest, username: str, body: PersonChange) -> PersonOut:
    """Change a role, or end or begin somebody; nobody is deleted."""
    return _out(
        people.change_person(actor=request.user, username=username, **body.dict())  # type: ignore[arg-type]
    )


@router.post("/{username}/link", response=LinkOut, operation_id="newLink")
def new_link(request: HttpRequest, username: str) -> LinkOut:
    """Make a new link for somebody who forgot their password."""
    user, token = people.new_link(
        actor=request.user,  # type: ignore[arg-type]
        username=username,
        now=timezone.now(),
    )
    return _link(user, token)


@router.get(
    "/welcome/{token}",
    response=WelcomeOut,
    auth=None,
    operation_id="getWelcome",
)
def welcome(request: HttpRequest, token: str) -> WelcomeOut:
    """Tell whose link it is."""
    user = people.by_link(token[:100], timezone.now()).user
    return WelcomeOut(username=user.username, name=user.display_name)


@router.post(
    "/welcome/{token}",
    response=SessionOut,
    auth=None,
    operation_id="acceptLink",
)
def accept(request: HttpRequest, token: str, body: NewPassword) -> SessionOut:
    """Set a password by a link, and sign in."""
    if check_csrf(request) is not None:
        raise HttpError(403, "csrf")
    user = people.accept(token[:100], body.password, timezone.now())
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_out(request)


@router.post("/me/password", response=SessionOut, operation_id="changePassword")
def change_password(request: HttpRequest, body: PasswordChange) -> SessionOut:
    """Set one's own password; other sessions of the same person end."""
    user = people.change_password(actor=request.user, **body.dict())  # type: ignore[arg-type]
    update_session_auth_hash(request, user)
    return session_out(request)
