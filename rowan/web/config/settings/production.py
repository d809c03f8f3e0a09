"""Production: secret, hosts and data folder from the environment; HTTPS only."""

from __future__ import annotations

import os

from .base import *

os.umask(0o077)  # what is kept is the owner's alone
SECRET_KEY = env("ROWAN_SECRET_KEY")
ALLOWED_HOSTS = env.list("ROWAN_HOSTS")
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]
SECURE_SSL_REDIRECT = True
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_HSTS_SECONDS = 31_536_000
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
# this host's alone, over HTTPS alone: a browser refuses such names from anybody else
SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = "__Host-sessionid", "__Host-csrftoken"
STUDIES_BESIDE = True
