"""Files that people gave, by every column that names one: whoever sweeps or backs up asks here; a new model
is known by its column alone.
"""

from __future__ import annotations

import os
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.db import models

#: Beside the files: which shop they are of.
MARK = ".shop"


class KeptPath(models.CharField):  # type: ignore[type-arg]
    """Where a file that somebody gave lies, under the shop's files."""

    def deconstruct(self) -> tuple[str, str, list[Any], dict[str, Any]]:
        name, _, given, named = super().deconstruct()
        return name, "django.db.models.CharField", list(given), dict(named)


def columns() -> Iterator[tuple[type[models.Model], str]]:
    """Every column of every model that names a kept file."""
    for model in apps.get_models():
        for field in model._meta.concrete_fields:
            if isinstance(field, KeptPath):
                yield model, field.attname


def named_files() -> set[str]:
    """Every file that a row names, relative to the shop's files."""
    return {
        path
        for model, column in columns()
        for path in model._default_manager.order_by().values_list(column, flat=True)
        if path
    }


def root() -> Path:
    return Path(settings.MEDIA_ROOT)


def whose() -> uuid.UUID | None:
    """The shop that these files say they are of; None where they do not say."""
    try:
        return uuid.UUID((root() / MARK).read_text().strip())
    except (OSError, ValueError):
        return None


def put(path: Path, data: bytes) -> None:
    """Write a file that somebody gave: on the disk, whole, before any row says that it is there."""
    half = path.with_name(f"{path.name}.half")
    try:
        with half.open("wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        half.replace(path)
    except BaseException:
        half.unlink(missing_ok=True)
        raise
    _sync_folder(path.parent)


def settle_on_disk(path: Path) -> None:
    """A file that was written as it came, brought to the disk before any row says that it is there."""
    with path.open("rb") as there:
        os.fsync(there.fileno())
    _sync_folder(path.parent)


def _sync_folder(folder: Path) -> None:
    """The name of a new file is an entry of its folder, which has a place on the disk of its own."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def mark(shop: uuid.UUID) -> None:
    """Say beside the files which shop they are of."""
    root().mkdir(parents=True, exist_ok=True)
    (root() / MARK).write_text(f"{shop}\n")
