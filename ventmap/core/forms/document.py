"""The document of a map: the records that its file is read and published by."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..basics import Induction, Record, parse_field, plain_schema, require_between
from .catalogue import FORMS
from .kinds import ColumnKind, Form

FORMAT = "ventmap-map/2"
#: Read and brought up: it holds full maps alone.
OLDER = "ventmap-map/1"
Part = Literal["fitted", "removed", ""]
Value = float | bool | str
#: Least and most octane that a map can need [RON].
OCTANE = (60.0, 130.0)


def stated_octane(text: str) -> float:
    """Octane that a map needs, as its maker told it [RON]; "91 AKI" is read too.

    Raises
    ------
    BadInput
        If it is no octane.
    OutOfRange
        If no map needs such an octane.

    Examples
    --------
    >>> stated_octane("91 AKI")
    95.5
    """
    value = parse_field("ron", text, "octane")
    require_between(*OCTANE, ron=value)
    return value


class IdentityDocument(Record):
    """What a map is for; empty text means *not stated*."""

    engine: str
    computer: str
    calibration: str
    vin: str = ""
    minimum_firmware: str = ""


class LineageDocument(Record):
    """Where a map came from."""

    version: str = "r0"
    parent: str = Field("", description="SHA-256 of the map it was made from; empty for a base map")
    round: int = Field(0, ge=0)
    note: str = ""
    author: str = ""


class MapConditions(Record):
    """What a map was made for and what it was proven on; empty text means *not stated*."""

    induction: Induction = "none"
    ron: float | None = Field(
        None, ge=OCTANE[0], le=OCTANE[1], description="octane it needs [RON]; not stated where absent"
    )
    ethanol: float = Field(0.0, ge=0, le=1, description="ethanol it was made for, fraction of volume")
    exhaust: str = "stock"
    intake: str = "stock"
    cams: str = "stock"
    altitude_m: tuple[float, float] = Field((0.0, 5000.0), description="proven between [m]")
    author: str = ""
    proven_on: str = ""
    gearbox: str | None = Field(None, description="gearbox it was made for; any where absent")
    catalyst: Literal["fitted", "removed"] | None = Field(None, description="what it expects")
    particulate_filter: Literal["fitted", "removed"] | None = Field(None, description="what it expects")


class SetDocument(Record):
    """Modules that work together: role → SHA-256 of the map of that module."""

    name: str = Field(min_length=1)
    role: str = Field(min_length=1, description="which member this map is")
    members: dict[str, Annotated[str, Field(pattern="^[0-9a-f]{64}$")]]


class TableDocument(Record):
    """A table: `values[row][column]` at `y[row]`, `x[column]`."""

    x: Annotated[tuple[float, ...], Field(min_length=1)] = Field(description="columns, rising")
    y: Annotated[tuple[float, ...], Field(min_length=1)] = Field(description="rows, rising")
    values: tuple[tuple[float, ...], ...]


class MapDocument(Record):
    """A map of any form: identity, scalars, tables and lists in canonical units, with lineage, its set and
    the checksums of its image.
    """

    format: Literal["ventmap-map/2"]
    form: str
    name: str = ""
    identity: IdentityDocument
    lineage: LineageDocument
    conditions: MapConditions = MapConditions()
    scalars: dict[str, float] = {}
    tables: dict[str, TableDocument] = {}
    lists: dict[str, tuple[dict[str, Value], ...]] = {}
    set: SetDocument | None = None
    crc32: str = Field(pattern="^[0-9A-F]{8}$")
    sha256: str = Field(pattern="^[0-9a-f]{64}$")


def map_schema() -> dict[str, Any]:
    """The JSON Schema of a map (``formats/map.schema.json``): what each form carries, from its one
    description.
    """
    schema = plain_schema(MapDocument)
    schema["properties"]["form"] = {"enum": list(FORMS)}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": "ventmap:map/2",
        **schema,
        "title": "Vent Map map",
        "description": " ".join((MapDocument.__doc__ or "").split()),
        "allOf": [
            {"if": {"properties": {"form": {"const": form.key}}}, "then": {"properties": _part(form)}}
            for form in FORMS.values()
        ],
    }


def _part(form: Form) -> dict[str, Any]:
    return {
        "scalars": {
            "required": [name for name, kind in form.scalars.items() if kind.needed],
            "properties": {
                name: {
                    "title": kind.text,
                    "x-unit": kind.unit,
                    "minimum": kind.low,
                    "maximum": kind.high,
                }
                for name, kind in form.scalars.items()
            },
        },
        "tables": {
            "required": [name for name, kind in form.tables.items() if kind.needed and not kind.each],
            "patternProperties": {
                f"^{name}{'[.][0-9]+' if kind.each else ''}$": {
                    "title": kind.text,
                    "x-unit": kind.unit,
                    "properties": {
                        "values": {
                            "items": {"items": {"minimum": kind.low, "maximum": kind.high}},
                        }
                    },
                }
                for name, kind in form.tables.items()
            },
        },
        "lists": {
            "required": [name for name, kind in form.lists.items() if kind.needed],
            "properties": {
                name: {
                    "title": kind.text,
                    "items": {
                        "required": [key for key, column in kind.columns.items() if column.needed],
                        "additionalProperties": False,
                        "properties": {key: _column(column) for key, column in kind.columns.items()},
                    },
                }
                for name, kind in form.lists.items()
            },
        },
    }


def _column(kind: ColumnKind) -> dict[str, Any]:
    told: dict[str, Any] = {"title": kind.text}
    if kind.unit:
        told["x-unit"] = kind.unit
    if kind.form in ("number", "whole"):
        return {**told, "type": "number", "minimum": kind.low, "maximum": kind.high}
    if kind.form == "yes":
        return {**told, "type": "boolean"}
    if kind.choices:
        return {**told, "enum": list(kind.choices)}
    return {**told, "type": "string"}
