"""Sign-in by the account of the site (OpenID Connect Core 1.0); off unless it is set up.

Whoever comes in has an account here already: the role is given by a planner, not by a claim.
A signature still takes one's own password here.
"""

from __future__ import annotations

import logging
from typing import Any

from django.conf import settings
from django.core.exceptions import SuspiciousOperation
from django.db.models import QuerySet
from django.http import HttpRequest
from jwt import PyJWTError
from mozilla_django_oidc.auth import OIDCAuthenticationBackend
from requests import RequestException

from verifyloop.accounts.models import User

log = logging.getLogger("django.security.single")


class ByClaims(OIDCAuthenticationBackend):  # type: ignore[misc]
    """Finds the person whose e-mail address the site's own sign-in vouches for."""

    def authenticate(self, request: HttpRequest | None, **more: Any) -> User | None:
        """Return who comes in; nobody where anything is wrong, with why in the log."""
        try:
            found: User | None = super().authenticate(request, **more)
        except (SuspiciousOperation, PyJWTError, RequestException) as wrong:
            log.warning("sign-in by the site refused: %s", wrong)
            return None
        return found

    def verify_claims(self, claims: dict[str, Any]) -> bool:
        """Tell whether the address is vouched for; one that was never verified is not."""
        return bool(claims.get("email")) and claims.get("email_verified") is not False

    def filter_users_by_claims(self, claims: dict[str, Any]) -> QuerySet[User]:
        """Return who works here under that address; nobody where two share it."""
        found = User.objects.filter(email__iexact=str(claims.get("email", "")), is_active=True)
        alone: QuerySet[User] = found if found.count() == 1 else found.none()
        return alone

    def verify_token(self, token: str, **more: Any) -> dict[str, Any]:
        """Return what an ID token says; one made by or for somebody else is refused."""
        payload: dict[str, Any] = super().verify_token(token, **more)
        meant = payload.get("aud")
        meant = [meant] if isinstance(meant, str) else meant or []
        if settings.OIDC_RP_CLIENT_ID not in meant:  # type: ignore[misc]
            raise SuspiciousOperation("the token is for another client")
        if payload.get("iss") != settings.OIDC_ISSUER:  # type: ignore[misc]
            raise SuspiciousOperation("the token is by another issuer")
        return payload
