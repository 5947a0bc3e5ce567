"""Backups: the whole shop in one file, proven by reading it back; and the health of what is kept.

A backup is a zip: the database as SQLite's own backup writes it while people work, every file that was
given, and a list with the SHA-256 of each.
"""

from __future__ import annotations

import fcntl
import hashlib
import json
import shutil
import sqlite3
import tempfile
import threading
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection
from django.utils import timezone

from ventmap.core.basics import BadInput, VentMapError

from .shop.kept_files import MARK, named_files

KEPT_DAYS = 14
FRESH = timedelta(hours=24)
DATABASE, LIST = "ventmap.sqlite3", "list.json"
_making = threading.Lock()


class BackupError(VentMapError):
    """A backup that cannot be made, or is not whole."""


#: Beside the data: held by the server for as long as it serves them.
SERVING = ".serving"


@contextmanager
def serving(alone: bool = False) -> Iterator[None]:
    """Hold the data of this shop: a server beside others, a restore alone. A killed holder lets go by itself.

    Raises
    ------
    BackupError
        Where a server has them, or a restore is putting others in their place.
    """
    with (Path(settings.DATA) / SERVING).open("w") as held:
        try:
            fcntl.flock(held, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
        except OSError as error:
            raise BackupError(
                f"A server of this shop runs on {settings.DATA}. Stop it first; nothing was touched.",
                "server",
            ) from error
        yield


def sweep_halves() -> None:
    """At start: what a backup or a restore that was killed had begun."""
    for half in (*folder().glob("*.part"), *folder().glob("tmp*"), *Path(settings.DATA).glob("restoring-*")):
        shutil.rmtree(half) if half.is_dir() else half.unlink()


def folder() -> Path:
    path = Path(settings.DATA) / "backups"
    path.mkdir(exist_ok=True)
    return path


def _source() -> Path:
    return Path(str(connection.settings_dict["NAME"]))


def backups() -> list[Path]:
    """What there is, newest first."""
    return sorted(folder().glob("ventmap-*.zip"), reverse=True)


def made_at(path: Path) -> datetime:
    return datetime.fromtimestamp(path.stat().st_mtime, tz=timezone.get_current_timezone())


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def given_files() -> Iterator[Path]:
    root = Path(settings.MEDIA_ROOT)
    return (
        path
        for path in sorted(root.rglob("*"))
        if path.is_file() and path.suffix != ".read" and path.name != MARK
    )


def missing_files() -> list[str]:
    """Files that a row names and that are not there: no backup of such a shop is whole."""
    root = Path(settings.MEDIA_ROOT)
    return sorted(name for name in named_files() if not (root / name).is_file())


def _counts(database: Path) -> dict[str, int]:
    """Rows of each table of a SQLite file."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as file:
        names = [row[0] for row in file.execute("SELECT name FROM sqlite_master WHERE type='table'")]
        return {
            name: file.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0]
            for name in names
            if not name.startswith("sqlite_")
        }


def make() -> Path:
    """Make a backup and prove it; then let go of those older than two weeks.

    Raises
    ------
    BackupError
        Where one is being made, the disk has no room for it, or it does not read back.
    """
    if connection.vendor != "sqlite":
        raise BackupError("This shop is kept by PostgreSQL: back it up with its own pg_dump.", "backup")
    if not _making.acquire(blocking=False):
        raise BackupError("A backup is being made now.", "backup")
    source = _source()
    stamp = timezone.localtime().strftime("%Y%m%d-%H%M%S")
    target, half = folder() / f"ventmap-{stamp}.zip", folder() / f"ventmap-{stamp}.part"
    try:
        need = source.stat().st_size + sum(path.stat().st_size for path in given_files())
        free = shutil.disk_usage(folder()).free
        if free < 2.2 * need:
            raise BackupError(
                f"A backup needs {2.2 * need / 1e6:.0f} MB free; there are {free / 1e6:.0f} MB.", "disk"
            )
        with tempfile.TemporaryDirectory(dir=folder()) as scratch:
            database = Path(scratch) / DATABASE
            with closing(sqlite3.connect(source)) as live, closing(sqlite3.connect(database)) as copy:
                live.backup(copy, pages=2_000)
            _pack(half, database)
        half.rename(target)
        check(target)
    except BaseException:
        half.unlink(missing_ok=True)
        target.unlink(missing_ok=True)
        raise
    finally:
        _making.release()
    for old in backups():
        if old != target and made_at(old) < timezone.now() - timedelta(days=KEPT_DAYS):
            old.unlink(missing_ok=True)
    return target


def _pack(half: Path, database: Path) -> None:
    root = Path(settings.MEDIA_ROOT)
    sums: dict[str, str] = {}
    with zipfile.ZipFile(half, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as out:
        out.write(database, DATABASE)
        sums[DATABASE] = _sha256(database)
        for path in given_files():
            name = f"files/{path.relative_to(root)}"
            out.write(path, name)
            sums[name] = _sha256(path)
        told = {"made_at": timezone.now().isoformat(), "rows": _counts(database), "files": sums}
        # What a row names and nobody has: said, so that this backup is never taken for a whole shop.
        told["missing"] = missing_files()
        out.writestr(LIST, json.dumps(told, indent=1))


def check(path: Path) -> dict[str, Any]:
    """Read a backup back into a scratch folder: every sum, the database's own check, and its rows.

    Returns
    -------
    dict
        What its list says.

    Raises
    ------
    BackupError
        Where it is not whole.
    """
    with tempfile.TemporaryDirectory(dir=folder()) as scratch:
        return _unpack(path, Path(scratch))


def _unpack(path: Path, into: Path) -> dict[str, Any]:
    try:
        with zipfile.ZipFile(path) as given:
            told: dict[str, Any] = json.loads(given.read(LIST))
            names = set(given.namelist())
            if names != {LIST, *told["files"]} or any(
                Path(name).is_absolute() or ".." in Path(name).parts for name in names
            ):
                raise BackupError(f"{path.name} holds other files than its list says.", "file")
            given.extractall(into)
    except (zipfile.BadZipFile, KeyError, ValueError, OSError, EOFError) as error:
        raise BackupError(f"{path.name} is no whole backup: {str(error)[:80]}.", "file") from error
    wrong = [name for name, digest in told["files"].items() if _sha256(into / name) != digest]
    if wrong:
        raise BackupError(f"{path.name} is damaged: {wrong[0]} is not as it was.", "file")
    try:
        with closing(sqlite3.connect(into / DATABASE)) as file:
            answer = file.execute("PRAGMA integrity_check").fetchone()[0]
    except sqlite3.DatabaseError as error:
        raise BackupError(f"The database in {path.name} cannot be read: {error}.", "file") from error
    if answer != "ok" or _counts(into / DATABASE) != told["rows"]:
        raise BackupError(f"The database in {path.name} is not whole: {answer}.", "file")
    return told


def restore(path: Path) -> Path:
    """Put a backup in the place of what is there, which is set aside and kept.

    Returns
    -------
    Path
        The folder in which the shop as it was now lies.

    Raises
    ------
    BadInput, BackupError
        Before anything is touched.
    """
    if not path.is_file():
        raise BadInput(f"There is no file {path}.", "file")
    with serving(alone=True):
        return _restore(path, Path(settings.DATA))


def _restore(path: Path, data: Path) -> Path:
    finish_restore(data)
    fresh = Path(tempfile.mkdtemp(prefix="restoring-", dir=data))
    try:
        _unpack(path, fresh)
        (fresh / "files").mkdir(exist_ok=True)
        aside = data / f"before-restore-{timezone.localtime():%Y%m%d-%H%M%S}"
        aside.mkdir()
    except BaseException:
        shutil.rmtree(fresh, ignore_errors=True)
        raise
    connection.close()
    # From here it goes on to its end, whatever happens to this process: at the next start if need be.
    plan = {"fresh": fresh.name, "aside": aside.name, "old": [n for n in SHOP if (data / n).exists()]}
    half = data / f"{SWAP}.part"
    half.write_text(json.dumps(plan))
    half.replace(data / SWAP)
    finish_restore(data)
    return aside


#: What a shop consists of, and the plan of a swap that has begun.
SHOP = (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", "files")
SWAP = "restore.json"


def finish_restore(data: Path) -> bool:
    """Finish a restore that was cut, if one was: what was there goes aside, what was brought takes its place.
    Each move is done once, so that it may be cut again anywhere.
    """
    if not (data / SWAP).exists():
        return False
    plan = json.loads((data / SWAP).read_text())
    fresh, aside = data / plan["fresh"], data / plan["aside"]
    for name in plan["old"]:
        if (data / name).exists() and not (aside / name).exists():
            (data / name).rename(aside / name)
    if (fresh / DATABASE).exists():
        # Whoever opened the half-restored shop left another database's journal: never played into this one.
        for name in SHOP[1:3]:
            (data / name).unlink(missing_ok=True)
    for name in (DATABASE, "files"):
        if (fresh / name).exists():
            (fresh / name).rename(data / name)
    (data / SWAP).unlink()
    shutil.rmtree(fresh, ignore_errors=True)
    return True


def database_size() -> int:
    if connection.vendor != "sqlite":
        return 0
    return _source().stat().st_size if _source().exists() else 0


def integrity() -> str:
    """The database's own quick check, in its own words; ``"ok"`` where nothing is wrong."""
    if connection.vendor != "sqlite":
        return "kept by PostgreSQL"
    with closing(sqlite3.connect(f"file:{_source()}?mode=ro", uri=True)) as file:
        return str(file.execute("PRAGMA quick_check(1)").fetchone()[0])


def is_fresh() -> bool:
    """Whether the last backup is about a day old at most."""
    last = next(iter(backups()), None)
    return last is not None and made_at(last) > timezone.now() - FRESH - timedelta(hours=6)


def is_making() -> bool:
    """Whether a backup is being made now."""
    return _making.locked()


def due() -> bool:
    """Whether the last backup is older than a day."""
    last = next(iter(backups()), None)
    return connection.vendor == "sqlite" and (last is None or made_at(last) < timezone.now() - FRESH)
