"""The shelf: checking items by their records, bringing and taking them as JSON."""

from __future__ import annotations

import json
import re
from typing import Any, TypeVar

from django.db import transaction

from ventmap.core.basics import KEY_PATTERN, NAME_LENGTH, RECORDS, BadInput, Record, read_body
from ventmap.core.maps import from_json

from .models import ShelfItem
from .signals import leaving

#: Kinds that have a record; maps have a schema of their own.
KINDS = tuple(RECORDS)
R = TypeVar("R", bound=Record)


def record_of(item: ShelfItem, kind: type[R]) -> R:
    """What an item is, by its record; read once as long as its body stays.

    Raises
    ------
    BadInput
        Where the body on file is not what its record asks.
    """
    kept = item.__dict__.get("_record")
    if kept is None or kept[0] is not item.body:
        record = read_body(item.kind, item.body, f"{item.kind} “{item.key}”")
        kept = item.__dict__["_record"] = (item.body, record)
    assert isinstance(kept[1], kind), f"{item.kind} is no {kind.__name__}"
    return kept[1]


def check(item: Any) -> None:
    """Raise `BadInput` naming the item, the field and what is wrong with it."""
    if not isinstance(item, dict):
        raise BadInput("An item is kind, key, name and body. See formats/shelf.schema.json.", "body")
    kind, key, name = item.get("kind"), item.get("key"), item.get("name")
    called = f"{kind or 'item'} “{key or '?'}”"
    strange = sorted(set(item) - {"kind", "key", "name", "body"})
    if strange:
        raise BadInput(f"{called}, whole: {strange[0]} is no field of it.", strange[0])
    for field in ("kind", "key", "name", "body"):
        if field not in item:
            raise BadInput(f"{called}, whole: {field} is missing.", field)
    if not isinstance(key, str) or not re.fullmatch(KEY_PATTERN, key):
        raise BadInput(f"{called}, key: use small letters, digits and hyphens, 2 to 59 of them.", "key")
    if not isinstance(name, str) or not NAME_LENGTH[0] <= len(name) <= NAME_LENGTH[1]:
        raise BadInput(f"{called}, name: use {NAME_LENGTH[0]} to {NAME_LENGTH[1]} letters.", "name")
    if kind == "map":
        from_json(json.dumps(item["body"]))
        return
    if not isinstance(kind, str):
        raise BadInput(f"{called}, kind: choose one of {', '.join(KINDS)}.", "kind")
    read_body(kind, item["body"], called)


@transaction.atomic
def put(item: dict[str, Any]) -> ShelfItem:
    """Add or change one item."""
    check(item)
    fields = {"name": item["name"], "body": item["body"]}
    row, _ = ShelfItem.objects.update_or_create(kind=item["kind"], key=item["key"], defaults=fields)
    return row


@transaction.atomic
def bring(items: Any) -> tuple[int, int]:
    """Import a list of items, all or none: (added, changed)."""
    if not isinstance(items, list) or not items:
        raise BadInput("The file must be a list of shelf items, as the export writes it.", "file")
    for item in items:
        check(item)
    added = changed = 0
    for item in items:
        row = ShelfItem.objects.filter(kind=item["kind"], key=item["key"]).first()
        if row is None:
            added += 1
        elif (row.name, row.body) != (item["name"], item["body"]):
            changed += 1
        put(item)
    return added, changed


def take(kind: str = "") -> list[dict[str, Any]]:
    rows = ShelfItem.objects.filter(kind=kind) if kind else ShelfItem.objects.all()
    return [{"kind": row.kind, "key": row.key, "name": row.name, "body": row.body} for row in rows]


@transaction.atomic
def remove(kind: str, key: str) -> None:
    """Take an item off the shelf, unless somebody uses it."""
    row = ShelfItem.objects.filter(kind=kind, key=key).first()
    if row is None:
        raise BadInput(f"There is no {kind} “{key}” on the shelf.", "key")
    users = [name for _, names in leaving.send(ShelfItem, item=row) for name in names or ()]
    if kind == "injector":
        users += [item.name for item in ShelfItem.objects.filter(kind="vehicle", body__stock_injectors=key)]
    if users:
        raise BadInput(f"{row.name} is used by {', '.join(users[:4])}: it stays.", "key")
    row.delete()
