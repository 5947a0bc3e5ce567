"""The shelf: checking items by their records, bringing and taking them as JSON."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import KEY_PATTERN, NAME_LENGTH, RECORDS, BadInput, Record, read_body
from ventmap.core.forms import from_json

from ..shop.access import full_name
from ..shop.services import changing_shop
from .models import ShelfItem
from .signals import leaving, proving

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


def text_of(item: ShelfItem) -> str:
    """All that an item says, to tell whether it is what it was; written once as long as its body stays."""
    kept = item.__dict__.get("_text")
    if kept is None or kept[0] is not item.body or kept[1] != item.name:
        text = json.dumps([item.kind, item.key, item.name, item.body])
        kept = item.__dict__["_text"] = (item.body, item.name, text)
    return str(kept[2])


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


def free_key(kind: str, name: str) -> str:
    """A key that no other thing of this kind has, made from the name."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:50].strip("-") or kind
    stem = stem if len(stem) > 1 else f"{kind}-{stem}"
    taken = set(ShelfItem.objects.filter(kind=kind, key__startswith=stem).values_list("key", flat=True))
    return next(
        key for n in range(1, len(taken) + 2) if (key := stem if n == 1 else f"{stem}-{n}") not in taken
    )


def plain_called(kind: str, text: str) -> str:
    """The name of a new thing of a kind.

    Raises
    ------
    BadInput
        Where it is too short or too long, or stands on the shelf already.
    """
    name = " ".join(text.split())
    low, high = NAME_LENGTH
    if not low <= len(name) <= high:
        raise BadInput(f"What is the {kind} called? Use {low} to {high} letters.", "name")
    twin = ShelfItem.objects.filter(kind=kind, name__iexact=name).first()
    if twin is not None:
        raise BadInput(
            f"{twin.name} is on the shelf already: choose it there, nothing is asked twice.", "name"
        )
    return name


#: Told of a thing that is another now than it was, by the apps above that use it.
CHANGED: list[Callable[[ShelfItem], None]] = []


@changing_shop()
def put(item: dict[str, Any], practice: bool = False) -> ShelfItem:
    """Add or change one item; one that is made on a practice job goes with it."""
    check(item)
    fields = {"name": item["name"], "body": item["body"]}
    was = ShelfItem.objects.filter(kind=item["kind"], key=item["key"]).values_list("name", "body").first()
    row, _ = ShelfItem.objects.update_or_create(
        kind=item["kind"],
        key=item["key"],
        defaults=fields,
        create_defaults={**fields, "practice": practice},
    )
    if was is not None and was != (row.name, row.body):
        # Once it is kept, and one after the other: whoever holds a job meanwhile is not waited for in here.
        transaction.on_commit(lambda: [tell(row) for tell in CHANGED])
    return row


def by_hand(item: dict[str, Any]) -> dict[str, Any]:
    """An item as it was edited on the shelf: what was told of a field that changed no longer stands."""
    before = ShelfItem.objects.filter(kind=item["kind"], key=item["key"]).first()
    told = item["body"].get("told")
    if before is None or not isinstance(told, dict):
        return item
    was = before.body
    stands = {name: said for name, said in told.items() if item["body"].get(name) == was.get(name)}
    return {**item, "body": {**item["body"], "told": stands}}


@changing_shop()
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


def rows(kind: str = "") -> list[dict[str, Any]]:
    """Items with their use: ended jobs that each proved right in, and its last change."""
    found = list(ShelfItem.objects.filter(kind=kind) if kind else ShelfItem.objects.all())
    proved: dict[tuple[str, str], int] = {}
    counted: list[tuple[Any, dict[tuple[str, str], int]]] = proving.send(ShelfItem)  # type: ignore[assignment]
    for _, counts in counted:
        for one, count in counts.items():
            proved[one] = proved.get(one, 0) + count
    past = ShelfItem.history.filter(id__in=[row.pk for row in found]).order_by("history_id")
    last = {pk: (at, by) for pk, at, by in past.values_list("id", "history_date", "history_user_id")}
    people = User.objects.in_bulk({by for _, by in last.values() if by})
    return [
        {
            "kind": row.kind,
            "key": row.key,
            "name": row.name,
            "body": row.body,
            "practice": row.practice,
            "proved": proved.get((row.kind, row.key), 0),
            "changed_by": full_name(people[last[row.pk][1]]) if last.get(row.pk, (0, 0))[1] in people else "",
            "changed_at": last[row.pk][0] if row.pk in last else None,
        }
        for row in found
    ]


def _who(change: Any) -> str:
    user = getattr(change, "history_user", None)
    return full_name(user) if user else ""


#: Changes of one item that are shown.
CHANGES_SHOWN = 40


def changes(kind: str, key: str) -> list[dict[str, Any]]:
    """Who changed an item, newest first, and which of its fields."""
    row = ShelfItem.objects.filter(kind=kind, key=key).first()
    if row is None:
        raise BadInput(f"There is no {kind} “{key}” on the shelf.", "key")
    past = list(row.history.select_related("history_user").order_by("-history_id")[: CHANGES_SHOWN + 1])
    found = []
    for at, change in enumerate(past[:CHANGES_SHOWN]):
        before, now = (past[at + 1].body if at + 1 < len(past) else {}), change.body
        fields = sorted(name for name in {*now, *before} - {"told"} if now.get(name) != before.get(name))
        found.append({"who": _who(change), "at": change.history_date, "fields": fields})
    return found


@changing_shop()
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
