"""Put a backup in the place of what is there."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from ventmap.core.basics import VentMapError
from ventmap.server import backup


class Command(BaseCommand):
    help = "Restore a backup. Stop the server first; what is there now is set aside, not lost."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            aside = backup.restore(options["file"])
        except VentMapError as error:
            self.stderr.write(error.sentence)
            sys.exit(2)
        call_command("migrate", verbosity=0, skip_checks=True)
        self.stdout.write(f"Restored. The shop as it was until now lies in {aside}.")
