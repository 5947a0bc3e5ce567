"""Editing a table like a sheet: a range, an operation, new cells."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import BadInput, Floats, Table2D
from .kinds import TableKind

#: Operation → what it does, as it is named on its button.
OPERATIONS = {
    "set": "set to",
    "add": "add",
    "multiply": "times",
    "percent": "change by %",
    "equal": "all as the first",
    "fill": "fill between corners",
    "smooth": "smooth",
    "paste": "paste",
}
#: Those that ask for a figure.
ASK = ("set", "add", "multiply", "percent")


@dataclass(frozen=True)
class Region:
    """Cells from `top` to `bottom` and `left` to `right`, both ends in."""

    top: int
    left: int
    bottom: int
    right: int

    def inside(self, table: Table2D) -> Region:
        """The same with its ends in order.

        Raises
        ------
        BadInput
            If it reaches beyond the table.
        """
        rows, columns = table.values.shape
        found = Region(
            min(self.top, self.bottom),
            min(self.left, self.right),
            max(self.top, self.bottom),
            max(self.left, self.right),
        )
        if found.top < 0 or found.left < 0 or found.bottom >= rows or found.right >= columns:
            raise BadInput(
                f"The table has {rows} rows and {columns} columns; that range goes beyond.", "range"
            )
        return found

    @property
    def slices(self) -> tuple[slice, slice]:
        return slice(self.top, self.bottom + 1), slice(self.left, self.right + 1)


def edited(
    table: Table2D,
    region: Region,
    operation: str,
    kind: TableKind,
    *,
    amount: float | None = None,
    block: Sequence[Sequence[float]] | None = None,
    measured: NDArray[np.bool_] | None = None,
) -> Table2D:
    """The table after one operation on a range.

    Parameters
    ----------
    amount : float
        For `set`, `add`, `multiply`, `percent`.
    block : nested sequence
        For `paste`: the cells, laid down from the range's first one. A single cell fills the range.
    measured : array of bool, shape of the table, optional
        Cells that `smooth` leaves as they are, because a log carries them.

    Raises
    ------
    BadInput
        If the range, the block or a new figure does not fit the table.
    """
    if operation not in OPERATIONS:
        raise BadInput(f"“{operation}” is none of {', '.join(OPERATIONS)}.", "operation")
    if operation in ASK and (amount is None or not np.isfinite(amount)):
        raise BadInput(f"Type a figure to {OPERATIONS[operation]}.", "amount")
    if operation == "paste":
        region = _room(table, region, block)
    region = region.inside(table)
    values = table.values.copy()
    old = values[region.slices]
    new = _new(operation, old, amount if amount is not None else 0.0, block)
    if operation == "smooth":
        new = _smooth(table.values, region)
        if measured is not None:
            new = np.where(measured[region.slices], old, new)
    if operation not in ("set", "paste"):
        new = np.where(np.isclose(new, old), old, np.round(new, kind.decimals))
    values[region.slices] = new
    _fits(values, table, kind)
    return table.with_values(values)


def _room(table: Table2D, region: Region, block: Sequence[Sequence[float]] | None) -> Region:
    if not block or not block[0]:
        raise BadInput("Nothing was pasted.", "text")
    if len(block) == 1 and len(block[0]) == 1:
        return region
    rows, columns = table.values.shape
    top, left = min(region.top, region.bottom), min(region.left, region.right)
    if top + len(block) > rows or left + len(block[0]) > columns:
        raise BadInput(
            f"What is pasted has {len(block)} rows and {len(block[0])} columns; from this cell there is room"
            f" for {rows - top} and {columns - left}. Nothing was changed.",
            "text",
        )
    return Region(top, left, top + len(block) - 1, left + len(block[0]) - 1)


def _new(operation: str, old: Floats, amount: float, block: Sequence[Sequence[float]] | None) -> Floats:
    if operation == "paste":
        return np.broadcast_to(np.asarray(block, float), old.shape)
    if operation == "set":
        return np.full(old.shape, amount)
    if operation == "add":
        return old + amount
    if operation == "multiply":
        return old * amount
    if operation == "percent":
        return old * (1.0 + amount / 100.0)
    if operation == "equal":
        return np.full(old.shape, old[0, 0])
    if operation == "fill":
        return _between(old)
    return old


def _between(old: Floats) -> Floats:
    """Bilinear between the four corners, which stay."""
    rows, columns = old.shape
    down = np.linspace(0, 1, rows)[:, None] if rows > 1 else np.zeros((1, 1))
    across = np.linspace(0, 1, columns)[None, :] if columns > 1 else np.zeros((1, 1))
    top = old[0, 0] * (1 - across) + old[0, -1] * across
    bottom = old[-1, 0] * (1 - across) + old[-1, -1] * across
    return np.asarray(top * (1 - down) + bottom * down)


def _smooth(values: Floats, region: Region) -> Floats:
    """Each cell with its neighbours, 1-2-1 along both axes; neighbours outside the range count too."""
    padded = np.pad(values, 1, mode="edge")
    along = (padded[:, :-2] + 2 * padded[:, 1:-1] + padded[:, 2:]) / 4
    both = (along[:-2] + 2 * along[1:-1] + along[2:]) / 4
    return np.asarray(both[region.slices])


def _fits(values: Floats, table: Table2D, kind: TableKind) -> None:
    bad = np.argwhere(~((values >= kind.low) & (values <= kind.high)))
    if len(bad):
        i, j = bad[0]
        at = f"{table.x[j]:g}, {table.y[i]:g}" if kind.rows else f"{table.x[j]:g}"
        raise BadInput(
            f"{kind.text} at {at} would be {values[i, j]:g} {kind.unit}: it lies between {kind.low:g} and"
            f" {kind.high:g}. Nothing was changed.",
            "amount",
        )
