"""Django settings. What differs between sites comes from the environment."""

import os
from pathlib import Path
from typing import Any

import dj_database_url

from verifyloop import VERSION
from verifyloop.edge import headers, log
from verifyloop.environment import Environment
from verifyloop.single_sign_on import from_environment

BASE_DIR = Path(__file__).resolve().parent.parent
SAID = Environment(os.environ)
DATA_DIR = SAID.folder(BASE_DIR)
SECRET_KEY = SAID.secret_key(DATA_DIR)
DEBUG = False

#: What people type; none where it runs for this machine only.
ADDRESS = SAID.address()
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *SAID.names("HOSTS")]
if ADDRESS:
    ALLOWED_HOSTS.append(str(ADDRESS.hostname))
    CSRF_TRUSTED_ORIGINS = [f"{ADDRESS.scheme}://{ADDRESS.netloc}"]
#: The path below which it lies: "/" or "/some/path/".
BASE_PATH = ADDRESS.path if ADDRESS else "/"
FORCE_SCRIPT_NAME = BASE_PATH.rstrip("/") or None
#: Whose word is taken on who asks and how: see verifyloop/edge/proxied.py.
PROXIES = SAID.networks("PROXIES", "127.0.0.1,::1")
#: Another number than its own, where a test puts the next release into service.
RELEASE = SAID.text("TEST_RELEASE", VERSION)
#: How it is served: see verifyloop/serving.py.
BIND = SAID.text("BIND", "127.0.0.1:8000")
WORKERS, THREADS = SAID.number("WORKERS", 2, 1, 64), SAID.number("THREADS", 4, 1, 64)

SECURE = ADDRESS is not None and ADDRESS.scheme == "https"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE
SESSION_COOKIE_PATH = CSRF_COOKIE_PATH = LANGUAGE_COOKIE_PATH = BASE_PATH
SECURE_SSL_REDIRECT = SECURE
SECURE_REDIRECT_EXEMPT = [r"^health/"]
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if SECURE else 0
# Other names below the site's are others' to decide on: neither they nor a browser's list are told.
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]

#: The keys that seal the records: never in the database, and kept apart from its backup.
SEAL_KEYS = Path(SAID.text("SEAL_KEYS", str(DATA_DIR / "seal.keys")))

INSTALLED_APPS = [
    "verifyloop.support.apps.SupportConfig",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.messages",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "django_tasks",
    "django_tasks_db",
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
    "verifyloop.edge.log.LogMiddleware",
    "verifyloop.edge.headers.HeadersMiddleware",
    "django.middleware.security.SecurityMiddleware",
    # Every host name is looked at, whatever is asked for.
    "django.middleware.common.CommonMiddleware",
    "verifyloop.edge.headers.TextGZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "verifyloop.accounts.remembered.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "verifyloop.register.who.WhoMiddleware",
    "verifyloop.plant.zone.ZoneMiddleware",
    "verifyloop.edge.answers.EdgeMiddleware",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
#: Wrong passwords, by name and device; see verifyloop/accounts/guessing.py.
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = "verifyloop.accounts.guessing.cool_off"
AXES_WHITELIST_CALLABLE = "verifyloop.accounts.guessing.is_known"
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
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
APPEND_SLASH = False
ROOT_URLCONF = "verifyloop.urls"
WSGI_APPLICATION = "verifyloop.wsgi.application"
AUTH_USER_MODEL = "accounts.User"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

#: Tests that run side by side copy their database as one file: no journal beside it.
JOURNAL = SAID.one_of("JOURNAL", "WAL", "MEMORY")
DATABASES: dict[str, dict[str, Any]] = {
    "default": {
        "ENGINE": "verifyloop.sqlite",
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
            "MIGRATE": SAID.one_of("TEST_MIGRATE", "yes", "no") == "yes",
        },
    }
}
if address := SAID.database():
    DATABASES["default"] = {
        **dj_database_url.parse(address, conn_max_age=None, conn_health_checks=True),
        "TEST": DATABASES["default"]["TEST"] | {"NAME": None},
    }

#: Work that goes on after the answer: by a worker beside the server, or each request does its own.
BACKGROUND = SAID.one_of("BACKGROUND", "worker", "request")
_BY = "django_tasks_db.DatabaseBackend"
TASKS = {
    "default": {
        "BACKEND": _BY
        if BACKGROUND == "worker"
        else "django_tasks.backends.immediate.ImmediateBackend"
    }
}

LANGUAGE_CODE = "en"
USE_TZ = True
TIME_ZONE = SAID.time_zone()

SESSION_ENGINE = "verifyloop.accounts.sessions"
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
EMAIL_HOST = SAID.text("MAIL_HOST")
EMAIL_PORT = SAID.number("MAIL_PORT", 587, 1, 65535)
EMAIL_HOST_USER = SAID.text("MAIL_USER")
EMAIL_HOST_PASSWORD = SAID.text("MAIL_PASSWORD")
# A server that does not answer keeps nobody waiting for longer. [s]
EMAIL_TIMEOUT = 10
EMAIL_USE_TLS = SAID.one_of("MAIL_TLS", "yes", "no") == "yes"
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if EMAIL_HOST else 'console'}.EmailBackend"
DEFAULT_FROM_EMAIL = SAID.text("MAIL_FROM", "verify-loop@localhost")

#: Sign-in by the account of the site; nothing where it is not set up.
SINGLE_SIGN_ON = from_environment(SAID, BASE_PATH)
globals().update(SINGLE_SIGN_ON)
if SINGLE_SIGN_ON:
    AUTHENTICATION_BACKENDS.append("verifyloop.accounts.single.ByClaims")

WEB_DIST = BASE_DIR / "web" / "dist"
STATIC_URL = "static/"
WHITENOISE_ROOT = WEB_DIST
# The styles of the support pages lie in their package.
WHITENOISE_USE_FINDERS = True
# What has its hash in its name is kept for ever, and nothing else.
WHITENOISE_IMMUTABLE_FILE_TEST = headers.immutable
WHITENOISE_ADD_HEADERS_FUNCTION = headers.kept_for

LOGGING = log.configured(SAID.one_of("LOG", "text", "json"), SAID.syslog())
#: Where heads of the register go by themselves: see verifyloop/records/outside.py.
HEADS = SAID.heads()
