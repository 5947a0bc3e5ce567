"""The shelf: checking items against the published schema, bringing and taking them as JSON."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

import jsonschema
from django.conf import settings
from django.db import transaction

from ventmap.core.basics import BadInput
from ventmap.core.maps import from_json

from .models import ShelfItem

#: Kinds that the shelf schema describes; maps have a schema of their own.
KINDS = ("vehicle", "device", "injector", "pump", "sensor", "fuel", "connector", "tool", "consumable")


@lru_cache(maxsize=1)
def schema() -> dict[str, Any]:
    return dict(json.loads((settings.BASE / "formats" / "shelf.schema.json").read_text(encoding="utf-8")))


@lru_cache(maxsize=1)
def _validator() -> jsonschema.Draft202012Validator:
    return jsonschema.Draft202012Validator(
        {**schema(), "$ref": "#/$defs/item", "type": "object", "items": {}}
    )


def check(item: Any) -> None:
    """Raise `BadInput` naming the item, the field and what is wrong with it."""
    if isinstance(item, dict) and item.get("kind") == "map":
        from_json(json.dumps(item.get("body")))
        return
    error = next(
        iter(sorted(_validator().iter_errors(item), key=lambda e: len(e.absolute_path), reverse=True)), None
    )
    if error is None:
        return
    path = [str(part) for part in error.absolute_path if part != "body"]
    name = f"{item.get('kind', 'item')} “{item.get('key', '?')}”" if isinstance(item, dict) else "An item"
    field = path[-1] if path else "body"
    if error.validator == "required":
        what = f"{error.message.split(chr(39))[1]} is missing"
    elif error.validator == "additionalProperties":
        what = f"{error.message.split(chr(39))[1]} is no field of it"
    else:
        what = error.message[:160]
    raise BadInput(f"{name}, {' › '.join(path) or 'whole'}: {what}. See formats/shelf.schema.json.", field)


@transaction.atomic
def put(item: dict[str, Any]) -> ShelfItem:
    """Add or change one item."""
    check(item)
    row, _ = ShelfItem.objects.update_or_create(
        kind=item["kind"], key=item["key"], defaults={"name": item["name"], "body": item["body"]}
    )
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
    """Take an item off the shelf, unless a job uses it."""
    from ..jobs.models import Job

    row = ShelfItem.objects.filter(kind=kind, key=key).first()
    if row is None:
        raise BadInput(f"There is no {kind} “{key}” on the shelf.", "key")
    users = [
        job.number
        for job in Job.objects.all()
        if row.pk in (job.vehicle_id, job.device_id, job.injectors_id, job.pump_id)
        or (kind == "device" and key in job.also)
    ]
    if kind == "injector":
        users += [item.name for item in ShelfItem.objects.filter(kind="vehicle", body__stock_injectors=key)]
    if users:
        raise BadInput(f"{row.name} is used by {', '.join(users[:4])}: it stays.", "key")
    row.delete()
