"""Bringing lists and giving them out again: customers, their vehicles, parts and injectors."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from typing import Any

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
from ..shop.apart import read_apart
from ..shop.services import changing_shop
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


def _read(data: bytes, name: str) -> Sheet:
    return read_apart(read_sheet, data, name, size=len(data))


def columns_of(key: str, data: bytes, name: str) -> tuple[Sheet, dict[str, Mapped], bool]:
    """A file's columns as they were assigned last, else by the words of their headings."""
    kind, sheet = list_by(key), _read(data, name)
    known = ListColumns.objects.filter(list=key, headings=_mark(sheet)).first()
    if known:
        return sheet, {heading: Mapped(**known.columns.get(heading, {})) for heading in sheet.headings}, True
    return sheet, guess_columns(kind, sheet), False


def tried(key: str, data: bytes, name: str, columns: Mapping[str, Mapped]) -> list[Change]:
    """What the file would make, change and be refused; only how its columns are read is kept."""
    return _tried(list_by(key), _read(data, name), columns)


def _tried(kind: ListKind, sheet: Sheet, columns: Mapping[str, Mapped]) -> list[Change]:
    found = dry_run(kind, sheet, columns, stands(kind))
    ListColumns.objects.update_or_create(
        list=kind.key,
        headings=_mark(sheet),
        defaults={"columns": {heading: vars(mapped) for heading, mapped in columns.items()}},
    )
    return found


def bring(key: str, data: bytes, name: str, columns: Mapping[str, Mapped]) -> list[Change]:
    """Keep what a dry run says is made or changed; what is refused stays out and is told.

    The file is read before anything is held; what it means is said against what stands while it is kept.

    Raises
    ------
    BadInput
        Where nothing of it can be kept.
    """
    kind, sheet = list_by(key), _read(data, name)
    with changing_shop():
        changes = _tried(kind, sheet, columns)
        wanted = [change for change in changes if change.outcome in (Outcome.made, Outcome.changed)]
        if not wanted and any(change.outcome is Outcome.refused for change in changes):
            raise BadInput("Every line is refused: look at the reasons, nothing was kept.", "file")
        KEPT[kind.key](kind, [dict(change.values) for change in wanted])
    return changes


def _keep_customers(kind: ListKind, rows: list[dict[str, Any]]) -> None:
    there = {row.name.casefold(): row for row in Customer.objects.all()}
    for values in rows:
        row = there.get(values["name"].casefold()) or Customer()
        _set(row, values)
        there[row.name.casefold()] = row


def _keep_vehicles(kind: ListKind, rows: list[dict[str, Any]]) -> None:
    by_vin, by_plate = _marked()
    owners = {name.casefold() for name in Customer.objects.values_list("name", flat=True)}
    models = {
        item.name.casefold(): item.key
        for item in ShelfItem.objects.filter(kind="vehicle").only("name", "key")
    }
    for values in rows:
        vin, plate = values.get("vin", ""), _plate(values.get("registration", ""))
        row = (vin and by_vin.get(vin)) or (plate and by_plate.get(plate)) or OwnedVehicle()
        row.shelf_key = row.shelf_key or models.get(str(values.get("model", "")).casefold(), "")
        _set(row, values)
        by_vin[row.vin], by_plate[_plate(row.registration)] = row, row
        if row.owner and row.owner.casefold() not in owners:
            owners.add(row.owner.casefold())
            Customer.objects.create(name=row.owner)


def _set(row: Customer | OwnedVehicle, values: Mapping[str, Any]) -> None:
    for name, value in values.items():
        setattr(row, name, value)
    row.save()


def _keep_on_shelf(kind: ListKind, rows: list[dict[str, Any]]) -> None:
    shelf_kind, _ = ON_SHELF[kind.key]
    there = {item.name.casefold(): item for item in ShelfItem.objects.filter(kind=shelf_kind)}
    for values in rows:
        called = values.pop("name")
        item = there.get(called.casefold())
        body = {**(item.body if item else {}), **values}
        if kind.key == "injectors" and item is None:
            body |= {"kind": "port", "test_fluid": "n-heptane"}
        there[called.casefold()] = put(
            {
                "kind": shelf_kind,
                "key": item.key if item else free_key(shelf_kind, called),
                "name": item.name if item else called,
                "body": body,
            }
        )


KEPT: dict[str, Callable[[ListKind, list[dict[str, Any]]], None]] = {
    "customers": _keep_customers,
    "vehicles": _keep_vehicles,
    "parts": _keep_on_shelf,
    "injectors": _keep_on_shelf,
}


def _plate(registration: str) -> str:
    return registration.replace(" ", "").casefold()


def _marked() -> tuple[dict[str, OwnedVehicle], dict[str, OwnedVehicle]]:
    """Customers' vehicles by their number and by their registration; the first of two counts."""
    by_vin: dict[str, OwnedVehicle] = {}
    by_plate: dict[str, OwnedVehicle] = {}
    for row in OwnedVehicle.objects.order_by("pk"):
        if row.vin:
            by_vin.setdefault(row.vin, row)
        if row.registration:
            by_plate.setdefault(_plate(row.registration), row)
    return by_vin, by_plate


def owned_by_marks(vin: str, registration: str) -> OwnedVehicle | None:
    """A customer's vehicle by its number, else by its registration."""
    if vin:
        row = OwnedVehicle.objects.filter(vin=vin).first()
        if row is not None:
            return row
    plate = _plate(registration)
    rows = OwnedVehicle.objects.exclude(registration="") if plate else OwnedVehicle.objects.none()
    return next((row for row in rows if _plate(row.registration) == plate), None)


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
