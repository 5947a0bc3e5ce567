"""A capture on the disk as it comes: what a server that is killed leaves of it is a log that ends there."""

from __future__ import annotations

import json
import logging
import os
from collections.abc import Sequence
from operator import itemgetter
from pathlib import Path
from time import monotonic, time
from typing import Any, TextIO

from django.conf import settings

log = logging.getLogger(__name__)
#: So often it is written through to the disk [s]: a cut loses less than a second.
EVERY_S = 0.5

Row = tuple[float, dict[str, float]]


def place(number: int) -> Path:
    """Where the capture with this number of its record lies."""
    return Path(settings.DATA) / "captures" / f"{number}.jsonl"


class Spool:
    """The rows of one capture, a line each, behind a line of what it is of."""

    def __init__(self, number: int, about: dict[str, Any]) -> None:
        self._path, self._written = place(number), monotonic()
        self._file: TextIO | None = None
        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            self._file = self._path.open("w", encoding="utf-8")
            self._line(self._file, about)
        except OSError:
            log.warning("a capture cannot be written as it comes", exc_info=True)

    def add(self, row: Row) -> None:
        """One more row; a disk that takes no more does not end the capture, which has it all in memory."""
        if self._file is None:
            return
        try:
            self._line(self._file, row)
            if monotonic() - self._written >= EVERY_S:
                self._file.flush()
                os.fsync(self._file.fileno())
                self._written = monotonic()
        except OSError:
            log.warning("a capture cannot be written as it comes", exc_info=True)

    def mark(self, mark: dict[str, Any]) -> None:
        """A word that was put at a moment."""
        if self._file is not None:
            try:
                self._line(self._file, mark)
            except OSError:
                log.warning("a capture cannot be written as it comes", exc_info=True)

    @staticmethod
    def _line(file: TextIO, what: object) -> None:
        file.write(json.dumps(what) + "\n")

    def cut(self, why: str) -> None:
        """What cut it, where the server itself goes on."""
        self.mark({"cut": why})

    def close(self) -> None:
        """It stays for the next start."""
        try:
            if self._file is not None:
                self._file.close()
        except OSError:
            log.warning("a capture's file was not closed", exc_info=True)

    def end(self) -> None:
        """It is kept as a log, or was told as not kept."""
        self.close()
        self._path.unlink(missing_ok=True)


def left_by(number: int) -> tuple[dict[str, Any], Sequence[Row], Sequence[dict[str, Any]]] | None:
    """What a cut capture is of, its rows and its marks up to the cut; None where nothing of it lies here."""
    try:
        lines = place(number).read_text(encoding="utf-8", errors="replace").splitlines()
    except FileNotFoundError:
        return None
    whole = [found for line in lines if (found := _read(line)) is not None]
    if not whole or not isinstance(whole[0], dict):
        return None
    # What was kept after the fact stands behind what came later.
    rows = sorted(((float(one[0]), one[1]) for one in whole[1:] if isinstance(one, list)), key=itemgetter(0))
    beside = [one for one in whole[1:] if isinstance(one, dict)]
    why = next((one["cut"] for one in beside if "cut" in one), "")
    return whole[0] | {"cut": why}, rows, [one for one in beside if "word" in one]


def _read(line: str) -> Any:
    """A line; None where the cut went through it."""
    try:
        return json.loads(line)
    except ValueError:
        return None


def sweep(days: int) -> None:
    """Remove what nothing could be made of, and nobody fetched, for so many days."""
    for path in place(0).parent.glob("*.jsonl"):
        if time() - path.stat().st_mtime > days * 86_400:
            path.unlink(missing_ok=True)


def forget(number: int) -> None:
    place(number).unlink(missing_ok=True)
