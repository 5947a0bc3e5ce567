"""A map while it is edited: its base, and what each edit did to which places."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..basics import Table2D
from .calibration import Calibration, Row

SCALARS = "scalars"
LIST = "list:"


@dataclass(frozen=True)
class Edit:
    """What one edit did.

    Parameters
    ----------
    target : str
        A table's name, ``scalars``, or ``list:`` with a list's name.
    cells : sequence
        Of a table ``[row, column, old, new]``; of scalars ``[name, old, new]``; of a list ``[key, part, old,
        new]``, where an empty part is the whole row. None is *not there*. A table that came whole is one
        ``["", "", old, new]``.
    """

    target: str
    cells: Sequence[Sequence[Any]]

    @property
    def places(self) -> set[tuple[Any, ...]]:
        """What it touched."""
        return {(self.target, *cell[:-2]) for cell in self.cells}


def applied(calibration: Calibration, edits: Iterable[Edit]) -> Calibration:
    """The map after edits, in their order."""
    for edit in edits:
        if edit.target == SCALARS:
            scalars = dict(calibration.scalars)
            for name, _, new in edit.cells:
                scalars.pop(name, None)
                if new is not None:
                    scalars[name] = float(new)
            calibration = replace(calibration, scalars=scalars)
        elif edit.target.startswith(LIST):
            name = edit.target.removeprefix(LIST)
            calibration = calibration.with_list(name, _rows(calibration, name, edit.cells))
        else:
            calibration = _table(calibration, edit)
    return calibration


def placeable(calibration: Calibration, edit: Edit) -> bool:
    """Whether a map has a place for an edit that was made on another version."""
    if edit.target == SCALARS:
        return all(name in calibration.kind.scalars for name, *_ in edit.cells)
    if edit.target.startswith(LIST):
        return edit.target.removeprefix(LIST) in calibration.kind.lists
    if calibration.table_kind(edit.target) is None:
        return False
    if any(cell[0] == "" for cell in edit.cells):
        return True
    table = calibration.tables.get(edit.target)
    rows, columns = table.values.shape if table is not None else (0, 0)
    return all(row < rows and column < columns for row, column, *_ in edit.cells)


def _table(calibration: Calibration, edit: Edit) -> Calibration:
    whole = next((cell for cell in edit.cells if cell[0] == ""), None)
    if whole is not None:
        tables = dict(calibration.tables)
        tables.pop(edit.target, None)
        if whole[3] is not None:
            tables[edit.target] = Table2D(whole[3]["x"], whole[3]["y"], whole[3]["values"])
        return replace(calibration, tables=tables)
    table = calibration.tables[edit.target]
    values = table.values.copy()
    for row, column, _, new in edit.cells:
        values[row, column] = new
    return calibration.with_table(edit.target, table.with_values(values))


def _rows(calibration: Calibration, name: str, cells: Sequence[Sequence[Any]]) -> list[Row]:
    key = calibration.kind.lists[name].key
    rows: list[dict[str, Any]] = [dict(row) for row in calibration.lists.get(name, ())]
    for place, part, _, new in cells:
        at = next((n for n, row in enumerate(rows) if str(row.get(key)) == str(place)), None)
        if part == "":
            if at is not None:
                rows.pop(at)
            if new is not None:
                rows.insert(len(rows) if at is None else at, dict(new))
        elif at is not None:
            rows[at].pop(part, None)
            if new is not None:
                rows[at][part] = new
    return list(rows)


def table_cells(before: Table2D | None, after: Table2D | None) -> list[list[Any]]:
    """The cells that differ; the whole table where its axes differ, or where one of the two is not there."""
    if (
        before is None
        or after is None
        or before.values.shape != after.values.shape
        or not (np.array_equal(before.x, after.x) and np.array_equal(before.y, after.y))
    ):
        return [["", "", _plain(before), _plain(after)]]
    changed = np.argwhere(before.values != after.values)
    return [[int(i), int(j), float(before.values[i, j]), float(after.values[i, j])] for i, j in changed]


def _plain(table: Table2D | None) -> dict[str, Any] | None:
    if table is None:
        return None
    return {"x": table.x.tolist(), "y": table.y.tolist(), "values": table.values.tolist()}
