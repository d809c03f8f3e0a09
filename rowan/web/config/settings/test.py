"""Tests: plain static files, no lock-out between tests, a database in memory."""

from __future__ import annotations

from .base import *

SECRET_KEY = "only-for-tests-" + "x" * 40
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
STORAGES = {**STORAGES, "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
# shipped files as in service: found once, and kept by the browser
WHITENOISE_AUTOREFRESH = False
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 3600
AXES_ENABLED = False
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
# a file, so that each thread of the live server has a connection of its own, as in service
(VAR / "static").mkdir(parents=True, exist_ok=True)
DATABASES["default"]["CONN_MAX_AGE"] = 0  # threads of the live server come and go
if not env("ROWAN_DATABASE", default=""):
    DATABASES["default"]["TEST"] = {"NAME": VAR / "test.sqlite3"}

SHORT_RUNS_BEGIN = False
DEMO_YEAR_OF_MINUTES = False
# each test has a server of its own; the one that is about pages without signal turns it on
SERVICE_WORKER = False
NEW_FIRMS = True
EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
