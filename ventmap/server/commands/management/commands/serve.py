"""Serve the shop."""

from __future__ import annotations

import importlib
import ipaddress
import os
import sys
import threading
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from ventmap.server import quiet
from ventmap.server.settling import settle
from ventmap.server.shop.models import House

WARM_AFTER_S = 6.0  # when the first screen stands
QUIET_S = 1.2  # an import holds everything else up: it waits for a pause this long


class Command(BaseCommand):
    help = "Serve Vent Map; with the sample shop in it, on this machine only."
    # One start loads everything once: checks are for the tests, and a new version's migrations are made here.
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        import uvicorn

        host = options["host"]
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
        warm = threading.Timer(WARM_AFTER_S, _warm)
        warm.daemon = True
        warm.start()
        uvicorn.run(
            "ventmap.server.asgi:application",
            host=host,
            port=options["port"],
            log_level="warning",
            timeout_graceful_shutdown=3,
        )


def _warm() -> None:
    """Load what is only needed later while nobody waits for it."""
    for name in ("scipy.signal", "scipy.optimize", "scipy.ndimage", "matplotlib.figure", "weasyprint"):
        quiet.wait(QUIET_S, longest_s=60.0)
        importlib.import_module(name)


def _here_only(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
