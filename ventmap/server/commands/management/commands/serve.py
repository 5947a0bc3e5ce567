"""Serve the shop."""

from __future__ import annotations

import gc
import importlib
import ipaddress
import logging
import os
import sys
import threading
import time
from contextlib import ExitStack
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection

from ventmap.server import backup, quiet
from ventmap.server.backup import BackupError
from ventmap.server.settling import settle
from ventmap.server.shop.models import House

log = logging.getLogger(__name__)
LOOK_AGAIN_S = 600.0
QUIET_S = 1.2  # an import holds everything else up: it waits for a pause this long


class Command(BaseCommand):
    help = "Serve Vent Map; with the sample shop in it, on this machine only."
    # One start loads everything once: checks are for the tests, and a new version's migrations are made here.
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--beyond-this-machine", action="store_true", help="other machines may connect")
        parser.add_argument("--certificate", help="TLS certificate, PEM")
        parser.add_argument("--key", help="its key, PEM")

    def handle(self, *args: Any, **options: Any) -> None:
        host = options["host"]
        if not _here_only(host) and not options["beyond_this_machine"]:
            self.stderr.write(
                f"{host} is seen by other machines. Say so with --beyond-this-machine, and how what they send"
                " is kept from others: docs/security.md."
            )
            sys.exit(2)
        if options["beyond_this_machine"] and not settings.TLS and not options["certificate"]:
            self.stderr.write(
                "Beyond this machine pass phrases need TLS: give --certificate FILE and --key FILE, or put a"
                " proxy with TLS before it and set VENTMAP_TLS=1."
            )
            sys.exit(2)
        if options["certificate"]:
            settings.SESSION_COOKIE_SECURE = settings.CSRF_COOKIE_SECURE = True
            settings.SECURE_HSTS_SECONDS = settings.HSTS_SECONDS
        if options["beyond_this_machine"] and settings.TLS and not settings.PROXIES:
            self.stderr.write(
                "VENTMAP_TLS=1 says that a proxy has the TLS: name its address in VENTMAP_PROXY, so that its"
                " word alone is taken for where a request comes from."
            )
            sys.exit(2)
        with ExitStack() as held:
            try:
                held.enter_context(backup.serving())
            except BackupError as error:
                self.stderr.write(error.sentence)
                sys.exit(2)
            self._serve(host, options)

    def _serve(self, host: str, options: dict[str, Any]) -> None:
        import uvicorn

        if backup.finish_restore(settings.DATA):
            self.stderr.write("At start: a restore that was cut was brought to its end.")
        call_command("migrate", verbosity=0, skip_checks=True)
        if House.current().is_sample and not _here_only(host):
            self.stderr.write(
                f"The sample shop's pass phrase is public, so it is not served on {host}. Use 127.0.0.1, or"
                " start an own shop with VENTMAP_DATA set to an empty folder."
            )
            sys.exit(2)
        for sentence in settle():
            self.stderr.write(f"At start: {sentence}")
        os.environ["DJANGO_SETTINGS_MODULE"] = "ventmap.server.settings"
        nightly = threading.Thread(target=_nightly, daemon=True)
        nightly.start()
        warm = threading.Timer(settings.WARM_AFTER_S, _warm)
        warm.daemon = True
        warm.start()
        uvicorn.run(
            "ventmap.server.asgi:application",
            host=host,
            port=options["port"],
            log_level="warning",
            timeout_graceful_shutdown=3,
            proxy_headers=bool(settings.PROXIES),
            forwarded_allow_ips=settings.PROXIES or None,
            ssl_certfile=options["certificate"],
            ssl_keyfile=options["key"],
        )


def _warm() -> None:
    """Load what is only needed later while nobody waits for it."""
    for name in ("scipy.signal", "scipy.optimize", "scipy.ndimage", "matplotlib.figure", "weasyprint"):
        quiet.wait(QUIET_S, longest_s=60.0)
        importlib.import_module(name)
    # What is loaded stays: the collector, which holds everybody up, need not walk through it again.
    gc.collect()
    gc.freeze()


def _nightly() -> None:
    """A backup a day, in a pause: looked at every ten minutes."""
    while True:
        time.sleep(LOOK_AGAIN_S)
        try:
            if backup.due():
                quiet.wait(QUIET_S, longest_s=3600.0)
                backup.make()
        except Exception:
            log.exception("the backup failed")
        finally:
            connection.close()


def _here_only(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
