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

from ..basics import CalibrationError, Table2D
from ..fuel import DeadTimeTable
from .document import MapConditions

MAGIC = b"VMAP"
IMAGE_VERSION = 1
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
    conditions : MapConditions
        What it was made for: fuel, octane, altitude band, injectors, intake and exhaust, author, proof.
    """

    name: str
    identity: Identity
    scalars: Mapping[str, float]
    tables: Mapping[str, Table2D]
    lineage: Lineage = field(default_factory=Lineage)
    conditions: MapConditions = MapConditions()

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
    return json.dumps(
        document, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False
    ).encode()


def _tables_out(tables: Mapping[str, Table2D]) -> dict[str, Any]:
    return {
        name: {
            "x": [round(float(v), DECIMALS) for v in table.x],
            "y": [round(float(v), DECIMALS) for v in table.y],
            "values": [[round(float(v), DECIMALS) for v in row] for row in table.values],
        }
        for name, table in tables.items()
    }
