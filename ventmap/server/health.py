"""The health card: how well the record is kept, and a backup on demand."""

from __future__ import annotations

import shutil
from datetime import datetime
from typing import Any

from django.conf import settings
from django.http import HttpRequest
from ninja import Router, Schema

from . import backup
from .settling import ASIDE_DAYS, orphans, set_aside
from .shop.access import lead
from .shop.acts import waits

router = Router(tags=["shop"])


class HealthOut(Schema):
    size_mb: float
    files_mb: float
    files: int
    orphans: int
    missing: int
    """Files that a record names and that are gone."""
    set_aside: int
    """Files that no record names, laid aside at a start."""
    set_aside_days: int
    free_mb: float
    integrity: str
    last_backup: datetime | None
    backups: int
    making: bool
    fresh: bool


def _health() -> dict[str, Any]:
    given, kept = list(backup.given_files()), backup.backups()
    return {
        "size_mb": backup.database_size() / 1e6,
        "files_mb": sum(path.stat().st_size for path in given) / 1e6,
        "files": len(given),
        "orphans": len(orphans()),
        "missing": len(backup.missing_files()),
        "set_aside": sum(set_aside().values()),
        "set_aside_days": ASIDE_DAYS,
        "free_mb": shutil.disk_usage(settings.DATA).free / 1e6,
        "integrity": backup.integrity(),
        "last_backup": backup.made_at(kept[0]) if kept else None,
        "backups": len(kept),
        "making": backup.is_making(),
        "fresh": backup.is_fresh(),
    }


@router.get("/health", response=HealthOut)
def health(request: HttpRequest) -> Any:
    """How well the shop's record is kept."""
    return _health()


@router.post("/backups", response=HealthOut)
@waits("copies the whole shop")
def make_backup(request: HttpRequest) -> Any:
    """A backup now, read back whole; people may go on working."""
    lead(request)
    backup.make()
    return _health()
