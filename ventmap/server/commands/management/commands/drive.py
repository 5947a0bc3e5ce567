"""A datalog of a pretend vehicle. usage: manage.py drive --vehicle KEY --out FILE"""

from __future__ import annotations

import json
import sys
from dataclasses import fields
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ventmap.core.basics import BadInput, VentMapError
from ventmap.core.forms import Calibration, from_json
from ventmap.server import bench
from ventmap.server.drives import DIALECTS, ROUTES, drive, written


class Command(BaseCommand):
    help = "Drive a vehicle of the stand-in and write its datalog."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--vehicle", help="key of a vehicle; --list names them")
        parser.add_argument("--device", help="key of the device that the map is for")
        parser.add_argument("--map", help="file of a map: full, level, blend, trim or driver")
        parser.add_argument("--fault", action="append", default=[], metavar="NAME=SIZE")
        parser.add_argument("--habit", action="append", default=[], metavar="NAME=SIZE")
        parser.add_argument("--seed", type=int, default=1)
        parser.add_argument("--minutes", type=float, default=5.0)
        parser.add_argument("--route", default="road", help=", ".join(ROUTES))
        parser.add_argument("--rate", type=float, default=20.0, help="rows a second")
        parser.add_argument("--ethanol", type=float, default=0.0, help="in the tank, fraction")
        parser.add_argument("--dialect", default="plain", help=", ".join(DIALECTS))
        parser.add_argument("--out", help="file to write")
        parser.add_argument(
            "--list", action="store_true", help="vehicles, faults, habits and dialects as JSON"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        if options["list"]:
            told = {
                "vehicles": bench.yard.vehicles(),
                "faults": [field.name for field in fields(bench.Faults)],
                "habits": list(bench.HABITS),
                "dialects": list(DIALECTS),
                "routes": list(ROUTES),
            }
            self.stdout.write(json.dumps(told, indent=1))
            return
        try:
            for name in ("vehicle", "out"):
                if not options[name]:
                    raise BadInput(f"Say which: --{name}. manage.py drive --list names what there is.", name)
            log = drive(
                options["vehicle"],
                faults=bench.sizes(options["fault"]),
                calibration=_map(options["map"], options["device"]),
                seed=options["seed"],
                minutes=options["minutes"],
                route=options["route"],
                rate_hz=options["rate"],
                ethanol=options["ethanol"],
                habits=bench.sizes(options["habit"]),
            )
            text = written(log, options["dialect"])
            Path(options["out"]).write_text(text, encoding="utf-8")
        except (VentMapError, OSError) as error:
            self.stderr.write(error.sentence if isinstance(error, VentMapError) else str(error))
            sys.exit(2)
        rows = len(log.time_s)
        self.stdout.write(
            f"{options['out']}: {rows} rows, {log.time_s[-1]:.0f} s, {len(log.channels)} channels"
        )


def _map(path: str | None, device: str | None) -> Calibration | None:
    """The map of a file; refused where it is for another device than the one that is named."""
    if path is None:
        return None
    calibration = from_json(Path(path).read_text(encoding="utf-8"))
    wanted = bench.device_computer(device) if device else None
    if wanted and calibration.identity.computer != wanted:
        raise BadInput(
            f"This map is for {calibration.identity.computer}; {device} answers as {wanted}.", "map"
        )
    return calibration
