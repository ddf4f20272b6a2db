"""What the sign-in by the account of the site needs, from the environment."""

from __future__ import annotations

from typing import Any

from verifyloop.environment import Environment, wrong

#: What has to be said, by the name of the package's setting.
NEEDED = {
    "OIDC_RP_CLIENT_ID": "OIDC_CLIENT",
    "OIDC_RP_CLIENT_SECRET": "OIDC_SECRET",
    "OIDC_ISSUER": "OIDC_ISSUER",
    "OIDC_OP_AUTHORIZATION_ENDPOINT": "OIDC_AUTHORIZE",
    "OIDC_OP_TOKEN_ENDPOINT": "OIDC_TOKEN",
    "OIDC_OP_USER_ENDPOINT": "OIDC_USERINFO",
    "OIDC_OP_JWKS_ENDPOINT": "OIDC_KEYS",
}


def fixed(base: str) -> dict[str, Any]:
    """Return what is the same everywhere, below the path of the product."""
    return {
        "OIDC_RP_SIGN_ALGO": "RS256",
        "OIDC_RP_SCOPES": "openid email",
        "OIDC_CREATE_USER": False,
        "OIDC_USE_PKCE": True,
        "OIDC_TIMEOUT": 10,
        "LOGIN_REDIRECT_URL": base,
        "LOGIN_REDIRECT_URL_FAILURE": f"{base}?refused=sign-in",
    }


def from_environment(environment: Environment, base: str) -> dict[str, Any]:
    """Return the settings of the sign-in; none of them where it is not set up.

    Raises
    ------
    ImproperlyConfigured
        naming what is missing, where some is said and some is not.
    """
    said = {name: environment.text(key) for name, key in NEEDED.items()}
    if not any(said.values()):
        return {}
    missing = [NEEDED[name] for name, value in said.items() if not value]
    given = next(f"VERIFYLOOP_{NEEDED[name]}" for name, value in said.items() if value)
    if missing:
        raise wrong(missing[0], f"is needed beside {given}, and so is each of this kind.")
    return {**said, **fixed(base)}
