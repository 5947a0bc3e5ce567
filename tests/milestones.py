"""A shop brought to a point of its work once by each worker, and put back there for every test that begins
at it: rows and files as they stood, byte for byte.
"""

from __future__ import annotations

import atexit
import itertools
import shutil
import sqlite3
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any


@dataclass(frozen=True)
class Kept:
    rows: sqlite3.Connection
    files: Path
    told: Any


_KEPT: dict[str, Kept] = {}
_TIMES = itertools.count(1)
FAR_APART = 10_000


def at(name: str, reach: Callable[[], Any]) -> Any:
    """Bring the shop to the point `name` by `reach`, or put it back there; what `reach` told.

    Who was signed in before may have to sign in again: sessions are rows too.
    """
    from django.conf import settings
    from django.db import connection

    if connection.vendor != "sqlite":
        return reach()
    if name in _KEPT:
        kept = _KEPT[name]
        connection.ensure_connection()
        kept.rows.backup(connection.connection)
        # No number is given twice in one process, as none is in a shop that goes on.
        with connection.cursor() as cursor:
            cursor.execute("UPDATE sqlite_sequence SET seq = seq + %s", [FAR_APART * next(_TIMES)])
        shutil.copytree(kept.files, settings.MEDIA_ROOT, dirs_exist_ok=True)
        return kept.told
    told = reach()
    rows = sqlite3.connect(":memory:", check_same_thread=False)
    connection.ensure_connection()
    connection.connection.backup(rows)
    files = Path(tempfile.mkdtemp(prefix="ventmap-kept-"))
    atexit.register(shutil.rmtree, files, ignore_errors=True)
    if Path(settings.MEDIA_ROOT).exists():
        shutil.copytree(settings.MEDIA_ROOT, files, dirs_exist_ok=True)
    _KEPT[name] = Kept(rows, files, told)
    return told
