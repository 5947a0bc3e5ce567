"""The shelf."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from .models import ShelfItem

router = Router(tags=["shelf"])


class ShelfItemOut(Schema):
    kind: str
    key: str
    name: str
    body: dict[str, Any]


@router.get("/shelf-items", response=list[ShelfItemOut])
def items(request: HttpRequest, kind: str = "") -> Any:
    found = ShelfItem.objects.all()
    return found.filter(kind=kind) if kind else found
