"""The starter shelf: makerless things whose figures are geometry or a public standard, put in or left out."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Any

from ..shop.services import changing_shop
from . import services
from .models import ShelfItem
from .signals import leaving

#: Keys of the starter shelf begin so.
STARTER = "starter-"
FILE = Path(__file__).with_name("starter.json")


@lru_cache(maxsize=1)
def items() -> tuple[dict[str, Any], ...]:
    """What the starter shelf holds."""
    return tuple(json.loads(FILE.read_text(encoding="utf-8")))


@changing_shop()
def add() -> int:
    """Put in what is not there yet; how many that were. What a shop has made its own stays as it is."""
    have = set(ShelfItem.objects.values_list("kind", "key"))
    names = set(ShelfItem.objects.values_list("kind", "name"))
    fresh = [
        item
        for item in items()
        if (item["kind"], item["key"]) not in have and (item["kind"], item["name"]) not in names
    ]
    for item in fresh:
        services.put(item)
    return len(fresh)


@changing_shop()
def remove() -> tuple[int, int]:
    """Take out what nobody uses and nobody changed: (taken out, stayed)."""
    gone = stayed = 0
    for item in items():
        row = ShelfItem.objects.filter(kind=item["kind"], key=item["key"]).first()
        if row is None:
            continue
        used = any(names for _, names in leaving.send(ShelfItem, item=row))
        if used or row.body != item["body"]:
            stayed += 1
            continue
        row.delete()
        gone += 1
    return gone, stayed


def here() -> int:
    """How many things of the starter shelf stand on the shelf."""
    return ShelfItem.objects.filter(key__startswith=STARTER).count()
