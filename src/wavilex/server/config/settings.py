"""Django's settings. Anything an owner may change comes from the environment; nothing secret is in here."""

from __future__ import annotations

import hashlib
import os
from datetime import timedelta
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

from wavilex.server.config import limits
from wavilex.server.config.data_folder import DATABASE, data_folder, keep_private, secret_key

PACKAGE = Path(__file__).resolve().parent.parent
DATA = data_folder()
keep_private(DATA)
SECRET_KEY = secret_key(DATA)
DEBUG = False
DEMO = os.environ.get("WAVILEX_DEMO") == "1"
LAN = os.environ.get("WAVILEX_LAN", "")  # the address in the house, where the server stands there by itself
LAN_PRINT = os.environ.get("WAVILEX_LAN_PRINT", "")  # the fingerprint of its certificate
PROBE_ADDRESS = os.environ.get("WAVILEX_PROBE_ADDRESS", "")  # where the probe is served without TLS, if it is
TLS = os.environ.get("WAVILEX_TLS") == "1" or bool(LAN)  # a TLS server stands in front
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *filter(None, os.environ.get("WAVILEX_HOSTS", "").split(","))]
CSRF_TRUSTED_ORIGINS = [f"https://{h}" for h in ALLOWED_HOSTS[3:]] if TLS else []

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "axes",
    "csp",
    "wavilex.server.accounts",
    "wavilex.server.jobs",
    "wavilex.server.shelf",
    "wavilex.server.bench",
    "wavilex.server.probe",
    "wavilex.server.faults",
    "wavilex.server.upkeep",
]
MIDDLEWARE = [
    "wavilex.server.requests.RequestMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "wavilex.server.urls"
WSGI_APPLICATION = "wavilex.server.config.wsgi.application"
TEMPLATES: list[dict[str, object]] = []
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
APPEND_SLASH = False

BUSY_SECONDS = 1  # a writer that waits longer is told to come again
READ_ONLY = os.environ.get("WAVILEX_READ_ONLY", "")  # why nothing may be written; set by the server at its start
PROXY = os.environ.get("WAVILEX_PROXY", "")  # the address of the TLS server in front, whose word is taken

DATABASES: dict[str, dict[str, object]] = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / DATABASE,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": BUSY_SECONDS,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}
if READ_ONLY:  # a damaged database is looked at, never written; sessions then live in their cookies
    DATABASES["default"] |= {"NAME": f"{(DATA / DATABASE).as_uri()}?mode=ro", "OPTIONS": {"uri": True}}
    SESSION_ENGINE = "django.contrib.sessions.backends.signed_cookies"
    AXES_ENABLED = False

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = limits.SIGN_IN_FAILURES
AXES_COOLOFF_TIME = timedelta(minutes=limits.SIGN_IN_COOL_OFF_MINUTES)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "wavilex.server.accounts.api.locked_out"
AXES_USERNAME_CALLABLE = "wavilex.server.accounts.known.counted_as"
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False  # who goes on guessing does not make it longer
AXES_VERBOSE = False

INSTALLATION = hashlib.sha256(SECRET_KEY.encode()).hexdigest()[:8]  # a host may have several, on ports of their own
SESSION_COOKIE_NAME = f"wavilex_session_{INSTALLATION}"
CSRF_COOKIE_NAME = f"wavilex_token_{INSTALLATION}"
KNOWN_COOKIE_NAME = f"wavilex_known_{INSTALLATION}"
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_AGE = 14 * 24 * 3600
SESSION_COOKIE_SECURE = TLS
CSRF_COOKIE_SECURE = TLS
CSRF_FAILURE_VIEW = "wavilex.server.problems.csrf_failure"
SECURE_SSL_REDIRECT = False  # the TLS server in front does that
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if TLS and not LAN else None
SECURE_HSTS_SECONDS = 31_536_000 if TLS and not LAN else 0  # a browser would then refuse a certificate of our own
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = limits.FILE_BYTES  # most addresses take less: see requests.py
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "style-src-attr": ["'unsafe-inline'"],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
STATICFILES_DIRS = [PACKAGE / "web"]
WHITENOISE_USE_FINDERS = False
WHITENOISE_ROOT = None
WHITENOISE_AUTOREFRESH = False
WHITENOISE_ALLOW_ALL_ORIGINS = False
STATIC_ROOT = PACKAGE / "web"


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Built assets carry a hash in their name."""
    return url.startswith("/static/assets/")


EDID_READER = os.environ.get("WAVILEX_EDID_READER", "drm")  # or `simulated`
BOXES = os.environ.get("WAVILEX_BOXES", "")  # boxes that answer, as METERS: `den-screen=/dev/ttyUSB1;…`
LIGHT_METERS = os.environ.get("WAVILEX_LIGHT_METERS", "")  # as METERS
METERS = os.environ.get("WAVILEX_METERS", "")  # `name=socket://127.0.0.1:5000;name=/dev/ttyUSB0`

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(asctime)s %(levelname)s %(name)s %(message)s"}},
    "handlers": {
        "file": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": DATA / "wavilex.log",
            "maxBytes": 2_000_000,
            "backupCount": 5,
            "formatter": "line",
            "delay": True,
        }
    },
    "root": {"handlers": ["file"], "level": "WARNING"},
    "loggers": {"wavilex": {"handlers": ["file"], "level": "INFO", "propagate": False}},
}
