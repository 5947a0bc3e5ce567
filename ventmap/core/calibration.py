"""A map: scalars and tables that a computer runs, with its identity, its bytes and where it came from.

The file is JSON by ``formats/map.schema.json``. The image is what is written to a computer: a header
(magic, version, length, CRC-32), canonical JSON, and fill to the device's block.
"""

from __future__ import annotations

import hashlib
import json
import struct
import zlib
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from .dead_time import DeadTimeTable
from .errors import CalibrationError, VentMapError
from .tables import Table2D

MAGIC = b"VMAP"
IMAGE_VERSION = 1
FORMAT = "ventmap-map/1"
HEADER = struct.Struct(">4sHII")
FILL = 0xFF
IMAGE_BLOCK = 1024
DECIMALS = 6

#: Scalars that every map carries, with unit and what they are. Others may be added by a device.
SCALARS: dict[str, tuple[str, str]] = {
    "injector_flow": ("cm³/min", "injector static flow at the rated pressure"),
    "injector_rated_kpa": ("kPa", "pressure across the injector at which the flow is rated"),
    "fuel_pressure_kpa": ("kPa", "pressure across the injector in this vehicle"),
    "fuel_density": ("kg/l", "fuel density"),
    "stoichiometric": ("", "air to fuel by mass at lambda 1"),
    "displacement_cc": ("cm³", "engine displacement"),
    "cylinders": ("", "cylinders"),
    "rev_limit": ("rpm", "rev limit"),
    "idle_target": ("rpm", "idle speed, warm"),
    "fan_on": ("°C", "fan on"),
    "fan_off": ("°C", "fan off"),
}
TABLES: dict[str, tuple[str, str, str, str]] = {
    # name: (unit of values, column axis, row axis, what it is)
    "ve": ("%", "engine speed, rpm", "manifold pressure, kPa", "volumetric efficiency"),
    "lambda_target": ("lambda", "engine speed, rpm", "manifold pressure, kPa", "mixture target"),
    "spark": ("° BTDC", "engine speed, rpm", "manifold pressure, kPa", "spark advance"),
    "dead_time": ("ms", "pressure across the injector, kPa", "battery, V", "injector dead time"),
}


@dataclass(frozen=True)
class Identity:
    """What a map is for. Empty text means *not stated*."""

    engine: str
    computer: str
    calibration: str
    vin: str = ""
    minimum_firmware: str = ""


@dataclass(frozen=True)
class Lineage:
    """Where a map came from: `parent` is the SHA-256 of the map it was made from, empty for a base map."""

    version: str = "r0"
    parent: str = ""
    round: int = 0
    note: str = ""
    author: str = ""


@dataclass(frozen=True)
class Calibration:
    """A map.

    Parameters
    ----------
    name : str
    identity : Identity
    scalars : mapping of str to float
        In canonical units, see `SCALARS`.
    tables : mapping of str to Table2D
        See `TABLES`.
    lineage : Lineage
    conditions : mapping
        What it was made for: fuel, octane, altitude band, injectors, intake and exhaust, author, proof.
    """

    name: str
    identity: Identity
    scalars: Mapping[str, float]
    tables: Mapping[str, Table2D]
    lineage: Lineage = field(default_factory=Lineage)
    conditions: Mapping[str, Any] = field(default_factory=dict)

    @property
    def dead_time(self) -> DeadTimeTable:
        table = self.tables["dead_time"]
        return DeadTimeTable(table.y, table.x, table.values)

    def with_scalars(self, **changes: float) -> Calibration:
        return replace(self, scalars={**self.scalars, **changes})

    def with_table(self, name: str, table: Table2D) -> Calibration:
        return replace(self, tables={**self.tables, name: table})

    def with_dead_time(self, table: DeadTimeTable) -> Calibration:
        return self.with_table("dead_time", table.table)

    def image(self, size: int | None = None) -> bytes:
        """Bytes that are written to a computer; the same map always gives the same bytes.

        Parameters
        ----------
        size : int, optional
            Whole image [bytes]; the next multiple of 1024 where absent.
        """
        payload = _canonical(
            {
                "identity": vars(self.identity),
                "version": self.lineage.version,
                "scalars": {k: round(float(v), DECIMALS) for k, v in self.scalars.items()},
                "tables": _tables_out(self.tables),
            }
        )
        head = HEADER.pack(MAGIC, IMAGE_VERSION, len(payload), zlib.crc32(payload))
        length = len(head) + len(payload)
        room = -(-length // IMAGE_BLOCK) * IMAGE_BLOCK if size is None else size
        if length > room:
            raise CalibrationError(f"The map needs {length} bytes; the device holds {room}.", "image")
        return (head + payload).ljust(room, bytes([FILL]))

    @property
    def crc32(self) -> int:
        return zlib.crc32(self.image())

    @property
    def sha256(self) -> str:
        return hashlib.sha256(self.image()).hexdigest()


def _canonical(document: Any) -> bytes:
    return json.dumps(document, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False).encode()


def _tables_out(tables: Mapping[str, Table2D]) -> dict[str, Any]:
    return {
        name: {
            "x": [round(float(v), DECIMALS) for v in table.x],
            "y": [round(float(v), DECIMALS) for v in table.y],
            "values": [[round(float(v), DECIMALS) for v in row] for row in table.values],
        }
        for name, table in tables.items()
    }


def to_document(calibration: Calibration) -> dict[str, Any]:
    """The map as plain JSON values, by the published schema."""
    return {
        "format": FORMAT,
        "name": calibration.name,
        "identity": dict(vars(calibration.identity)),
        "lineage": dict(vars(calibration.lineage)),
        "conditions": dict(calibration.conditions),
        "scalars": {k: round(float(v), DECIMALS) for k, v in calibration.scalars.items()},
        "tables": _tables_out(calibration.tables),
        "crc32": f"{calibration.crc32:08X}",
        "sha256": calibration.sha256,
    }


def to_json(calibration: Calibration) -> str:
    """The map as a file, by the published schema."""
    return json.dumps(to_document(calibration), indent=1, ensure_ascii=False, sort_keys=True)


def from_json(text: str | bytes) -> Calibration:
    """Read a map file and check its sums.

    Raises
    ------
    CalibrationError
        If it is no map, is incomplete, or its checksum does not match its content.
    """
    try:
        document = json.loads(text)
    except (ValueError, UnicodeDecodeError) as error:
        raise CalibrationError("This file is no map: it is not JSON.", "file") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise CalibrationError(f"This file is no Vent Map map: its format is not “{FORMAT}”.", "format")
    calibration = _build(document)
    if str(document.get("crc32", "")).upper() != f"{calibration.crc32:08X}":
        raise CalibrationError(
            "The map's checksum does not match its content: it was cut or altered. Fetch it again from where it came.",
            "crc32",
        )
    if document.get("sha256") != calibration.sha256:
        raise CalibrationError("The map's SHA-256 does not match its content. Fetch it again.", "sha256")
    return calibration


def _build(document: Mapping[str, Any]) -> Calibration:
    try:
        calibration = Calibration(
            name=str(document.get("name", "")),
            identity=Identity(**document["identity"]),
            scalars={str(k): float(v) for k, v in document["scalars"].items()},
            tables={str(name): Table2D(table["x"], table["y"], table["values"]) for name, table in document["tables"].items()},
            lineage=Lineage(**document.get("lineage", {})),
            conditions=dict(document.get("conditions", {})),
        )
    except (KeyError, TypeError, ValueError, AttributeError, VentMapError) as error:
        raise CalibrationError(f"The map is incomplete or misshapen: {error}.", "map") from error
    missing = sorted(set(SCALARS) - set(calibration.scalars)) + sorted(set(TABLES) - set(calibration.tables))
    if missing:
        raise CalibrationError(f"The map lacks {', '.join(missing)}.", missing[0])
    return calibration


def from_image(image: bytes) -> Calibration:
    """Decode an image read from a computer.

    Raises
    ------
    CalibrationError
        If the header is not a map's or the CRC-32 does not match: erased, cut or foreign.
    """
    if len(image) < HEADER.size:
        raise CalibrationError("The image is too short to be a map.", "image")
    magic, version, length, crc = HEADER.unpack_from(image)
    if magic != MAGIC or version != IMAGE_VERSION:
        raise CalibrationError("There is no map in the computer: it is erased or holds something else.", "image")
    payload = image[HEADER.size : HEADER.size + length]
    if len(payload) != length or zlib.crc32(payload) != crc:
        raise CalibrationError("The map in the computer is not whole: its checksum does not match.", "image")
    document = json.loads(payload)
    return _build({**document, "lineage": {"version": document["version"]}})


@dataclass(frozen=True)
class Change:
    """One changed value: a scalar (`row` and `column` absent) or a cell."""

    item: str
    old: float | None
    new: float | None
    unit: str
    x: float | None = None
    y: float | None = None
    row: int | None = None
    column: int | None = None


def diff(a: Calibration, b: Calibration) -> list[Change]:
    """Every value in which `b` differs from `a`, scalars first, then cell by cell.

    A table whose axes differ is one change without cells.
    """
    changes = []
    for name in sorted(set(a.scalars) | set(b.scalars)):
        old, new = a.scalars.get(name), b.scalars.get(name)
        if old is None or new is None or abs(old - new) > 10.0**-DECIMALS:
            changes.append(Change(name, old, new, SCALARS.get(name, ("", ""))[0]))
    for name in sorted(set(a.tables) | set(b.tables)):
        unit = TABLES.get(name, ("", "", "", ""))[0]
        first, second = a.tables.get(name), b.tables.get(name)
        if first is None or second is None or not (
            np.array_equal(first.x, second.x) and np.array_equal(first.y, second.y)
        ):  # fmt: skip
            changes.append(Change(name, None, None, unit))
            continue
        for i, j in np.argwhere(np.abs(first.values - second.values) > 10.0**-DECIMALS):
            changes.append(
                Change(
                    name, float(first.values[i, j]), float(second.values[i, j]), unit,
                    float(first.x[j]), float(first.y[i]), int(i), int(j),
                )
            )  # fmt: skip
    return changes
