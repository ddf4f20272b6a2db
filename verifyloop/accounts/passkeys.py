"""Passkeys: a device signs a challenge of ours with a key that never leaves it.

Where it runs without a name of its own or without HTTPS there are none: browsers refuse them.
"""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from ipaddress import ip_address
from typing import Any

from django.http import HttpRequest
from django.utils import timezone
from webauthn import (
    generate_authentication_options,
    generate_registration_options,
    options_to_json,
    verify_authentication_response,
    verify_registration_response,
)
from webauthn.helpers import base64url_to_bytes, bytes_to_base64url
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from verifyloop.accounts.models import Passkey, User
from verifyloop.errors import NotAllowed

#: A challenge waits in the session; what was proven by one holds for a minute, once.
#: What waits for a new key took the whole proof, what waits for a known one did not.
WAITS_NEW, WAITS = "challenge_new", "challenge"
PROVEN, HOLDS, BEGINS = "passkey_proven", timedelta(minutes=1), "pk"


def place(request: HttpRequest) -> tuple[str, str]:
    """Return the name that keys are bound to, and where from they are asked; or nothing."""
    host = request.get_host()
    name = host.rpartition(":")[0] if ":" in host.rpartition("]")[2] else host
    try:
        ip_address(name.strip("[]"))
        return "", ""
    except ValueError:
        pass
    if name != "localhost" and not request.is_secure():
        return "", ""
    return name, f"{request.scheme}://{host}"


def _place(request: HttpRequest) -> tuple[str, str]:
    found = place(request)
    if not found[0]:
        raise NotAllowed(
            "passkey.not_here",
            "Browsers use no passkeys at this address.",
            "Open the site by its name and HTTPS; at this machine by localhost.",
        )
    return found


def _known(user: User | None) -> list[PublicKeyCredentialDescriptor]:
    keys = user.passkeys.filter(ended_at=None) if user is not None else ()
    return [PublicKeyCredentialDescriptor(id=base64url_to_bytes(k.credential)) for k in keys]


def to_make(request: HttpRequest, user: User) -> str:
    """Return what a browser needs to make a key."""
    name, _ = _place(request)
    options = generate_registration_options(
        rp_id=name,
        rp_name="Verify Loop",
        user_id=str(user.pk).encode(),
        user_name=user.username,
        user_display_name=user.display_name,
        exclude_credentials=_known(user),
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED,
            user_verification=UserVerificationRequirement.REQUIRED,
        ),
    )
    request.session[WAITS_NEW] = bytes_to_base64url(options.challenge)
    return options_to_json(options)


def made(
    request: HttpRequest, user: User, credential: dict[str, Any], name: str, now: datetime
) -> Passkey:
    """Keep the key that a browser made."""
    rp, origin = _place(request)
    try:
        key = verify_registration_response(
            credential=credential,
            expected_challenge=_challenge(request, WAITS_NEW),
            expected_rp_id=rp,
            expected_origin=origin,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, KeyError, TypeError) as wrong:
        raise _refused() from wrong
    return Passkey.objects.create(
        user=user,
        name=name,
        credential=bytes_to_base64url(key.credential_id),
        public_key=bytes_to_base64url(key.credential_public_key),
        sign_count=key.sign_count,
        made_at=now,
    )


def to_use(request: HttpRequest, user: User | None) -> str:
    """Return what a browser needs to use a key: of who is signed in, or any for this site.

    Of a stranger nothing is looked up: which names have keys is nobody's business.
    """
    name, _ = _place(request)
    options = generate_authentication_options(
        rp_id=name,
        allow_credentials=_known(user),
        user_verification=UserVerificationRequirement.REQUIRED,
    )
    request.session[WAITS] = bytes_to_base64url(options.challenge)
    return options_to_json(options)


def whose(request: HttpRequest, credential: dict[str, Any]) -> User:
    """Return who used a key of theirs."""
    rp, origin = _place(request)
    key = (
        Passkey.objects.select_related("user")
        .filter(credential=str(credential.get("id")), ended_at=None, user__is_active=True)
        .first()
    )
    challenge = _challenge(request, WAITS)
    if key is None:
        raise _refused()
    try:
        said = verify_authentication_response(
            credential=credential,
            expected_challenge=challenge,
            expected_rp_id=rp,
            expected_origin=origin,
            credential_public_key=base64url_to_bytes(key.public_key),
            credential_current_sign_count=key.sign_count,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, KeyError, TypeError) as wrong:
        raise _refused() from wrong
    Passkey.objects.filter(pk=key.pk).update(sign_count=said.new_sign_count)
    user: User = key.user
    return user


def _challenge(request: HttpRequest, which: str) -> bytes:
    """Return the challenge that waits; it is good once."""
    waits = request.session.pop(which, "")
    if not waits:
        raise _refused()
    return base64url_to_bytes(waits)


def _refused() -> NotAllowed:
    return NotAllowed(
        "passkey.refused",
        "That passkey is not good here, or the question was too old.",
        "Try again; or use your password.",
        "passkey",
    )


def prove(request: HttpRequest, user: User) -> str:
    """Return what stands for the password once, within a minute, in this session alone."""
    token = f"{BEGINS}{secrets.token_hex(16)}"
    until = (timezone.now() + HOLDS).isoformat()
    request.session[PROVEN] = [user.username, token, until]
    return token


def used(request: HttpRequest | None, user: User, said: str) -> bool:
    """Tell whether something typed is what this session's passkey has proven; it is good once."""
    session = getattr(request, "session", None)
    if session is None or not said.startswith(BEGINS) or PROVEN not in session:
        return False
    username, token, until = session.pop(PROVEN)
    fresh = timezone.now() <= datetime.fromisoformat(until)
    return fresh and username == user.username and secrets.compare_digest(token, said)
