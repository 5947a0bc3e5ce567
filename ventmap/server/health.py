"""The health card: how well the record is kept, and a backup on demand."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from . import backup
from .shop.access import lead

router = Router(tags=["shop"])


class HealthOut(Schema):
    size_mb: float
    files_mb: float
    files: int
    orphans: int
    free_mb: float
    integrity: str
    last_backup: datetime | None
    backups: int
    making: bool
    fresh: bool


@router.get("/health", response=HealthOut)
def health(request: HttpRequest) -> Any:
    """How well the shop's record is kept."""
    return vars(backup.health())


@router.post("/backups", response=HealthOut)
def make_backup(request: HttpRequest) -> Any:
    """A backup now, read back whole; people may go on working."""
    lead(request)
    backup.make()
    return vars(backup.health())
