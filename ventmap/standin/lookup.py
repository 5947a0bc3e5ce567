"""Scalar table look-up for the engine's inner loop, where an array library would cost more than the sum."""

from __future__ import annotations

from bisect import bisect_right

from ventmap.core.basics import Curve, Table2D


class Lookup:
    """Bilinear look-up of one point at a time, equal to `Table2D.one`."""

    __slots__ = ("columns", "last_i", "last_j", "rows", "values")

    def __init__(self, table: Table2D) -> None:
        self.columns = [float(v) for v in table.x]
        self.rows = [float(v) for v in table.y]
        self.values = [[float(v) for v in row] for row in table.values]
        self.last_i = self.last_j = 0

    def __call__(self, x: float, y: float) -> float:
        j, across = _place(self.columns, x, self.last_j)
        i, up = _place(self.rows, y, self.last_i)
        self.last_i, self.last_j = i, j
        values = self.values
        low, high = values[i], values[i + 1] if i + 1 < len(values) else values[i]
        k = j + 1 if j + 1 < len(low) else j
        bottom = low[j] + (low[k] - low[j]) * across
        return bottom + (high[j] + (high[k] - high[j]) * across - bottom) * up


class Line:
    """Look-up along one axis, held beyond its ends: equal to `Curve.at`."""

    __slots__ = ("last", "values", "x")

    def __init__(self, curve: Curve) -> None:
        self.x = [float(v) for v in curve.x]
        self.values = [float(v) for v in curve.values]
        self.last = 0

    def at(self, x: float) -> float:
        j, across = _place(self.x, x, self.last)
        self.last = j
        if len(self.values) == 1:
            return self.values[0]
        return self.values[j] + (self.values[j + 1] - self.values[j]) * across


def _place(axis: list[float], at: float, last: int) -> tuple[int, float]:
    """Cell and share of the way across it; an engine moves slowly, so `last` is tried first."""
    if last + 1 < len(axis) and axis[last] < at < axis[last + 1]:
        return last, (at - axis[last]) / (axis[last + 1] - axis[last])
    if len(axis) == 1 or at <= axis[0]:
        return 0, 0.0
    if at >= axis[-1]:
        return len(axis) - 2, 1.0
    lower = bisect_right(axis, at) - 1
    return lower, (at - axis[lower]) / (axis[lower + 1] - axis[lower])
