"""People: who may sign in and as what; links by which they set a password."""

from __future__ import annotations

from collections.abc import Collection

from django.contrib.auth import login, update_session_auth_hash
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from verifyloop.accounts import factors, guessing, lifting, links, people, resets
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
    #: kept out of some device, after too many wrong passwords
    locked: bool
    #: there is a second factor
    factor: bool
    version: str


class PeopleOut(Schema):
    """All accounts, the roles there are, and whether two people make a link."""

    people: list[PersonOut]
    roles: list[str]
    two: bool


class ProofIn(Schema):
    """One's own password; and a second person's name and password, where the site asks for two."""

    own: str
    second: str = ""
    second_password: str = ""

    def proof(self) -> links.Proof:
        """Return what shows who makes a link."""
        return links.Proof(own=self.own, second=self.second, second_password=self.second_password)


class PersonIn(ProofIn):
    """Somebody new, and who invites."""

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
    #: one's own password, where the address changes
    own: str = ""


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


def _out(user: User, locked: Collection[str] | None = None) -> PersonOut:
    locked = guessing.locked_names() if locked is None else locked
    return PersonOut(
        username=user.username,
        name=user.display_name,
        email=user.email,
        role=user.role,
        active=user.is_active,
        ready=user.has_usable_password(),
        last_seen=timezone.localtime(user.last_login).date().isoformat() if user.last_login else "",
        locked=user.username in locked,
        factor=factors.has(user),
        version=version_of(user),
    )


def _link(user: User, token: str) -> LinkOut:
    days = links.LINK_LASTS.days
    return LinkOut(person=_out(user), path=f"/welcome/{token}", days=days)


@router.get("", response=PeopleOut, operation_id="getPeople")
def get_people(request: HttpRequest) -> PeopleOut:
    """Return who may sign in."""
    require(request.user, "people.manage")  # type: ignore[arg-type]
    found = User.objects.order_by("-is_active", "first_name", "username").prefetch_related(
        "code_apps", "passkeys"
    )
    locked = guessing.locked_names()
    two = resets.rules().links_by == "two"
    return PeopleOut(people=[_out(u, locked) for u in found], roles=list(people.ROLES), two=two)


@router.post("", response=LinkOut, operation_id="invite")
def invite(request: HttpRequest, body: PersonIn) -> LinkOut:
    """Make an account, and the link by which its person sets a password."""
    names = people.PersonGiven.__dataclass_fields__
    user, token = links.invite(
        actor=request.user,  # type: ignore[arg-type]
        said=people.PersonGiven(**body.dict(include=set(names))),
        proof=body.proof(),
        now=timezone.now(),
    )
    return _link(user, token)


@router.put("/{username}", response=PersonOut, operation_id="putPerson")
def put_person(request: HttpRequest, username: str, body: PersonChange) -> PersonOut:
    """Change a role, or end or begin somebody; nobody is deleted."""
    changed = people.change_person(
        actor=request.user,  # type: ignore[arg-type]
        username=username,
        now=timezone.now(),
        **body.dict(),
    )
    return _out(changed)


@router.post("/{username}/link", response=LinkOut, operation_id="newLink")
def new_link(request: HttpRequest, username: str, body: ProofIn) -> LinkOut:
    """Make a new link for somebody else who forgot their password."""
    user, token = links.new_link(
        actor=request.user,  # type: ignore[arg-type]
        username=username,
        proof=body.proof(),
        now=timezone.now(),
    )
    return _link(user, token)


@router.post("/{username}/unlock", response=PersonOut, operation_id="unlock")
def unlock(request: HttpRequest, username: str) -> PersonOut:
    """Forget the wrong passwords of somebody: they may try again at once."""
    return _out(lifting.lift(actor=request.user, username=username))  # type: ignore[arg-type]


@router.get(
    "/welcome/{token}",
    response=WelcomeOut,
    auth=None,
    operation_id="getWelcome",
)
def welcome(request: HttpRequest, token: str) -> WelcomeOut:
    """Tell whose link it is."""
    user = links.by_link(token[:100], timezone.now()).user
    return WelcomeOut(username=user.username, name=user.display_name)


@router.post(
    "/welcome/{token}",
    response=SessionOut,
    auth=None,
    operation_id="acceptLink",
)
def accept(request: HttpRequest, token: str, body: NewPassword) -> SessionOut:
    """Set a password by a link, and sign in where no second factor is to be asked for."""
    if check_csrf(request) is not None:
        raise HttpError(403, "csrf")
    user = links.accept(token[:100], body.password, timezone.now())
    if not factors.has(user):
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_out(request)


@router.post("/me/password", response=SessionOut, operation_id="changePassword")
def change_password(request: HttpRequest, body: PasswordChange) -> SessionOut:
    """Set one's own password; other sessions of the same person end."""
    user = people.change_password(actor=request.user, **body.dict())  # type: ignore[arg-type]
    update_session_auth_hash(request, user)
    return session_out(request)
