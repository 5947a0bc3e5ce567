"""What a form of map is made of, told once for schema, sheet, checks and files: scalars, tables, lists."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal


@dataclass(frozen=True)
class ScalarKind:
    """A scalar of a map: unit, what it is, and the range in which an engine can run with it.

    `needed` where every map of its form carries it; `quantity` where it may be typed in other units.
    """

    unit: str
    text: str
    low: float
    high: float
    needed: bool = True
    quantity: str = ""


@dataclass(frozen=True)
class Axis:
    """An axis of a table: what it is, its unit, and the range in which its points lie."""

    text: str
    unit: str
    low: float
    high: float


@dataclass(frozen=True)
class TableKind:
    """A table of a map: unit of its values, its axes and what it is, and the range of its values.

    Parameters
    ----------
    rows : Axis or None
        None for a curve: one row.
    each : str
        The list that gives one such table a row: ``fuel_trim.2`` is the fuel trim of position 2.
    decimals : int
        Shown and kept.
    """

    unit: str
    columns: Axis
    rows: Axis | None
    text: str
    low: float
    high: float
    needed: bool = True
    each: str = ""
    decimals: int = 2


ColumnForm = Literal["text", "number", "whole", "yes", "choice"]


@dataclass(frozen=True)
class ColumnKind:
    """A column of a list: what it is, of which form, unit and range of figures, choices of words."""

    text: str
    form: ColumnForm = "text"
    unit: str = ""
    low: float = -1e9
    high: float = 1e9
    needed: bool = True
    choices: tuple[str, ...] = ()


@dataclass(frozen=True)
class ListKind:
    """A list of a map; `key` is the column that no two rows share."""

    text: str
    key: str
    columns: Mapping[str, ColumnKind]
    needed: bool = True


@dataclass(frozen=True)
class Form:
    """A form of map.

    Parameters
    ----------
    used_by : tuple of str
        Kinds of device that run it.
    holds, enters, proof, checked : str
        What it holds, how it gets in, what proves that it is in, what is checked while it is edited.
    """

    key: str
    title: str
    used_by: tuple[str, ...]
    holds: str
    enters: str
    proof: str
    checked: str
    scalars: Mapping[str, ScalarKind] = field(default_factory=dict)
    tables: Mapping[str, TableKind] = field(default_factory=dict)
    lists: Mapping[str, ListKind] = field(default_factory=dict)

    def table(self, name: str) -> TableKind | None:
        """The kind of a table by its name; what stands after a dot is the row of its list."""
        return self.tables.get(name.partition(".")[0])

    def title_of(self, name: str) -> str:
        """What a table is called."""
        stem, _, row = name.partition(".")
        kind = self.tables.get(stem)
        if kind is None:
            return name
        return f"{kind.text}, {kind.each.rstrip('s')} {row}" if row else kind.text


SPEED = Axis("engine speed", "rpm", 0, 25_000)
PRESSURE = Axis("manifold pressure", "kPa", 0, 600)
THROTTLE = Axis("throttle", "%", 0, 100)
COOLANT = Axis("coolant", "°C", -50, 150)
