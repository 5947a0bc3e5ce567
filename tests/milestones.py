"""A shop brought to a point of its work once in a run, and put back there for every test that begins at it:
rows and files as they stood, byte for byte, whichever worker played it.
"""

from __future__ import annotations

import atexit
import hashlib
import itertools
import os
import pickle
import shutil
import sqlite3
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests import copied

_TIMES = itertools.count(1)
FAR_APART = 10_000
#: A worker that plays the same point is waited for; a point takes less than this [s].
LONGEST_S = 300.0

RUN = os.environ.get("PYTEST_XDIST_TESTRUNUID", str(os.getpid()))
KEPT = Path(tempfile.gettempdir()) / f"ventmap-points-{RUN}"
if "PYTEST_XDIST_WORKER" not in os.environ:
    # The run's own process ends last.
    atexit.register(shutil.rmtree, KEPT, ignore_errors=True)


def at(name: str, reach: Callable[[], Any]) -> Any:
    """Bring the shop to the point `name` by `reach`, or put it back there; what `reach` told.

    Who was signed in before may have to sign in again: sessions are rows too.
    """
    folder = KEPT / hashlib.sha256(name.encode()).hexdigest()[:24]
    if _played_by_another(folder):
        return _put_back(folder)
    try:
        told = reach()
        _keep(folder, told)
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    return told


def mark() -> str:
    """Changes whenever anybody writes a row, by this connection or another, or switches a fault on."""
    from django.conf import settings
    from django.db import connection

    connection.ensure_connection()
    with connection.cursor() as cursor:
        if connection.vendor != "sqlite":
            written = cursor.execute("SELECT pg_current_wal_insert_lsn()").fetchone()[0]
            return f"{written} {settings.FAULTS}"
        version = cursor.execute("PRAGMA data_version").fetchone()[0]
    return f"{connection.connection.total_changes} {version} {settings.FAULTS}"


def _played_by_another(folder: Path) -> bool:
    """Whether it stands there already; claims it where nobody plays it."""
    KEPT.mkdir(exist_ok=True)
    end = time.monotonic() + LONGEST_S
    while True:
        try:
            folder.mkdir()
        except FileExistsError:
            if (folder / "whole").exists():
                return True
            assert time.monotonic() < end, "another worker did not end playing a point"
            time.sleep(0.05)
        else:
            return False


def _keep(folder: Path, told: Any) -> None:
    from django.conf import settings
    from django.db import connection

    connection.ensure_connection()
    if connection.vendor == "sqlite":
        rows = sqlite3.connect(folder / "rows.sqlite3")
        connection.connection.backup(rows)
        rows.close()
    else:
        copied.keep(connection.connection, folder)
    if Path(settings.MEDIA_ROOT).exists():
        shutil.copytree(settings.MEDIA_ROOT, folder / "files")
    (folder / "told").write_bytes(pickle.dumps(told))
    (folder / "whole").touch()


def _put_back(folder: Path) -> Any:
    from django.conf import settings
    from django.db import connection

    connection.ensure_connection()
    # No number is given twice in one process, as none is in a shop that goes on.
    further = FAR_APART * next(_TIMES)
    if connection.vendor == "sqlite":
        rows = sqlite3.connect(folder / "rows.sqlite3")
        rows.backup(connection.connection)
        rows.close()
        with connection.cursor() as cursor:
            cursor.execute("UPDATE sqlite_sequence SET seq = seq + %s", [further])
    else:
        copied.put_back(connection.connection, folder, further)
    if (folder / "files").exists():
        shutil.copytree(folder / "files", settings.MEDIA_ROOT, dirs_exist_ok=True)
    return pickle.loads((folder / "told").read_bytes())
