"""Settings: local by default, one data folder, nothing to fill in."""

from __future__ import annotations

import os
from pathlib import Path

from wertome.data_folder import DATABASE, data_folder, home_of_data, secret_key

HERE = Path(__file__).resolve().parent
# Worked on, it runs from its sources; installed, the built page lies within the package.
FROM_SOURCES = (HERE.parent / "web" / "package.json").exists()
WEB_BUILD = HERE.parent / "web" / "dist" if FROM_SOURCES else HERE / "built"
DATA = data_folder(
    Path(os.environ.get("WERTOME_DATA", HERE.parent / "data" if FROM_SOURCES else home_of_data()))
)

SECRET_KEY = secret_key(DATA)
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]

INSTALLED_APPS = ["django.contrib.staticfiles", "workshop"]
MIDDLEWARE = [
    "workshop.faults.InWords",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "wertome.urls"
WSGI_APPLICATION = "wertome.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [WEB_BUILD]}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / DATABASE,
        "OPTIONS": {
            # A write takes its turn from the start, and is on the disk before it is confirmed.
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            # Room that is free again is given back in small steps, which has to be said before
            # anything is written.
            "init_command": "PRAGMA auto_vacuum=INCREMENTAL; PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        # Kept open by every thread of the server: opening takes as long as most answers.
        "CONN_MAX_AGE": None,
        # A file, so that the server's threads and the tests see the same data.
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

STATIC_URL = "/assets/"
STATICFILES_DIRS = [WEB_BUILD / "assets"] if (WEB_BUILD / "assets").is_dir() else []
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 31_536_000  # the build puts a hash into every file name

CSRF_COOKIE_SAMESITE = "Strict"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

# Uploads are refused above this; it is what the readers take, too.
UPLOAD_BYTES = 96 << 20
# A whole project, with all its steps.
PROJECT_BYTES = 8 << 30
DATA_UPLOAD_MAX_MEMORY_SIZE = UPLOAD_BYTES + (1 << 20)
FILE_UPLOAD_MAX_MEMORY_SIZE = 1 << 20
# Other bodies are JSON: a pick or a limit of a million faces takes some eight million bytes.
JSON_BYTES = 16 << 20
JSON_VALUES = 2_000_000

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # Refusals are answered, and shown to the person who met them: only faults belong in the log.
    "loggers": {
        "django.request": {"level": "ERROR"},
        "django.security": {"level": "CRITICAL"},
        # Says how many requests wait, which several previews at once are enough for.
        "waitress.queue": {"level": "ERROR"},
    },
}
