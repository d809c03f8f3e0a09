"""The demo: this machine only, with its own secret kept beside its data."""

from __future__ import annotations

import os
import secrets

from .base import *

os.umask(0o077)  # what is kept is the owner's alone
VAR.mkdir(parents=True, exist_ok=True)
_secret = VAR / "secret"
if not _secret.exists():
    _secret.write_text(secrets.token_urlsafe(48), encoding="utf-8")
    _secret.chmod(0o600)
SECRET_KEY = _secret.read_text(encoding="utf-8")
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
STUDIES_BESIDE = env.bool(
    "ROWAN_STUDIES_BESIDE", default=False
)  # as in production, where a server of several processes asks for it
NEW_FIRMS = env.bool("ROWAN_NEW_FIRMS", default=True)  # one's own machine
