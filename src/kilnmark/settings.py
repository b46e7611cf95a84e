"""Settings of the web side. Everything that is stored lies in one folder, KILNMARK_DATA (default: var/)."""

import os
import secrets
from pathlib import Path

from csp.constants import NONE, SELF

SOURCE = Path(__file__).resolve().parent
ROOT = SOURCE.parent.parent
DATA = Path(os.environ.get("KILNMARK_DATA") or ROOT / "var").resolve()


def _secret_key() -> str:
    """Made once and kept with the data, readable by its owner only."""
    path = DATA / "secret-key"
    if not path.exists():
        DATA.mkdir(parents=True, exist_ok=True)
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(50))
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("KILNMARK_HOSTS", "127.0.0.1,localhost,[::1],testserver").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "kilnmark.accounts",
    "kilnmark.pieces",
    "kilnmark.shelf",
    "kilnmark.bench",
    "kilnmark.firings",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "kilnmark.refusals.RefusalMiddleware",
]

ROOT_URLCONF = "kilnmark.urls"
WSGI_APPLICATION = "kilnmark.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [SOURCE / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
            "libraries": {"kiln": "kilnmark.tags"},
        },
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "kilnmark.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",  # plain BEGIN loses to another writer instead of waiting for it
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

LOGIN_URL = "login"
LOGIN_REDIRECT_URL = "pieces"
LOGOUT_REDIRECT_URL = "login"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = DATA / "static"
STATICFILES_DIRS = [SOURCE / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": os.environ.get("KILNMARK_STATIC", "kilnmark.static_storage.HashedModules")},
}

DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 2**20  # of forms and JSON; files have limits of their own in the core
FILE_UPLOAD_TEMP_DIR = None
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
SESSION_COOKIE_HTTPONLY = True
CSRF_COOKIE_SAMESITE = SESSION_COOKIE_SAMESITE = "Lax"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "connect-src": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
        "base-uri": [NONE],
    }
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "kilnmark": {"handlers": ["console"], "level": "INFO"},
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
    },
}
