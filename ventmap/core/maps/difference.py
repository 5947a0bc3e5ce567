"""Two maps value by value."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .calibration import DECIMALS, SCALARS, TABLES, Calibration


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
            changes.append(Change(name, old, new, SCALARS[name].unit if name in SCALARS else ""))
    for name in sorted(set(a.tables) | set(b.tables)):
        unit = TABLES[name].unit if name in TABLES else ""
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
    return changes
