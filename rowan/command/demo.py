"""The demo: its world prepared, a free port found, then the server takes over. Data stays from one start to the next."""

from __future__ import annotations

import os
import socket
import sys

from rowan.command.serve import HEAPS, server
from rowan.folders import data_folder

PORTS = 200  # looked through for a free one
THREADS = 8


def _free(first: int) -> int | None:
    """The first free port of this machine from one on."""
    for port in range(first, first + PORTS):
        with socket.socket() as found:
            found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                found.bind(("127.0.0.1", port))
            except OSError:
                continue
        return port
    return None


def run_demo(first_port: int, *, fresh: bool, serve: bool) -> int:
    """`rowan demo`; comes back where it only prepares, or cannot serve."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "rowan.web.config.settings.demo"
    os.environ["ROWAN_VAR"] = str(data_folder())
    os.environ["ROWAN_STUDIES_BESIDE"] = "1"
    import django

    django.setup()
    from django.core.management import call_command

    from rowan.demo.person import EMAIL, PASSWORD

    call_command("prepare_demo", fresh=fresh)
    if not serve:
        return 0
    port = _free(first_port)
    if port is None:
        print(f"rowan: no free port from {first_port} on", file=sys.stderr)
        return 2
    print(f"\n  Rowan   http://127.0.0.1:{port}/\n  sign in {EMAIL}\n          {PASSWORD}\n", flush=True)
    os.environ.update(HEAPS)
    command = server(f"127.0.0.1:{port}", 1, THREADS, "--log-level", "warning")
    os.execv(command[0], command)  # noqa: S606  the server takes this process's place
    return 0
