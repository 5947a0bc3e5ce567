"""Serve the shop."""

from __future__ import annotations

import ipaddress
import os
import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ventmap.server.shop.models import House


class Command(BaseCommand):
    help = "Serve Vent Map; with the sample shop in it, on this machine only."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        import uvicorn

        host = options["host"]
        if House.current().is_sample and not _here_only(host):
            self.stderr.write(
                f"The sample shop's pass phrase is public, so it is not served on {host}. Use 127.0.0.1, or start an own shop with VENTMAP_DATA set to an empty folder."
            )
            sys.exit(2)
        os.environ["DJANGO_SETTINGS_MODULE"] = "ventmap.server.settings"
        uvicorn.run("ventmap.server.asgi:application", host=host, port=options["port"], log_level="warning", timeout_graceful_shutdown=3)


def _here_only(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
