"""Settings of how the program is served: from a data folder, on loopback, to paired phones if asked."""

from __future__ import annotations

import os
import re
from typing import Any

from csp.constants import NONCE, NONE, SELF
from django.utils.functional import SimpleLazyObject

from coldstack.server.config.paths import DATABASE_NAME, PROJECT, WEB_DIST, data_dir, secret_key, world

BASE_DIR = PROJECT
WORLD = world()
SERVED_HOST = "127.0.0.1"
# where phones reach it, with a slash at the end; None while it answers on this machine only
PHONE_ADDRESS: str | None = None
TLS = os.environ.get("COLD_STACK_TLS") == "1"
# the certificate that phones are shown, once it is made
AUTHORITY: Any = None
DATA_DIR = data_dir()
# made on first use: reading the settings leaves nothing behind
SECRET_KEY = SimpleLazyObject(lambda: secret_key(DATA_DIR))

DEBUG = os.environ.get("COLD_STACK_DEBUG") == "1"
ALLOWED_HOSTS = [
    "127.0.0.1",
    "localhost",
    "[::1]",
    *filter(None, os.environ.get("COLD_STACK_HOSTS", "").split(",")),
]

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "csp",
    "ninja",
    "coldstack.server.worlds",
    "coldstack.server.rules",
    "coldstack.server.logs",
    "coldstack.server.gear",
    "coldstack.server.life",
    "coldstack.server.sizing",
    "coldstack.server.matching",
    "coldstack.server.charges",
    "coldstack.server.keeping",
    "coldstack.server.tomorrow",
    "coldstack.server.pairing",
    "coldstack.server.practice",
]
MIDDLEWARE = [
    "coldstack.server.api.answers.ProblemsInWords",
    "django.middleware.security.SecurityMiddleware",
    "coldstack.server.api.answers.KnownHosts",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "csp.middleware.CSPMiddleware",
    "coldstack.server.api.answers.Compressed",
    # what has not changed since it was asked for is not sent again
    "django.middleware.http.ConditionalGetMiddleware",
    "coldstack.server.pairing.cookies.PlainOnLoopback",
    "django.contrib.sessions.middleware.SessionMiddleware",
    # whoever is neither this machine nor a paired phone gets the pairing page, and no file
    "coldstack.server.pairing.gate.Gate",
    # below them, so that its files have the same headers and go to the same hosts
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "coldstack.server.api.clocks.TheirClock",
    "coldstack.server.gear.plugs.OwnPlugs",
]
ROOT_URLCONF = "coldstack.server.config.urls"
WSGI_APPLICATION = "coldstack.server.config.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

SQLITE_SETTINGS = (
    "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; "
    "PRAGMA temp_store=MEMORY; PRAGMA cache_size=-1000;"
)
"""Of each connection: what was acknowledged survives a crash of the machine."""
DATABASES = {
    "default": {
        "ENGINE": "coldstack.server.config.sqlite",
        "NAME": DATA_DIR / DATABASE_NAME,
        # a thread keeps its connection: what was read through it is known to be current as long as it lives
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 60,  # SQLite serves who waits in no order: of fifty writers at once one may come last
            # a write transaction takes its lock at the start: no deadlock between two that read first
            "transaction_mode": "IMMEDIATE",
            "init_command": SQLITE_SETTINGS,
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TEST_RUNNER = "tests.runner.Runner"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.is_dir() else []
WHITENOISE_USE_FINDERS = True
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_AUTOREFRESH = DEBUG


def _is_hashed(path: str, url: str) -> bool:
    return bool(re.match(r"^/static/assets/.+-[\w-]{8}\.\w+$", url))


WHITENOISE_IMMUTABLE_FILE_TEST = _is_hashed


def _of_the_whole_program(headers: Any, path: str, url: str) -> None:
    """The service worker lies among the files and serves every page."""
    if url == "/static/sw.js":
        headers["Service-Worker-Allowed"] = "/"


WHITENOISE_ADD_HEADERS_FUNCTION = _of_the_whole_program

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        # Radix places its pop-ups by style attributes; no attribute can run code
        "style-src-attr": ["'unsafe-inline'"],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "object-src": [NONE],
        "base-uri": [SELF],
        "frame-ancestors": [NONE],
        "form-action": [SELF],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
# one's own world and the demo answer at one host, and a host's cookies are shared by its ports
SESSION_COOKIE_NAME = f"cold-stack-{WORLD}"
SESSION_COOKIE_AGE = 180 * 24 * 3600
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = TLS
CSRF_COOKIE_SAMESITE = "Strict"
CSRF_COOKIE_HTTPONLY = False  # the front end copies the token into a header
CSRF_FAILURE_VIEW = "coldstack.server.api.errors.csrf_failure"
# W004: nothing binds a browser to TLS at localhost or at an address, where other programs answer too.
# W008: the listener for phones speaks TLS only, so there is nothing to redirect; the plain one is loopback's.
SILENCED_SYSTEM_CHECKS = ["security.W004", "security.W008"]
if not TLS:  # W012, W016: a Secure cookie would not be sent over a plain line
    SILENCED_SYSTEM_CHECKS += ["security.W012", "security.W016"]
DATA_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 32 * 1024 * 1024

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # a refused request is the sender's news, not the log's
    "loggers": {
        "django.request": {"level": "ERROR"},
        "django.security": {"level": "CRITICAL"},
    },
}
