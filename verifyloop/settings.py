"""Django settings. What differs between sites comes from the environment."""

import os
import secrets
from pathlib import Path

from verifyloop.single_sign_on import from_environment

BASE_DIR = Path(__file__).resolve().parent.parent
DATA_DIR = Path(os.environ.get("VERIFYLOOP_DATA", BASE_DIR / "var"))
DATA_DIR.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    """Take the key from the environment, or keep one beside the data."""
    if key := os.environ.get("VERIFYLOOP_SECRET_KEY"):
        return key
    place = DATA_DIR / "secret.key"
    if not place.exists():
        place.write_text(secrets.token_urlsafe(50))
        place.chmod(0o600)
    return place.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", "testserver"] + [
    host for host in os.environ.get("VERIFYLOOP_HOSTS", "").split(",") if host
]

#: The keys that seal the records: never in the database, and kept apart from its backup.
SEAL_KEYS = Path(os.environ.get("VERIFYLOOP_SEAL_KEYS", DATA_DIR / "seal.keys"))

INSTALLED_APPS = [
    "verifyloop.support.apps.SupportConfig",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.messages",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "ninja",
    "verifyloop.register",
    "verifyloop.accounts",
    "verifyloop.plant",
    "verifyloop.kit",
    "verifyloop.rigs",
    "verifyloop.work",
    "verifyloop.records",
    "verifyloop.bench",
    "verifyloop.lists",
    "verifyloop.files",
    "verifyloop.demo",
    "verifyloop.api",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "verifyloop.register.who.WhoMiddleware",
    "verifyloop.plant.zone.ZoneMiddleware",
    "verifyloop.api.edge.EdgeMiddleware",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
#: Wrong passwords, by name and device; see verifyloop/accounts/proving.py.
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = "verifyloop.accounts.proving.cool_off"
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "verifyloop.api.problems.locked_out"
AXES_ENABLE_ACCESS_FAILURE_LOG = True
AXES_RESET_ON_SUCCESS = True
# No password is guessed where none is sent: the sign-in by the site comes back by GET.
AXES_NEVER_LOCKOUT_GET = True
AXES_VERBOSE = False
# Who was tried, and from where, is what the log is for; passwords are never in it.
AXES_SENSITIVE_PARAMETERS: list[str] = []
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ]
        },
    }
]
ROOT_URLCONF = "verifyloop.urls"
WSGI_APPLICATION = "verifyloop.wsgi.application"
AUTH_USER_MODEL = "accounts.User"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

#: Tests that run side by side copy their database as one file: no journal beside it.
JOURNAL = os.environ.get("VERIFYLOOP_JOURNAL", "WAL")
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "verifyloop.sqlite3",
        # Each thread of the server keeps its connection.
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            # FULL: an acknowledged event survives a pulled plug, not only a killed process.
            "init_command": f"PRAGMA journal_mode={JOURNAL}; PRAGMA synchronous=FULL;",
        },
        # Tests that only drive a server need no database of their own: tables without migrating.
        "TEST": {
            "NAME": DATA_DIR / "test.sqlite3",
            "MIGRATE": os.environ.get("VERIFYLOOP_TEST_MIGRATE", "yes") == "yes",
        },
    }
}

LANGUAGE_CODE = "en"
USE_TZ = True
TIME_ZONE = os.environ.get("VERIFYLOOP_TIME_ZONE", "UTC")

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 12 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "verifyloop.api.problems.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.PBKDF2PasswordHasher"]
_RULES = "django.contrib.auth.password_validation."
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": _RULES + "MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": _RULES + "UserAttributeSimilarityValidator"},
    {"NAME": _RULES + "CommonPasswordValidator"},
    {"NAME": _RULES + "NumericPasswordValidator"},
]
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024

# Mail is printed on the console until a server is named.
EMAIL_HOST = os.environ.get("VERIFYLOOP_MAIL_HOST", "")
EMAIL_PORT = int(os.environ.get("VERIFYLOOP_MAIL_PORT", "587"))
EMAIL_HOST_USER = os.environ.get("VERIFYLOOP_MAIL_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("VERIFYLOOP_MAIL_PASSWORD", "")
EMAIL_USE_TLS = os.environ.get("VERIFYLOOP_MAIL_TLS", "yes") == "yes"
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if EMAIL_HOST else 'console'}.EmailBackend"
DEFAULT_FROM_EMAIL = os.environ.get("VERIFYLOOP_MAIL_FROM", "verify-loop@localhost")

#: Sign-in by the account of the site; nothing where it is not set up.
SINGLE_SIGN_ON = from_environment()
globals().update(SINGLE_SIGN_ON)
if SINGLE_SIGN_ON:
    AUTHENTICATION_BACKENDS.append("verifyloop.accounts.single.ByClaims")

WEB_DIST = BASE_DIR / "web" / "dist"
STATIC_URL = "static/"
WHITENOISE_ROOT = WEB_DIST
# The styles of the support pages lie in their package.
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 31536000

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        # A screen asks for its parts at once; that they wait a moment is no event.
        "waitress.queue": {"level": "ERROR"},
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
    },
}
