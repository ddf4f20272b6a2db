"""Ways into accounts: what the site asks of them, and what each person is told of their own."""

from __future__ import annotations

from typing import Any
from urllib.parse import parse_qs, urlsplit

import segno
from django.contrib.auth import login
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from verifyloop import form_values
from verifyloop.accounts import factors, guessing, links, passkeys, pins, resets, rules
from verifyloop.accounts.models import Pin, User
from verifyloop.accounts.permissions import BARE, require
from verifyloop.api.people import ProofIn
from verifyloop.api.session import SessionOut, session_out
from verifyloop.errors import NotAllowed
from verifyloop.register.kept import version_of
from verifyloop.register.write_lock import writing

router = Router(tags=["ways in"])


class RulesOut(Schema):
    """What the site asks of ways into accounts."""

    #: who makes links for others: one, administrator, two
    links_by: str
    #: so long signatures say that others opened a way into the account [d]
    reset_days: int
    #: a PIN stands for the password at signatures and locks, on known devices
    pin: bool
    #: roles that need a second factor
    factor_roles: list[str]
    version: str


class RulesIn(RulesOut, ProofIn):
    """The rules as they are to be, the state that was read before, and who changes them."""

    reset_days: int = Field(ge=0, le=365)


def _out() -> RulesOut:
    now = resets.rules()
    return RulesOut(
        links_by=now.links_by,
        reset_days=now.reset_days,
        pin=now.pin,
        factor_roles=now.factor_roles,
        version=version_of(now) if now.pk else "",
    )


@router.get("/rules", response=RulesOut, operation_id="getSignInRules")
def get_rules(request: HttpRequest) -> RulesOut:
    """Return what the site asks of ways into accounts."""
    require(request.user, "people.manage")  # type: ignore[arg-type]
    return _out()


@router.put("/rules", response=RulesOut, operation_id="changeSignInRules")
def put_rules(request: HttpRequest, body: RulesIn) -> RulesOut:
    """Change what the site asks of ways into accounts."""
    rules.change(
        actor=request.user,  # type: ignore[arg-type]
        proof=body.proof(),
        **body.dict(exclude=set(ProofIn.model_fields)),
    )
    return _out()


@router.post("/notices/read", response=SessionOut, operation_id="noticesRead")
def notices_read(request: HttpRequest) -> SessionOut:
    """Say that one has read what one was told of one's own account."""
    resets.read(request.user, timezone.now())  # type: ignore[arg-type]
    return session_out(request)


class Done(Schema):
    """It is done."""

    done: bool


class KeyOut(Schema):
    """A passkey that is good."""

    id: int
    name: str
    made: str


class MineOut(Schema):
    """One's own ways in."""

    passkeys: list[KeyOut]
    #: browsers use passkeys at this address
    passkeys_here: bool
    app: bool
    recovery_left: int
    #: none, good, dead
    pin: str
    pin_allowed: bool
    #: who opened a way into this account last, and when; empty where nobody did
    reset: str


class WholeProof(Schema):
    """One's own password, and the second factor where there is one."""

    own: str
    code: str = ""


class AppOut(Schema):
    """What an app reads: as an address, as a picture of it, and to be typed."""

    address: str
    picture: str
    secret: str


class CodeIn(Schema):
    """The code that an app shows."""

    code: str


class RecoveryOut(Schema):
    """Recovery codes, shown only now."""

    codes: list[str]


class PinIn(WholeProof):
    """A PIN, and who sets it."""

    pin: str


class AskedOut(Schema):
    """What a browser needs to make or use a passkey (WebAuthn), as JSON."""

    options: str


class CredentialIn(Schema):
    """What a browser made of it (WebAuthn)."""

    credential: dict[str, Any]


class NewKeyIn(CredentialIn):
    """A new passkey, under a name."""

    name: str


class ProofOut(Schema):
    """What stands for the password once, within a minute."""

    proof: str


def _me(request: HttpRequest) -> User:
    """Return who is signed in as a person: a script has no ways in of its own."""
    if getattr(request, "by_token", False):
        raise NotAllowed("token.signs_nothing", "A script does not do that.", "Sign in yourself.")
    return request.user  # type: ignore[return-value]


def _mine(request: HttpRequest) -> MineOut:
    user = _me(request)
    pin = Pin.objects.filter(user=user).first()
    day = timezone.localdate
    return MineOut(
        passkeys=[
            KeyOut(id=k.pk, name=k.name, made=day(k.made_at).isoformat())
            for k in user.passkeys.filter(ended_at=None).order_by("pk")
        ],
        passkeys_here=bool(passkeys.place(request)[0]),
        app=factors.apps(user),
        recovery_left=user.recovery_codes.filter(used_at=None).count(),
        pin="none" if pin is None else "dead" if pin.dead else "good",
        pin_allowed=resets.rules().pin,
        reset=f"{day(user.reset_at)}: {user.reset_how}" if user.reset_at else "",
    )


@router.get("/mine", response=MineOut, operation_id="getWaysIn")
def get_mine(request: HttpRequest) -> MineOut:
    """Return one's own ways in."""
    return _mine(request)


@router.post("/app", response=AppOut, operation_id="beginApp")
def begin_app(request: HttpRequest, body: WholeProof) -> AppOut:
    """Begin with an app that shows codes: it counts once its first code was typed."""
    user = _me(request)
    factors.full(user, body.own, body.code)
    address = factors.begin_app(request, user)
    picture = segno.make(address, error="m").svg_data_uri(scale=5, border=2)
    secret = parse_qs(urlsplit(address).query)["secret"][0]
    return AppOut(address=address, picture=picture, secret=secret)


@router.post("/app/first", response=RecoveryOut, operation_id="firstCode")
def first_code(request: HttpRequest, body: CodeIn) -> RecoveryOut:
    """Take the app into use by its first code; recovery codes are shown once."""
    codes = factors.end_app_setup(request, _me(request), body.code, timezone.now())
    request.session.pop(BARE, None)
    return RecoveryOut(codes=codes)


@router.post("/recovery", response=RecoveryOut, operation_id="newRecovery")
def new_recovery(request: HttpRequest, body: WholeProof) -> RecoveryOut:
    """Make new recovery codes; those of before are good no more."""
    user = _me(request)
    factors.full(user, body.own, body.code)
    with writing():
        return RecoveryOut(codes=factors.new_recovery(user, timezone.now()))


@router.put("/pin", response=MineOut, operation_id="setPin")
def set_pin(request: HttpRequest, body: PinIn) -> MineOut:
    """Set a PIN, or another one."""
    user = _me(request)
    factors.full(user, body.own, body.code)
    if not resets.rules().pin:
        raise NotAllowed("pin.not_here", "This site uses no PINs.", "Use your password.")
    with writing():
        pins.set_pin(user, body.pin, timezone.now())
        resets.tell(user, "A PIN was set for your account.", timezone.now())
    return _mine(request)


@router.post("/end", response=MineOut, operation_id="endFactors")
def end_factors(request: HttpRequest, body: WholeProof) -> MineOut:
    """End one's own app, passkeys, recovery codes and PIN."""
    user, now = _me(request), timezone.now()
    factors.full(user, body.own, body.code)
    with writing():
        factors.end_all(user, now)
        resets.tell(user, "Second factors and PIN of your account were ended.", now)
    return _mine(request)


@router.post("/of/{username}/end", response=Done, operation_id="endFactorsOf")
def end_of(request: HttpRequest, username: str, body: ProofIn) -> Done:
    """End the second factors of somebody else, who lost them."""
    links.end_factors(actor=_me(request), username=username, proof=body.proof(), now=timezone.now())
    return Done(done=True)


@router.post("/passkeys/options", response=AskedOut, operation_id="askNewPasskey")
def ask_new(request: HttpRequest, body: WholeProof) -> AskedOut:
    """Begin to make a passkey."""
    user = _me(request)
    factors.full(user, body.own, body.code)
    return AskedOut(options=passkeys.to_make(request, user))


@router.post("/passkeys", response=RecoveryOut, operation_id="addPasskey")
def add_passkey(request: HttpRequest, body: NewKeyIn) -> RecoveryOut:
    """Keep a new passkey; with the first factor come recovery codes, shown once."""
    user, now = _me(request), timezone.now()
    name = form_values.text(body.name, "name", "Its name", 60)
    with writing():
        first = not factors.has(user)
        passkeys.made(request, user, body.credential, name, now)
        resets.tell(user, f"A passkey was added to your account: {name}.", now)
        codes = factors.new_recovery(user, now) if first else []
    request.session.pop(BARE, None)
    return RecoveryOut(codes=codes)


@router.post("/passkey/options", response=AskedOut, auth=None, operation_id="askPasskey")
def ask_passkey(request: HttpRequest) -> AskedOut:
    """Begin to use a passkey: to sign in, or of who is signed in."""
    _csrf(request)
    user = request.user if isinstance(request.user, User) else None
    return AskedOut(options=passkeys.to_use(request, user))


@router.post("/passkey", response=SessionOut, auth=None, operation_id="signInByPasskey")
def by_passkey(request: HttpRequest, response: HttpResponse, body: CredentialIn) -> SessionOut:
    """Sign in by a passkey."""
    _csrf(request)
    user = passkeys.whose(request, body.credential)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    guessing.remember(request, response, user)
    return session_out(request)


@router.post("/passkey/prove", response=ProofOut, operation_id="proveByPasskey")
def prove(request: HttpRequest, body: CredentialIn) -> ProofOut:
    """Return what stands for one's password, or for the code, once."""
    me = _me(request)
    if passkeys.whose(request, body.credential).pk != me.pk:
        raise NotAllowed("passkey.other", "That is the passkey of somebody else.", "Use your own.")
    return ProofOut(proof=passkeys.prove(request, me))


def _csrf(request: HttpRequest) -> None:
    if check_csrf(request) is not None:
        raise HttpError(403, "csrf")
