"""The shelf: which record each kind of thing has, and the published schema made from them."""

from __future__ import annotations

from collections.abc import Mapping
from copy import deepcopy
from functools import lru_cache
from typing import Any

from ..errors import BadInput
from .access import AccessList
from .common import Record, read_record
from .device import DEVICES, Device
from .injector import Injector
from .layout import EngineLayout
from .schema import plain_schema
from .source import LogSource
from .stores import Consumable, Pump, Sensor, ShelfConnector, SoldFuel, Tool
from .vehicle import Vehicle

#: Kind of thing on the shelf → its record. A device's record hangs on its own kind.
RECORDS: dict[str, type[Record]] = {
    "vehicle": Vehicle,
    "device": Device,
    "injector": Injector,
    "pump": Pump,
    "sensor": Sensor,
    "fuel": SoldFuel,
    "connector": ShelfConnector,
    "tool": Tool,
    "consumable": Consumable,
    "source": LogSource,
    "layout": EngineLayout,
    "access": AccessList,
}
KEY_PATTERN = "^[a-z0-9][a-z0-9-]{1,58}$"
NAME_LENGTH = (2, 120)


def read_device(body: Mapping[str, Any], what: str = "") -> Device:
    """A device's body as the record of its kind.

    Raises
    ------
    BadInput
        Naming the field.
    """
    kind = body.get("kind")
    if not isinstance(kind, str) or kind not in DEVICES:
        head = f"{what}, " if what else ""
        raise BadInput(f"{head}kind: choose one of {', '.join(DEVICES)}.", "kind")
    return read_record(DEVICES[kind], body, what)


def read_body(kind: str, body: Any, what: str = "") -> Record:
    """The body of a thing on the shelf as its record.

    Raises
    ------
    BadInput
        Naming the thing, the field and what is wrong with it.
    """
    if kind not in RECORDS:
        raise BadInput(f"The shelf has no such kind. Choose one of {', '.join(RECORDS)}.", "kind")
    if not isinstance(body, Mapping):
        raise BadInput(f"{what or kind}, body: give its fields with their values.", "body")
    if kind == "device":
        return read_device(body, what)
    return read_record(RECORDS[kind], body, what)


@lru_cache(maxsize=1)
def shelf_schema() -> dict[str, Any]:
    """The JSON Schema of a list of shelf items (``formats/shelf.schema.json``)."""
    kinds = list(RECORDS)
    item = {
        "type": "object",
        "required": ["kind", "key", "name", "body"],
        "additionalProperties": False,
        "properties": {
            "kind": {"enum": kinds},
            "key": {"type": "string", "pattern": KEY_PATTERN},
            "name": {"type": "string", "minLength": NAME_LENGTH[0], "maxLength": NAME_LENGTH[1]},
            "body": {"type": "object"},
        },
        "allOf": [
            {
                "if": {"properties": {"kind": {"const": kind}}},
                "then": {"properties": {"body": {"$ref": f"#/$defs/{kind}"}}},
            }
            for kind in kinds
        ],
    }
    records = {kind: _device_schema() if kind == "device" else plain_schema(RECORDS[kind]) for kind in kinds}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "The shelf: a list of items, each of one kind",
        "type": "array",
        "items": {"$ref": "#/$defs/item"},
        "$defs": {"item": item, **{kind: {**body, "title": kind} for kind, body in records.items()}},
    }


def _device_schema() -> dict[str, Any]:
    """One list of fields for the editor; what only some kinds have says which, and is refused for others."""
    parts = {kind: plain_schema(record) for kind, record in DEVICES.items()}
    properties: dict[str, Any] = {}
    for part in parts.values():
        for name, field in part["properties"].items():
            properties.setdefault(name, deepcopy(field))
    for name, field in properties.items():
        having = [kind for kind, part in parts.items() if name in part["properties"]]
        if len(having) < len(parts):
            field["x-kinds"] = having
    properties["kind"] = {"type": "string", "title": "kind", "enum": list(DEVICES)}
    return {
        "type": "object",
        "required": ["kind", "fits"],
        "additionalProperties": False,
        "properties": properties,
        "allOf": [
            {
                "if": {"properties": {"kind": {"const": kind}}},
                "then": {"propertyNames": {"enum": sorted(part["properties"])}},
            }
            for kind, part in parts.items()
        ],
    }
