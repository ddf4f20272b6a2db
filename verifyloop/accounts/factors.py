"""A second factor: codes of an app, passkeys, and recovery codes on paper for who lost them."""

from __future__ import annotations

import base64
import hashlib
import secrets
from datetime import datetime

import pyotp
from cryptography.fernet import Fernet, InvalidToken
from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone

from verifyloop.accounts import passkeys, resets
from verifyloop.accounts.models import CodeApp, RecoveryCode, User
from verifyloop.accounts.proving import WrongPassword, proven
from verifyloop.errors import Conflict, NotAllowed
from verifyloop.register.who import request_now
from verifyloop.register.write_lock import writing

RECOVERY = 10
ISSUER, STEP = "Verify Loop", 30
#: Under which a secret waits in the session until its first code was typed.
WAITS = "code_app"


def _box() -> Fernet:
    key = hashlib.sha256(f"codes of apps {settings.SECRET_KEY}".encode()).digest()
    return Fernet(base64.urlsafe_b64encode(key))


def has(user: User) -> bool:
    """Tell whether somebody has a second factor."""
    return apps(user) or any(key.ended_at is None for key in user.passkeys.all())


def apps(user: User) -> bool:
    """Tell whether somebody has an app that shows codes."""
    return any(app.ended_at is None for app in user.code_apps.all())


def missing(user: User) -> bool:
    """Tell whether the site asks this role for a second factor that is not there yet."""
    return user.role in resets.rules().factor_roles and not has(user)


def ask(user: User, code: str) -> None:
    """Ask for the second factor of who just proved their password.

    Raises
    ------
    NotAllowed
        ``factor.needed`` where nothing was typed yet.
    WrongPassword
        ``factor.wrong``; it counts as a wrong password does.
    """
    if not has(user):
        return
    if not code.strip():
        what = "the code of your app" if apps(user) else "your passkey"
        raise NotAllowed(
            "factor.needed",
            f"Your account has a second factor: {what}.",
            "Give it, or type one of your recovery codes.",
            "code",
        )
    if not _good(user, code):
        wrong = WrongPassword(
            user.username,
            "That code is not right, or was used already.",
            "Wait for the next one; or type a recovery code.",
            "code",
        )
        wrong.code = "factor.wrong"
        raise wrong


@writing()
def _good(user: User, code: str) -> bool:
    said = code.replace(" ", "").replace("-", "").lower()
    if passkeys.used(request_now(), user, said):
        return True
    return _of_app(user, said) or _of_paper(user, said)


def _of_app(user: User, said: str) -> bool:
    now = int(timezone.now().timestamp()) // STEP
    for app in user.code_apps.filter(ended_at=None):
        try:
            codes = pyotp.TOTP(_box().decrypt(app.secret.encode()).decode())
        except InvalidToken:
            continue
        for step in (now - 1, now, now + 1):
            if step > app.last_step and secrets.compare_digest(codes.at(step * STEP), said):
                app.last_step = step
                app.save(update_fields=["last_step"])
                return True
    return False


def _digest(said: str) -> str:
    return hashlib.sha256(said.encode()).hexdigest()


def _of_paper(user: User, said: str) -> bool:
    found = user.recovery_codes.filter(digest=_digest(said), used_at=None).first()
    if found is None:
        return False
    found.used_at = timezone.now()
    found.save(update_fields=["used_at"])
    left = user.recovery_codes.filter(used_at=None).count()
    resets.tell(user, f"A recovery code was used; {left} are left.", found.used_at)
    return True


def full(user: User, own: str, code: str) -> None:
    """Ask for the whole proof before a way in changes: password, and the factor there is."""
    proven(user.username, own, ("That is not your own password.", "Type it again.", "own"))
    ask(user, code)


def begin_app(request: HttpRequest, user: User) -> str:
    """Return the address that an app reads; it counts once its first code was typed."""
    secret = pyotp.random_base32()
    request.session[WAITS] = _box().encrypt(secret.encode()).decode()
    return pyotp.TOTP(secret).provisioning_uri(name=user.username, issuer_name=ISSUER)


@writing()
def end_app_setup(request: HttpRequest, user: User, code: str, now: datetime) -> list[str]:
    """Take an app into use by its first code, and return recovery codes to be kept on paper."""
    waits = request.session.get(WAITS)
    if not waits:
        raise Conflict("factor.none_begun", "No app waits for its first code.", "Begin again.")
    codes = pyotp.TOTP(_box().decrypt(waits.encode()).decode())
    said = code.replace(" ", "")
    step = int(now.timestamp()) // STEP
    if said not in [codes.at(s * STEP) for s in (step - 1, step, step + 1)]:
        raise NotAllowed(
            "factor.wrong",
            "That is not the code that the app shows now.",
            "Type the one it shows; is the clock of its device right?",
            "code",
        )
    del request.session[WAITS]
    user.code_apps.filter(ended_at=None).update(ended_at=now)
    CodeApp.objects.create(user=user, secret=waits, last_step=step, made_at=now)
    resets.tell(user, "An app that shows codes was added to your account.", now)
    return new_recovery(user, now)


def new_recovery(user: User, now: datetime) -> list[str]:
    """Return new recovery codes, each shown only now; those of before are good no more."""
    user.recovery_codes.filter(used_at=None).update(used_at=now)
    made = [secrets.token_hex(5) for _ in range(RECOVERY)]
    RecoveryCode.objects.bulk_create(
        [RecoveryCode(user=user, digest=_digest(code)) for code in made]
    )
    return [f"{code[:5]}-{code[5:]}" for code in made]


@writing()
def end_all(user: User, now: datetime) -> None:
    """End every factor and the PIN of somebody."""
    user.code_apps.filter(ended_at=None).update(ended_at=now)
    user.passkeys.filter(ended_at=None).update(ended_at=now)
    user.recovery_codes.filter(used_at=None).update(used_at=now)
    if hasattr(user, "pin"):
        user.pin.dead = True
        user.pin.save(update_fields=["dead"])
