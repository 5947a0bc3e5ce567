"""The document of a map: the records that its file is read and published by."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..basics import Induction, Record, plain_schema

FORMAT = "ventmap-map/1"


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
    """What a map was made for and what it was proven on."""

    induction: Induction = "none"
    ron: float | None = Field(
        None, ge=60, le=130, description="octane it needs [RON]; not stated where absent"
    )
    ethanol: float = Field(0.0, ge=0, le=1, description="ethanol it was made for, fraction of volume")
    exhaust: str = "stock"
    intake: str = "stock"
    cams: str = "stock"
    altitude_m: tuple[float, float] = Field((0.0, 5000.0), description="proven between [m]")
    author: str = ""
    proven_on: str = ""


class TableDocument(Record):
    """A table: `values[row][column]` at `y[row]`, `x[column]`."""

    x: Annotated[tuple[float, ...], Field(min_length=1)] = Field(description="columns, rising")
    y: Annotated[tuple[float, ...], Field(min_length=1)] = Field(description="rows, rising")
    values: tuple[tuple[float, ...], ...]


class MapDocument(Record):
    """A calibration: identity, scalars and tables in canonical units, with lineage and the checksums of
    its image.
    """

    format: Literal["ventmap-map/1"]
    name: str = ""
    identity: IdentityDocument
    lineage: LineageDocument
    conditions: MapConditions = MapConditions()
    scalars: dict[str, float]
    tables: dict[str, TableDocument]
    crc32: str = Field(pattern="^[0-9A-F]{8}$")
    sha256: str = Field(pattern="^[0-9a-f]{64}$")


def map_schema(scalars: list[str], tables: list[str]) -> dict[str, Any]:
    """The JSON Schema of a map (``formats/map.schema.json``), with the scalars and tables every map
    carries.
    """
    schema = plain_schema(MapDocument)
    schema["properties"]["scalars"]["required"] = scalars
    schema["properties"]["tables"]["required"] = tables
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": "ventmap:map/1",
        **schema,
        "title": "Vent Map map",
        "description": " ".join((MapDocument.__doc__ or "").split()),
    }
