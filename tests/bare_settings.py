"""Settings of `tests.bare`: the product's, with nothing of the product in between."""

from verifyloop.settings import *  # noqa: F403

ROOT_URLCONF = "tests.bare"
SESSION_ENGINE = "django.contrib.sessions.backends.db"
MIDDLEWARE = [
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
]
