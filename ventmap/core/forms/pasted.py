"""A table of another program as text: read in any orientation, unit and decimal mark, written back alike."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..basics import BadInput, Table2D, one_figure, separator, split_cells
from .calibration import Row
from .kinds import TableKind

FIELD = "text"
#: More than any table of the trade.
MOST_CELLS = 64 * 64
MARKS = {"tab": "\t", ";": ";", ",": ",", "blank": " "}


@dataclass(frozen=True)
class Pasted:
    """A table as it was pasted, its axes rising, and how it stood.

    `x_text` and `y_text` are the axes as they were written, in their order there.
    """

    table: Table2D
    x_text: tuple[str, ...]
    y_text: tuple[str, ...]
    corner: str
    bare: bool
    decimal: str
    between: str
    digits: int
    falls_x: bool
    falls_y: bool


def read_cells(text: str) -> list[list[float]]:
    """A block of cells without axes, as a spreadsheet copies it.

    Raises
    ------
    BadInput
        Naming the line and the cell that is no figure, or the line that is longer than the others.
    """
    rows = _straight(split_cells(text))
    return [[_figure(cell, i, j) for j, cell in enumerate(row, 1)] for i, row in enumerate(rows, 1)]


def read_table(text: str) -> Pasted:
    """A table with both its axes; two lines or two columns are a curve.

    Raises
    ------
    BadInput
        Naming the line and the cell, or the axis that does not rise.
    """
    rows = split_cells(text)
    if len(rows) < 2:
        raise BadInput("Paste the table with its axes: the first line and the first column.", FIELD)
    width = max(map(len, rows))
    curve = _curve(rows, width)
    if curve:
        return curve
    bare = len(rows[0]) == width - 1
    across = rows[0] if bare else rows[0][1:]
    corner = "" if bare else rows[0][0]
    body = _straight(rows[1:], width, 1)
    if len(across) != width - 1:
        raise BadInput(
            f"The first line has {len(rows[0])} cells, the lines below it {width}: one of them is not whole.",
            FIELD,
        )
    x = [_figure(cell, 1, j) for j, cell in enumerate(across, 1 if bare else 2)]
    y = [_figure(row[0], i, 1) for i, row in enumerate(body, 2)]
    values = [
        [_figure(cell, i, j, f" (row {row[0]}, column {across[j - 2]})") for j, cell in enumerate(row[1:], 2)]
        for i, row in enumerate(body, 2)
    ]
    inner = [cell for row in body for cell in row[1:]]
    return _pasted(text, x, y, values, tuple(across), tuple(row[0] for row in body), corner, bare, inner)


def _curve(rows: list[list[str]], width: int) -> Pasted | None:
    """Two lines, or two columns: an axis and its values."""
    text = "\n".join("\t".join(row) for row in rows)
    if len(rows) == 2 and width > 2:
        lines = [row[1:] if one_figure(row[0]) is None else row for row in _straight(rows)]
        x, values = ([_figure(c, i, j) for j, c in enumerate(line, 1)] for i, line in enumerate(lines, 1))
        return _pasted(text, x, [0.0], [values], tuple(lines[0]), ("0",), "", True, lines[1])
    if width == 2 and len(rows) > 2:
        body = rows[1:] if one_figure(rows[0][0]) is None else rows
        x = [_figure(row[0], i, 1) for i, row in enumerate(body, 1)]
        values = [_figure(row[1], i, 2) for i, row in enumerate(_straight(body), 1)]
        axis = tuple(row[0] for row in body)
        return _pasted(text, x, [0.0], [values], axis, ("0",), "", True, [row[1] for row in body])
    return None


def _pasted(
    text: str,
    x: list[float],
    y: list[float],
    values: list[list[float]],
    x_text: tuple[str, ...],
    y_text: tuple[str, ...],
    corner: str,
    bare: bool,
    inner: list[str],
) -> Pasted:
    if len(x) * len(y) > MOST_CELLS:
        raise BadInput(f"This table has {len(x) * len(y)} cells; at most {MOST_CELLS} are read.", FIELD)
    falls_x, falls_y = _falls(x, x_text, "first line"), _falls(y, y_text, "first column")
    cells = np.array(values)
    cells = cells[:, ::-1] if falls_x else cells
    cells = cells[::-1] if falls_y else cells
    table = Table2D(x[::-1] if falls_x else x, y[::-1] if falls_y else y, cells)
    decimal = "," if any("," in cell for cell in inner) else "."
    digits = max((len(cell.partition(decimal)[2].split()[0]) for cell in inner if decimal in cell), default=0)
    return Pasted(
        table,
        x_text,
        y_text,
        corner=corner,
        bare=bare,
        decimal=decimal,
        between=separator(text),
        digits=min(digits, 6),
        falls_x=falls_x,
        falls_y=falls_y,
    )


def _falls(axis: list[float], told: tuple[str, ...], where: str) -> bool:
    steps = np.diff(axis)
    if np.all(steps > 0):
        return False
    if np.all(steps < 0):
        return True
    turn = 1 if steps[0] > 0 else -1
    at = int(np.flatnonzero(steps * turn <= 0)[0]) + 1
    raise BadInput(
        f"The axis in the {where} does not {'rise' if turn > 0 else 'fall'} from {told[at - 1]} to"
        f" {told[at]}: one of the two is mistyped.",
        FIELD,
    )


def _straight(rows: list[list[str]], width: int = 0, before: int = 0) -> list[list[str]]:
    wide = width or len(rows[0])
    for number, row in enumerate(rows, 1 + before):
        if len(row) != wide:
            raise BadInput(f"Line {number} has {len(row)} cells, the others {wide}.", FIELD)
    return rows


def _figure(cell: str, line: int, place: int, where: str = "") -> float:
    figure = one_figure(cell)
    if figure is None:
        shown = f"“{cell[:20]}” is no figure" if cell else "it is empty"
        raise BadInput(f"Line {line}, cell {place}{where}: {shown}.", FIELD)
    return figure


def turned(pasted: Pasted, kind: TableKind) -> bool:
    """Whether speed seems to run down: the axis with the larger figures is speed, where one of them is."""
    if kind.rows is None or kind.columns.unit != "rpm":
        return False
    return bool(pasted.table.y[-1] > pasted.table.x[-1])


def as_ours(
    pasted: Pasted, kind: TableKind, *, turn: bool, factors: Mapping[str, float]
) -> tuple[Table2D, dict[str, Any]]:
    """The table in our orientation and units, and the row of `shapes` that puts it back.

    Parameters
    ----------
    factors : mapping
        ``value``, ``column``, ``row``: its figure for one of ours.

    Raises
    ------
    BadInput
        If a figure lies outside what such a table can hold: said with the cell, and that its unit or its kind
        may be another.
    """
    table = pasted.table
    if turn:
        table = Table2D(table.y, table.x, table.values.T)
    by = {name: factors.get(name, 1.0) for name in ("value", "column", "row")}
    table = Table2D(table.x / by["column"], table.y / by["row"], table.values / by["value"])
    _within(table, kind)
    shape = {
        "turned": turn,
        "decimal": pasted.decimal,
        "between": pasted.between,
        "factor": by["value"],
        "digits": float(pasted.digits),
        "bare": pasted.bare,
        "falls_x": pasted.falls_x,
        "falls_y": pasted.falls_y,
        "corner": pasted.corner,
        "x_text": "\t".join(pasted.x_text),
        "y_text": "\t".join(pasted.y_text),
    }
    return table, shape


def _within(table: Table2D, kind: TableKind) -> None:
    axes = [("columns", table.x, kind.columns)] + ([("rows", table.y, kind.rows)] if kind.rows else [])
    for label, axis, about in axes:
        for point in axis:
            if not about.low <= point <= about.high:
                raise BadInput(
                    f"{kind.text}: {point:g} {about.unit} in its {label} ({about.text}) lies outside"
                    f" {about.low:g}–{about.high:g}. Is it turned, or in another unit?",
                    FIELD,
                )
    bad = np.argwhere(~((table.values >= kind.low) & (table.values <= kind.high)))
    if len(bad):
        i, j = bad[0]
        raise BadInput(
            f"{kind.text} at {table.x[j]:g}, {table.y[i]:g} is {table.values[i, j]:g} {kind.unit}, and lies"
            f" between {kind.low:g} and {kind.high:g}. Is that one cell mistyped, or the unit another?",
            FIELD,
        )


def write_table(table: Table2D, shape: Row) -> str:
    """The table as text as it came: orientation, unit, marks, its axes as they were written."""
    values = table.values.T if shape["turned"] else table.values
    values = values[:, ::-1] if shape["falls_x"] else values
    values = values[::-1] if shape["falls_y"] else values
    mark = MARKS[str(shape["between"])]
    x_text, y_text = str(shape["x_text"]).split("\t"), str(shape["y_text"]).split("\t")
    head = [*([] if shape["bare"] else [str(shape.get("corner", ""))]), *x_text]
    lines = [head]
    curve = len(y_text) == 1 and y_text[0] == "0"
    for name, row in zip(y_text, values, strict=True):
        lines.append([*([] if curve else [name]), *(_told(float(value), shape) for value in row)])
    return "\n".join(mark.join(line) for line in lines) + "\n"


def _told(value: float, shape: Row) -> str:
    text = f"{value * float(shape['factor']):.{int(float(shape['digits']))}f}"
    return text.replace(".", ",") if shape["decimal"] == "," else text


def with_shape(rows: tuple[Row, ...], name: str, shape: Mapping[str, Any]) -> tuple[Row, ...]:
    """The shapes with one table's put in, or in place of what stood."""
    return (*(row for row in rows if row["table"] != name), {"table": name, **shape})
