"""Review a datalog from the command line."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ventmap.core.basics import LogError, LogSource, VentMapError, read_record
from ventmap.core.findings import ReviewContext, review
from ventmap.core.logs import Probe, read_log
from ventmap.server.logs.review_shape import review_out


class Command(BaseCommand):
    help = "Read a datalog, list its windows and findings, and what could not be checked."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--json", action="store_true", dest="as_json")
        parser.add_argument(
            "--induction",
            choices=("turbo", "blower", "none"),
            default="unknown",
            help="where it is not told, pressure above the barometer is judged as boost",
        )
        parser.add_argument("--stroke", type=int, choices=(2, 4), default=4)
        parser.add_argument("--injection", choices=("port", "direct", "both", "diesel"), default="port")
        parser.add_argument("--altitude", type=float, default=None, help="of the place [m]")
        parser.add_argument("--hints", type=Path, default=None, help="JSON: what its columns are")
        parser.add_argument("--ethanol", type=float, default=None, help="fraction in the tank, 0–1")

    def handle(self, *args: Any, **options: Any) -> None:
        file: Path = options["file"]
        try:
            data = file.read_bytes()
            log = read_log(data, file.name, self._hints(options["hints"]), altitude_m=options["altitude"])
            context = ReviewContext(
                induction=options["induction"],
                ethanol=options["ethanol"],
                stroke=options["stroke"],
                probe=Probe(two_stroke=options["stroke"] == 2),
                injection=options["injection"],
                altitude_m=options["altitude"],
            )
            found = review(log, context)
        except OSError as error:
            self._give_up(f"{file} cannot be opened: {error.strerror}.")
        except VentMapError as error:
            self._give_up(error.sentence)
        document = {
            "channels": log.columns,
            "notes": [f"{n.kind}: {n.column + ': ' if n.column else ''}{n.text}" for n in log.notes],
            **{key: value for key, value in review_out(found).items() if key != "judged_by"},
        }
        if options["as_json"]:
            self.stdout.write(json.dumps(document, ensure_ascii=False))
            return
        self.stdout.write(f"{len(log)} rows, {log.rate_hz:.1f} per second, {len(log.channels)} channels")
        for finding in document["findings"]:
            numbers = "; ".join(f"{e['label']} {e['value']} {e['unit']}".strip() for e in finding["evidence"])
            self.stdout.write(
                f"{finding['verdict'].upper():5} {finding['title']}"
                f" ({finding['from_s']:.1f}–{finding['to_s']:.1f} s): {numbers}. {finding['next']}"
            )
        if not document["findings"]:
            self.stdout.write(f"Nothing found. {len(document['checked'])} checks passed.")
        for entry in document["not_checkable"]:
            self.stdout.write(f"not checkable: {entry['kind']}, missing {', '.join(entry['missing'])}")

    def _hints(self, file: Path | None) -> LogSource | None:
        """A source as the shelf writes it, its body alone, or a list of one."""
        if file is None:
            return None
        try:
            given = json.loads(file.read_text())
        except ValueError as error:
            raise LogError(f"{file} is no JSON: {error}.", "hints") from error
        given = given[0] if isinstance(given, list) and given else given
        body = given.get("body", given) if isinstance(given, dict) else given
        return read_record(LogSource, body, "hints")

    def _give_up(self, sentence: str) -> None:
        self.stderr.write(sentence, ending="\n")
        sys.exit(2)
