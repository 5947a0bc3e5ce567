"""Identity, codes and live values of a real vehicle, over the CAN interface of VENTMAP_CAN."""

from __future__ import annotations

import json
import sys
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from ventmap.core.basics import VentMapError
from ventmap.link.reading import read_vehicle
from ventmap.link.transport import open_bus


class Command(BaseCommand):
    help = "Read a vehicle over the CAN interface of VENTMAP_CAN. Nothing is written, cleared or reset."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--json", action="store_true", dest="as_json")

    def handle(self, *args: Any, **options: Any) -> None:
        if not settings.CAN:
            self.stderr.write("No CAN interface is set. Start with VENTMAP_CAN=socketcan:can0, say.")
            sys.exit(2)
        try:
            line = open_bus(settings.CAN)
            try:
                found = read_vehicle(line)
            finally:
                line.close()
        except VentMapError as error:
            self.stderr.write(error.sentence)
            sys.exit(2)
        if options["as_json"]:
            self.stdout.write(json.dumps(found, ensure_ascii=False))
            return
        self.stdout.write(
            f"VIN {found['vin'] or 'not answered'}, calibration {found['calibration'] or 'not answered'}"
        )
        for code in found["codes"]:
            self.stdout.write(f"{code['code']} {code['status']}")
        for name, (value, unit) in found["live"].items():
            self.stdout.write(f"{name} {value:g} {unit}".rstrip())
