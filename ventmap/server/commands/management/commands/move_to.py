"""Move the shop to another database."""

from __future__ import annotations

import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ventmap.core.basics import VentMapError
from ventmap.server import moving


class Command(BaseCommand):
    help = "Copy the whole shop into an empty database, postgres://… or sqlite:///…, and prove it."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("url")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            told = moving.move(options["url"], self.stdout.write)
        except VentMapError as error:
            self.stderr.write(error.sentence)
            sys.exit(2)
        rows = sum(count for count, _ in told.values())
        self.stdout.write(
            f"{rows} rows in {len(told)} tables, equal by count and by SHA-256. Start the server with"
            f" DATABASE_URL={options['url']}; the data folder stays where it is."
        )
