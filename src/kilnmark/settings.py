"""Settings of the web side. Everything that is stored lies in one folder, KILNMARK_DATA (default:
var/).
"""

import os
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF

from kilnmark.bench.rooms import ROOMS
from kilnmark.data_folder import digest_of, made_private, secret_key

SOURCE = Path(__file__).resolve().parent
ROOT = SOURCE.parent.parent
DATA = made_private(Path(os.environ.get("KILNMARK_DATA") or ROOT / "var").resolve())

SECRET_KEY = secret_key(DATA)
DEBUG = False
ALLOWED_HOSTS = os.environ.get("KILNMARK_HOSTS", "127.0.0.1,localhost,[::1]").split(",")
HTTPS = (
    os.environ.get("KILNMARK_HTTPS") == "1"
)  # a server in front speaks HTTPS: the one setting for it
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS] if HTTPS else []
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "kilnmark.accounts",
    "kilnmark.pieces",
    "kilnmark.faces",
    "kilnmark.shelf",
    "kilnmark.makers",
    "kilnmark.bin",
    "kilnmark.controls",
    "kilnmark.bench",
    *(f"kilnmark.bench.{room}" for room in ROOMS),
    "kilnmark.preps",
    "kilnmark.pins",
    "kilnmark.directions",
    "kilnmark.recipes",
    "kilnmark.tips",
    "kilnmark.firings",
    "kilnmark.guide",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "kilnmark.answers.Answers",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "kilnmark.accounts.required.SignInRequired",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "kilnmark.accounts.sessions.StaysWhileUsed",
    "kilnmark.refusals.RefusalMiddleware",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "kilnmark.accounts.views.too_often"
AXES_VERBOSE = False
AXES_ENABLE_ADMIN = False
CSRF_FAILURE_VIEW = "kilnmark.refusals.forbidden"

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
        "CONN_MAX_AGE": 300,  # the threads of the server stay, and so may their connections
        "OPTIONS": {
            # plain BEGIN loses to another writer instead of waiting for it
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            # FULL: what was answered as saved survives a power cut
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
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
STATICFILES_DIRS = [SOURCE / "static"]
# named after what is in it, so that it is either all there or not there at all (`server.prepare`)
STATIC_ROOT = os.environ.get("KILNMARK_STATIC_ROOT") or DATA / "static" / digest_of(
    *sorted(SOURCE.rglob("static"))
)
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {
        "BACKEND": os.environ.get("KILNMARK_STATIC", "kilnmark.static_storage.HashedModules")
    },
}

DATA_UPLOAD_MAX_MEMORY_SIZE = (
    2 * 2**20
)  # of forms and JSON; files have limits of their own in the core
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
    "formatters": {
        "line": {"()": "kilnmark.logs.OneLine", "format": "%(asctime)s %(levelname)s %(message)s"}
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "loggers": {
        "kilnmark": {"handlers": ["console"], "level": "INFO"},
        "axes": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
    },
}
