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


@dataclass(frozen=True)
class ScalarKind:
    """A scalar of a map: unit, what it is, and the range in which an engine can run with it."""

    unit: str
    text: str
    low: float
    high: float


@dataclass(frozen=True)
class TableKind:
    """A table of a map: unit of its values, its axes and what it is; ranges of values, columns and rows."""

    unit: str
    columns: str
    rows: str
    text: str
    values: tuple[float, float]
    x: tuple[float, float]
    y: tuple[float, float]


#: Scalars that every map carries. Others may be added by a device.
SCALARS: dict[str, ScalarKind] = {
    "injector_flow": ScalarKind("cm³/min", "injector static flow at the rated pressure", 10, 20_000),
    "injector_rated_kpa": ScalarKind(
        "kPa", "pressure across the injector at which the flow is rated", 50, 400_000
    ),
    "fuel_pressure_kpa": ScalarKind("kPa", "pressure across the injector in this vehicle", 50, 400_000),
    "fuel_density": ScalarKind("kg/l", "fuel density", 0.6, 0.95),
    "stoichiometric": ScalarKind("", "air to fuel by mass at lambda 1", 5.0, 16.0),
    "displacement_cc": ScalarKind("cm³", "engine displacement", 40, 20_000),
    "cylinders": ScalarKind("", "cylinders", 1, 16),
    "rev_limit": ScalarKind("rpm", "rev limit", 1_000, 20_000),
    "idle_target": ScalarKind("rpm", "idle speed, warm", 400, 3_000),
    "fan_on": ScalarKind("°C", "fan on", 50, 115),
    "fan_off": ScalarKind("°C", "fan off", 40, 112),
}
_SPEED, _LOAD = (0, 25_000), (0, 600)
TABLES: dict[str, TableKind] = {
    "ve": TableKind(
        "%", "engine speed, rpm", "manifold pressure, kPa", "volumetric efficiency", (5, 200), _SPEED, _LOAD
    ),
    "lambda_target": TableKind(
        "lambda", "engine speed, rpm", "manifold pressure, kPa", "mixture target", (0.6, 1.3), _SPEED, _LOAD
    ),
    "spark": TableKind(
        "° BTDC", "engine speed, rpm", "manifold pressure, kPa", "spark advance", (-20, 60), _SPEED, _LOAD
    ),
    "dead_time": TableKind(
        "ms",
        "pressure across the injector, kPa",
        "battery, V",
        "injector dead time",
        (0.05, 6.0),
        (0, 400_000),
        (5, 20),
    ),
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
        """Of the image."""
        return zlib.crc32(self.image())

    @property
    def image_sha256(self) -> str:
        """Of the image: what a computer that runs this map answers."""
        return hashlib.sha256(self.image()).hexdigest()

    @property
    def sha256(self) -> str:
        """Of the whole document: figures, identity, name, conditions and lineage."""
        return hashlib.sha256(_canonical(self.plain())).hexdigest()

    def plain(self) -> dict[str, Any]:
        """The map as plain JSON values, without its sums."""
        return {
            "name": self.name,
            "identity": dict(vars(self.identity)),
            "lineage": dict(vars(self.lineage)),
            "conditions": self.conditions.model_dump(mode="json", exclude_none=True),
            "scalars": {k: round(float(v), DECIMALS) for k, v in self.scalars.items()},
            "tables": _tables_out(self.tables),
        }

    def same_figures(self, other: Calibration) -> bool:
        """Whether two maps make an engine run alike."""
        mine, theirs = self.plain(), other.plain()
        return all(mine[part] == theirs[part] for part in ("scalars", "tables"))


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
