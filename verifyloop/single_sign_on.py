"""What the sign-in by the account of the site needs, from the environment."""

from __future__ import annotations

import os
from typing import Any

from django.core.exceptions import ImproperlyConfigured

#: What has to be said, by the name of the package's setting.
NEEDED = {
    "OIDC_RP_CLIENT_ID": "VERIFYLOOP_OIDC_CLIENT",
    "OIDC_RP_CLIENT_SECRET": "VERIFYLOOP_OIDC_SECRET",
    "OIDC_ISSUER": "VERIFYLOOP_OIDC_ISSUER",
    "OIDC_OP_AUTHORIZATION_ENDPOINT": "VERIFYLOOP_OIDC_AUTHORIZE",
    "OIDC_OP_TOKEN_ENDPOINT": "VERIFYLOOP_OIDC_TOKEN",
    "OIDC_OP_USER_ENDPOINT": "VERIFYLOOP_OIDC_USERINFO",
    "OIDC_OP_JWKS_ENDPOINT": "VERIFYLOOP_OIDC_KEYS",
}
#: What is the same everywhere.
FIXED = {
    "OIDC_RP_SIGN_ALGO": "RS256",
    "OIDC_RP_SCOPES": "openid email",
    "OIDC_CREATE_USER": False,
    "OIDC_USE_PKCE": True,
    "OIDC_TIMEOUT": 10,
    "LOGIN_REDIRECT_URL": "/",
    "LOGIN_REDIRECT_URL_FAILURE": "/?refused=sign-in",
}


def from_environment() -> dict[str, Any]:
    """Return the settings of the sign-in; none of them where it is not set up.

    Raises
    ------
    ImproperlyConfigured
        naming what is missing, where some is said and some is not.
    """
    said = {name: os.environ.get(key, "") for name, key in NEEDED.items()}
    if not any(said.values()):
        return {}
    missing = [NEEDED[name] for name, value in said.items() if not value]
    if missing:
        raise ImproperlyConfigured("Sign-in by the site also needs " + ", ".join(missing))
    return {**said, **FIXED}
