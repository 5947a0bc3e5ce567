"""Bringing lists and giving them out again: customers, their vehicles, parts and injectors."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from typing import Any

from django.db import transaction

from ventmap.core.basics import BadInput, Consumable, Injector, Record
from ventmap.core.lists import (
    Change,
    ListKind,
    Mapped,
    Outcome,
    Row,
    Sheet,
    dry_run,
    guess_columns,
    list_by,
    read_sheet,
)

from ..shelf.models import ShelfItem
from ..shelf.services import free_key, put, record_of
from .models import Customer, ListColumns, OwnedVehicle

#: Lists whose rows stand on the shelf, and as what.
ON_SHELF: dict[str, tuple[str, type[Record]]] = {
    "parts": ("consumable", Consumable),
    "injectors": ("injector", Injector),
}


def stands(kind: ListKind) -> list[Row]:
    """What is there already, by the fields of a list."""
    names = [field.name for field in kind.fields]
    if kind.key not in ON_SHELF:
        found: Any = Customer.objects.all() if kind.key == "customers" else OwnedVehicle.objects.all()
        return [Row({name: getattr(row, name) for name in names}) for row in found]
    shelf_kind, record = ON_SHELF[kind.key]
    rows = []
    for item in ShelfItem.objects.filter(kind=shelf_kind):
        about = record_of(item, record)
        rows.append(
            Row({"name": item.name} | {name: getattr(about, name) for name in names if name != "name"})
        )
    return rows


def _mark(sheet: Sheet) -> str:
    """The set of headings, as a short mark."""
    return hashlib.sha256("\x1f".join(sorted(sheet.headings)).encode()).hexdigest()


def columns_of(key: str, data: bytes, name: str) -> tuple[Sheet, dict[str, Mapped], bool]:
    """A file's columns as they were assigned last, else by the words of their headings."""
    kind, sheet = list_by(key), read_sheet(data, name)
    known = ListColumns.objects.filter(list=key, headings=_mark(sheet)).first()
    if known:
        return sheet, {heading: Mapped(**known.columns.get(heading, {})) for heading in sheet.headings}, True
    return sheet, guess_columns(kind, sheet), False


def tried(key: str, data: bytes, name: str, columns: Mapping[str, Mapped]) -> list[Change]:
    """What the file would make, change and be refused; only how its columns are read is kept."""
    kind, sheet = list_by(key), read_sheet(data, name)
    found = dry_run(kind, sheet, columns, stands(kind))
    ListColumns.objects.update_or_create(
        list=key,
        headings=_mark(sheet),
        defaults={"columns": {heading: vars(mapped) for heading, mapped in columns.items()}},
    )
    return found


@transaction.atomic
def bring(key: str, data: bytes, name: str, columns: Mapping[str, Mapped]) -> list[Change]:
    """Keep what a dry run says is made or changed; what is refused stays out and is told.

    Raises
    ------
    BadInput
        Where nothing of it can be kept.
    """
    kind = list_by(key)
    changes = tried(key, data, name, columns)
    wanted = [change for change in changes if change.outcome in (Outcome.made, Outcome.changed)]
    if not wanted and any(change.outcome is Outcome.refused for change in changes):
        raise BadInput("Every line is refused: look at the reasons, nothing was kept.", "file")
    for change in wanted:
        _keep(kind, change)
    return changes


def _keep(kind: ListKind, change: Change) -> None:
    values = dict(change.values)
    if kind.key == "customers":
        Customer.objects.update_or_create(name__iexact=values["name"], defaults=values)
    elif kind.key == "vehicles":
        row = owned_by_marks(values.get("vin", ""), values.get("registration", "")) or OwnedVehicle()
        for name, value in values.items():
            setattr(row, name, value)
        row.shelf_key = row.shelf_key or _on_shelf(row.model)
        row.save()
        if row.owner:
            Customer.objects.get_or_create(name=row.owner)
    else:
        shelf_kind, _ = ON_SHELF[kind.key]
        called = values.pop("name")
        item = ShelfItem.objects.filter(kind=shelf_kind, name__iexact=called).first()
        body = {**(item.body if item else {}), **values}
        if kind.key == "injectors" and item is None:
            body |= {"kind": "port", "test_fluid": "n-heptane"}
        put(
            {
                "kind": shelf_kind,
                "key": item.key if item else free_key(shelf_kind, called),
                "name": item.name if item else called,
                "body": body,
            }
        )


def _on_shelf(model: str) -> str:
    """The vehicle of the shelf that is called so."""
    item = ShelfItem.objects.filter(kind="vehicle", name__iexact=model).first()
    return item.key if item else ""


def owned_by_marks(vin: str, registration: str) -> OwnedVehicle | None:
    """A customer's vehicle by its number, else by its registration."""
    if vin:
        row = OwnedVehicle.objects.filter(vin=vin).first()
        if row is not None:
            return row
    plate = registration.replace(" ", "").casefold()
    rows = OwnedVehicle.objects.exclude(registration="") if plate else OwnedVehicle.objects.none()
    return next((r for r in rows if r.registration.replace(" ", "").casefold() == plate), None)


def came(
    *, registration: str, vin: str, model: str, owner: str, odometer_km: float | None, shelf_key: str
) -> None:
    """A vehicle that came with a job stands among the customers' vehicles from then on."""
    if not registration and not vin:
        return
    row = owned_by_marks(vin, registration) or OwnedVehicle()
    row.registration, row.vin = registration or row.registration, vin or row.vin
    row.model, row.shelf_key = model, shelf_key
    row.owner, row.odometer_km = (
        owner or row.owner,
        odometer_km if odometer_km is not None else row.odometer_km,
    )
    row.save()
    if row.owner:
        Customer.objects.get_or_create(name=row.owner)


def out(key: str) -> tuple[list[str], list[list[str]]]:
    """A list as it stands, with the headings that bring it in again."""
    kind = list_by(key)
    headings = [_heading(field.label, field.unit if field.quantity else "") for field in kind.fields]
    rows = [[_text(row.values.get(field.name)) for field in kind.fields] for row in stands(kind)]
    return headings, rows


def _heading(label: str, unit: str) -> str:
    return f"{label} [{unit}]" if unit and unit != "money" else label


def _text(value: Any) -> str:
    if value is None:
        return ""
    return f"{value:.10g}" if isinstance(value, int | float) else str(value)
