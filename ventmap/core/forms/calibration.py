"""A map of any form: scalars, tables and lists, with its identity, its bytes and where it came from.

The file is JSON by ``formats/map.schema.json``. The image is what is written to a computer: a header
(magic, version, length, CRC-32), canonical JSON, and fill to the device's block.
"""

from __future__ import annotations

import hashlib
import json
import struct
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from ..basics import CalibrationError, Table2D
from ..fuel import DeadTimeTable
from .catalogue import FORMS
from .document import MapConditions, Value
from .kinds import Form, TableKind
from .own import OWN_LIST, own_kind, own_row

MAGIC = b"VMAP"
IMAGE_VERSION = 1
HEADER = struct.Struct(">4sHII")
FILL = 0xFF
IMAGE_BLOCK = 1024
DECIMALS = 6


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


Row = Mapping[str, Value]


@dataclass(frozen=True)
class MapSet:
    """The set that a map is one of: role → SHA-256 of the map of each module."""

    name: str
    role: str
    members: Mapping[str, str]


@dataclass(frozen=True)
class Calibration:
    """A map.

    Parameters
    ----------
    name : str
    identity : Identity
    scalars : mapping of str to float
        In canonical units, as its form describes them.
    tables : mapping of str to Table2D
    lineage : Lineage
    conditions : MapConditions
        What it was made for: fuel, octane, altitude band, injectors, intake and exhaust, author, proof.
    form : str
        Key of its form, see `FORMS`.
    lists : mapping of str to rows
    set : MapSet or None
        Modules that it works with. No part of its sums: it names them.
    """

    name: str
    identity: Identity
    scalars: Mapping[str, float]
    tables: Mapping[str, Table2D]
    lineage: Lineage = field(default_factory=Lineage)
    conditions: MapConditions = MapConditions()
    form: str = "full"
    lists: Mapping[str, tuple[Row, ...]] = field(default_factory=dict)
    set: MapSet | None = None

    @property
    def kind(self) -> Form:
        """Its form."""
        return FORMS[self.form]

    def table_kind(self, name: str) -> TableKind | None:
        """What its form says of one of its tables, or whoever brought it."""
        row = own_row(self.lists.get(OWN_LIST, ()), name)
        return own_kind(row) if row is not None else self.kind.table(name)

    def title_of(self, name: str) -> str:
        """What one of its tables is called."""
        row = own_row(self.lists.get(OWN_LIST, ()), name)
        return str(row["name"]) if row is not None else self.kind.title_of(name)

    @property
    def dead_time(self) -> DeadTimeTable:
        table = self.tables["dead_time"]
        return DeadTimeTable(table.y, table.x, table.values)

    @property
    def asked_idle(self) -> float | None:
        """Idle speed that it asks for [rpm]; None where it says nothing of it."""
        if "idle_target" in self.scalars:
            return self.scalars["idle_target"]
        rows = [row for row in self.lists.get("options", ()) if row["key"] == "idle"]
        return float(rows[0]["wanted"]) if rows else None

    @property
    def asked_rev_limit(self) -> float | None:
        """Engine speed that it lets the engine turn [rpm]; None where it says nothing of it."""
        if "rev_limit" in self.scalars and "idle_target" in self.scalars:
            return self.scalars["rev_limit"]
        told = [row.get("wanted") for row in self.lists.get("options", ()) if row.get("key") == "rev_limit"]
        told += [row.get("rev_limit") for row in self.lists.get("positions", ())]
        limits = [float(limit) for limit in told if limit is not None]
        return max(limits, default=None)

    def with_scalars(self, **changes: float) -> Calibration:
        return replace(self, scalars={**self.scalars, **changes})

    def with_table(self, name: str, table: Table2D) -> Calibration:
        return replace(self, tables={**self.tables, name: table})

    def with_list(self, name: str, rows: Sequence[Row]) -> Calibration:
        return replace(self, lists={**self.lists, name: tuple(dict(row) for row in rows)})

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
                **self._beyond(),
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

    @cached_property
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
            **self._beyond(),
        }

    def _beyond(self) -> dict[str, Any]:
        """What a full map without lists has not, so that its sums are those that it always had."""
        more: dict[str, Any] = {} if self.form == "full" else {"form": self.form}
        if self.lists:
            more["lists"] = {name: [_row_out(row) for row in rows] for name, rows in self.lists.items()}
        return more

    def same_figures(self, other: Calibration) -> bool:
        """Whether two maps make an engine run alike."""
        mine, theirs = self.plain(), other.plain()
        return all(mine.get(part) == theirs.get(part) for part in ("form", "scalars", "tables", "lists"))


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


def _row_out(row: Row) -> dict[str, Value]:
    """Figures rounded as tables are; words and yes or no as they are."""
    return {
        key: value if isinstance(value, bool | str) else round(float(value), DECIMALS)
        for key, value in row.items()
    }
