"""A table's surface by its height lines."""

from __future__ import annotations

from dataclasses import dataclass

import contourpy
import numpy as np

from ..basics import Table2D

#: About so many lines; the step is a round figure.
LINES = 9


@dataclass(frozen=True)
class HeightLine:
    """One line of equal value, as points (x, y) on the axes."""

    value: float
    points: tuple[tuple[float, float], ...]


def height_lines(table: Table2D, lines: int = LINES) -> list[HeightLine]:
    """Lines of equal value over a table, at round figures; none for a flat or one-row table."""
    rows, columns = table.values.shape
    low, high = float(table.values.min()), float(table.values.max())
    if rows < 2 or columns < 2 or high - low < 1e-9:
        return []
    step = _round((high - low) / lines)
    found = []
    made = contourpy.contour_generator(table.x, table.y, table.values)
    for value in np.arange(np.ceil(low / step) * step, high, step):
        for line in made.lines(float(value)):
            points = tuple((round(float(x), 3), round(float(y), 3)) for x, y in np.asarray(line))
            found.append(HeightLine(round(float(value), 9), points))
    return found


def _round(step: float) -> float:
    """The next of 1, 2, 5 × 10ⁿ at or above a step."""
    ten = 10.0 ** np.floor(np.log10(step))
    return float(next(ten * n for n in (1, 2, 5, 10) if ten * n >= step * (1 - 1e-9)))
