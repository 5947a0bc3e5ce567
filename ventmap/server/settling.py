"""At start: what was cut is told, and what no row names is set aside."""

from __future__ import annotations

import shutil
from datetime import date, timedelta
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.utils import timezone

from . import backup
from .jobs import under_way
from .logs import spool
from .logs.models import LogFile
from .maps import loaded
from .shop import kept_files
from .shop.models import House, SignedIn
from .shop.services import sweep_answered

#: A look without a job is swept after so many days, unless it is kept.
LOOK_DAYS = 30
#: What no row names is set aside, and kept so long.
ASIDE_DAYS = 30


def settle() -> list[str]:
    """Settle every open write, capture, import and report; a sentence for each.

    Returns
    -------
    list of str
        For the server's own log; the jobs are told in their ledgers.
    """
    told = loaded.settle() + under_way.settle()
    backup.sweep_halves()
    spool.sweep(ASIDE_DAYS)
    sweep_looks()
    sweep_sessions()
    sweep_answered()
    gone = backup.missing_files()
    if gone:
        told.append(f"{len(gone)} files that a record names are gone, the first of them {gone[0]}")
    return [*told, *sweep_files()]


def sweep_sessions() -> None:
    """Sessions whose time is over, and what was noted of where they were opened."""
    Session.objects.filter(expire_date__lt=timezone.now()).delete()
    SignedIn.objects.exclude(session_key__in=Session.objects.values("session_key")).delete()


def sweep_looks() -> int:
    """Looks that nobody kept and nobody opened for a month, with their files."""
    old = LogFile.objects.filter(job=None, kept=False, at__lt=timezone.now() - timedelta(days=LOOK_DAYS))
    count = old.count()
    old.delete()
    return count


def orphans() -> list[Path]:
    """Files in the data folder that no row names: left by a kill between a file and its row."""
    root = kept_files.root()
    if not root.is_dir():
        return []
    named = kept_files.named_files()
    return [
        path
        for path in sorted(root.rglob("*"))
        if path.is_file() and path.name != kept_files.MARK and path.relative_to(root).as_posix() not in named
    ]


def sweep_files() -> list[str]:
    """Set aside what no row names, where these files are surely this shop's; sentences for the server's log.

    Only at start: later a file may stand before its row. Nothing is removed before it lay aside for
    `ASIDE_DAYS`.
    """
    _forget_old()
    if not User.objects.exists():
        # An empty database beside files is a database that is missing, not files that nobody wants.
        return []
    shop, said = House.current().shop, kept_files.whose()
    if said is None:
        kept_files.mark(shop)
        found = orphans()
        return (
            [f"{len(found)} files that no record names were left where they are: nobody said whose they were"]
            if found
            else []
        )
    if said != shop:
        return [f"The files in {kept_files.root()} are another shop's: nothing of them was touched"]
    found = orphans()
    for path in found:
        place = aside() / str(timezone.localdate()) / path.relative_to(kept_files.root())
        place.parent.mkdir(parents=True, exist_ok=True)
        path.replace(place)
    return [f"{len(found)} files that no record names were set aside in {aside()}"] if found else []


def aside() -> Path:
    """Where files lie that no record names, by the day they were set aside."""
    return Path(settings.DATA) / "set-aside"


def set_aside() -> dict[date, int]:
    """How many files were set aside on which day."""
    if not aside().is_dir():
        return {}
    return {
        day: sum(path.is_file() for path in folder.rglob("*"))
        for folder in sorted(aside().iterdir())
        if (day := _day_of(folder)) is not None
    }


def _day_of(folder: Path) -> date | None:
    try:
        return date.fromisoformat(folder.name)
    except ValueError:
        return None


def _forget_old() -> None:
    for day in set_aside():
        if day < timezone.localdate() - timedelta(days=ASIDE_DAYS):
            shutil.rmtree(aside() / str(day))
