"""At start: what was cut is told, what nobody keeps is swept."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.contrib.sessions.models import Session
from django.utils import timezone

from .jobs import under_way
from .jobs.models import Photo
from .logs.models import LogFile
from .maps import loaded
from .shop.models import SignedIn

#: A look without a job is swept after so many days, unless it is kept.
LOOK_DAYS = 30


def settle() -> list[str]:
    """Settle every open write, capture, import and report; a sentence for each.

    Returns
    -------
    list of str
        For the server's own log; the jobs are told in their ledgers.
    """
    told = loaded.settle() + under_way.settle()
    sweep_looks()
    sweep_sessions()
    swept = sweep_files()
    return [*told, *([f"{swept} files that belong to nothing were removed"] if swept else [])]


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
    root = Path(settings.MEDIA_ROOT)
    named = set(LogFile.objects.values_list("path", flat=True)) | set(
        Photo.objects.values_list("path", flat=True)
    )
    folders = (root / "logs", root / "photos")
    return [
        path
        for folder in folders
        if folder.is_dir()
        for path in folder.iterdir()
        if path.is_file() and str(path.relative_to(root)) not in named
    ]


def sweep_files() -> int:
    """Remove orphans. Only at start: later a file may stand before its row."""
    found = orphans()
    for path in found:
        path.unlink(missing_ok=True)
    return len(found)
