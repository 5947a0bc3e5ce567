"""Two maps value by value."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..basics import Table2D
from .calibration import DECIMALS, Calibration
from .document import Value


@dataclass(frozen=True)
class Change:
    """One changed value: a scalar (`row` and `column` absent), a cell, or a place in a list (`key` is its
    row, `part` its column).
    """

    item: str
    old: Value | None
    new: Value | None
    unit: str
    x: float | None = None
    y: float | None = None
    row: int | None = None
    column: int | None = None
    key: str = ""
    part: str = ""


def diff(a: Calibration, b: Calibration) -> list[Change]:
    """Every value in which `b` differs from `a`, scalars first, then cell by cell.

    A table whose axes differ is one change without cells.
    """
    form = b.kind
    changes = []
    for name in sorted(set(a.scalars) | set(b.scalars)):
        old, new = a.scalars.get(name), b.scalars.get(name)
        if old is None or new is None or abs(old - new) > 10.0**-DECIMALS:
            changes.append(Change(name, old, new, form.scalars[name].unit if name in form.scalars else ""))
    for name in sorted(set(a.tables) | set(b.tables)):
        kind = b.table_kind(name)
        unit = kind.unit if kind else ""
        first, second = a.tables.get(name), b.tables.get(name)
        if (
            first is None
            or second is None
            or not (np.array_equal(first.x, second.x) and np.array_equal(first.y, second.y))
        ):
            changes.append(Change(name, None, None, unit))
            continue
        for i, j in np.argwhere(np.abs(first.values - second.values) > 10.0**-DECIMALS):
            changes.append(
                Change(
                    name,
                    float(first.values[i, j]),
                    float(second.values[i, j]),
                    unit,
                    float(first.x[j]),
                    float(first.y[i]),
                    int(i),
                    int(j),
                )
            )
    return changes + _lists(a, b)


def _lists(a: Calibration, b: Calibration) -> list[Change]:
    changes = []
    for name in sorted(set(a.lists) | set(b.lists)):
        kind = b.kind.lists.get(name)
        key = kind.key if kind else ""
        first = {str(row.get(key)): row for row in a.lists.get(name, ())}
        second = {str(row.get(key)): row for row in b.lists.get(name, ())}
        for row in [*first, *(row for row in second if row not in first)]:
            old, new = first.get(row, {}), second.get(row, {})
            for part in dict.fromkeys([*old, *new]):
                if old.get(part) != new.get(part):
                    unit = str(new.get("unit", old.get("unit", "")))
                    changes.append(Change(name, old.get(part), new.get(part), unit, key=row, part=part))
    return changes


def count_changes(a: Calibration, b: Calibration) -> int:
    """How many values `diff` would tell, without telling them."""
    least = 10.0**-DECIMALS
    count = len(_lists(a, b))
    for name in {*a.scalars, *b.scalars}:
        old, new = a.scalars.get(name), b.scalars.get(name)
        count += old is None or new is None or abs(old - new) > least
    for name in {*a.tables, *b.tables}:
        first, second = a.tables.get(name), b.tables.get(name)
        count += _cells_apart(first, second, least) if first is not None and second is not None else 1
    return count


def _cells_apart(first: Table2D, second: Table2D, least: float) -> int:
    if not (np.array_equal(first.x, second.x) and np.array_equal(first.y, second.y)):
        return 1
    return int((np.abs(first.values - second.values) > least).sum())
