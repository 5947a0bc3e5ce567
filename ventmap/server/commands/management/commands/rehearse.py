"""Rehearse the main job on the stand-in, truth hidden from the map."""

from __future__ import annotations

import json
import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ventmap.core.basics import VentMapError
from ventmap.server import bench
from ventmap.server.rehearsal import as_document, rehearse


class Command(BaseCommand):
    help = "Load, log, propose, accept, load again, and say how true the mixture became."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--seed", type=int, default=1)
        parser.add_argument("--ve-error", type=float, default=0.12, help="peak error of filling, fraction")
        parser.add_argument("--flow-error", type=float, default=0.05, help="injector flow error, fraction")
        parser.add_argument("--dead-time-error", type=float, default=0.1, help="dead-time error, ms")
        parser.add_argument("--vehicle", default=None, help="key of a vehicle of the sample shop")
        parser.add_argument("--fault", action="append", default=[], metavar="NAME=SIZE")
        parser.add_argument("--rounds", type=int, default=3)
        parser.add_argument("--json", action="store_true", dest="as_json")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            history = rehearse(
                seed=options["seed"],
                ve_error=options["ve_error"],
                flow_error=options["flow_error"],
                dead_time_error_ms=options["dead_time_error"],
                rounds=options["rounds"],
                vehicle_key=options["vehicle"],
                more=bench.sizes(options["fault"]),
            )
        except VentMapError as error:
            self.stderr.write(error.sentence)
            sys.exit(2)
        if options["as_json"]:
            self.stdout.write(json.dumps(as_document(history)))
            return
        for entry in history:
            self.stdout.write(
                f"round {entry.round}: {100 * entry.within_3pct:.1f} % of driven time within 3 %, worst cell"
                f" {100 * entry.worst_cell:.1f} %, {entry.changed} changed"
            )
