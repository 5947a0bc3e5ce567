"""The shelf."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from ventmap.core.basics import BadInput, shelf_schema

from ..schemas import Done
from ..shop.access import worker
from ..shop.acts import waits
from ..strict import NotPlain, loads
from . import services, starter

router = Router(tags=["shelf"])


class ShelfItemOut(Schema):
    kind: str
    key: str
    name: str
    body: dict[str, Any]


class ShelfRowOut(ShelfItemOut):
    """An item, in how many ended jobs it proved right, and who changed it last."""

    proved: int
    practice: bool
    changed_by: str
    changed_at: datetime | None


class ShelfChangeOut(Schema):
    """One change of an item: who, when, and what it held then against before."""

    who: str
    at: datetime
    fields: list[str]


@router.get("/shelf-items", response=list[ShelfRowOut])
def items(request: HttpRequest, kind: str = "") -> Any:
    return services.rows(kind)


@router.get("/shelf-items/{kind}/{key}/changes", response=list[ShelfChangeOut])
def changes(request: HttpRequest, kind: str, key: str) -> Any:
    """Who changed an item, newest first."""
    return services.changes(kind, key)


@router.get("/shelf-schemas", response=dict[str, Any])
def schemas(request: HttpRequest) -> Any:
    """The published schema of each kind, for the editor."""
    return {kind: shelf_schema()["$defs"][kind] for kind in services.KINDS}


@router.put("/shelf-items", response=ShelfItemOut)
def put_item(request: HttpRequest, body: ShelfItemOut) -> Any:
    """Add or change an item."""
    worker(request)
    return services.put(services.by_hand(body.dict()))


class StarterOut(Schema):
    """How many things the starter shelf has, and how many of them stand on this one."""

    items: int
    here: int


@router.get("/starter-shelf", response=StarterOut)
def starter_shelf(request: HttpRequest) -> Any:
    return {"items": len(starter.items()), "here": starter.here()}


@router.put("/starter-shelf", response=Done)
def add_starter(request: HttpRequest) -> Any:
    """Put in makerless layouts, sizes, fuels, sensors, tools, consumables and a plain device of each kind."""
    worker(request)
    return {"sentence": f"{starter.add()} things of the starter shelf are on the shelf."}


@router.delete("/starter-shelf", response=Done)
def remove_starter(request: HttpRequest) -> Any:
    """Take out what nobody uses and nobody changed."""
    worker(request)
    gone, stayed = starter.remove()
    rest = f"; {stayed} stay: a job uses them, or they were changed here" if stayed else ""
    return {"sentence": f"{gone} taken off the shelf{rest}."}


@router.delete("/shelf-items/{kind}/{key}", response=Done)
def remove_item(request: HttpRequest, kind: str, key: str) -> Any:
    worker(request)
    services.remove(kind, key)
    return {"sentence": "Off the shelf."}


@router.get("/shelf-files/current")
def export(request: HttpRequest, kind: str = "") -> HttpResponse:
    """The shelf, or one kind of it, as a JSON file."""
    if kind and kind not in (*services.KINDS, "map"):
        raise BadInput(f"The shelf has no such kind. Choose one of {', '.join(services.KINDS)}.", "kind")
    answer = HttpResponse(
        json.dumps(services.take(kind), indent=1, ensure_ascii=False),
        content_type="application/json; charset=utf-8",
    )
    answer["Content-Disposition"] = f'attachment; filename="shelf{"-" + kind if kind else ""}.json"'
    return answer


@router.put("/shelf-files/current", response=Done)
@waits("reads a file")
def bring(request: HttpRequest) -> Any:
    """A JSON file of items, sent as it is: all or none."""
    worker(request)
    try:
        items = loads(request.body)
    except NotPlain as error:
        raise BadInput(f"The file cannot be read: {error}", "file") from error
    added, changed = services.bring(items)
    return {"sentence": f"{added} added, {changed} changed, {len(items) - added - changed} as they were."}
