"""Make a backup now."""

from __future__ import annotations

import sys
from typing import Any

from django.core.management.base import BaseCommand

from ventmap.core.basics import VentMapError
from ventmap.server import backup


class Command(BaseCommand):
    help = "Make a backup of the whole shop and prove it by reading it back. People may go on working."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            made = backup.make()
        except VentMapError as error:
            self.stderr.write(error.sentence)
            sys.exit(2)
        self.stdout.write(f"{made} · {made.stat().st_size / 1e6:.1f} MB, read back whole.")
