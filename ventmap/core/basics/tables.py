"""Curves and tables between whose points values run straight."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .errors import BadInput

Floats = NDArray[np.float64]


def _axis(name: str, points: ArrayLike) -> Floats:
    axis = np.asarray(points, dtype=float)
    if axis.ndim != 1 or len(axis) < 1 or not np.all(np.isfinite(axis)):
        raise BadInput(f"The {name} axis must be a row of numbers.", name)
    if np.any(np.diff(axis) <= 0):
        raise BadInput(f"The {name} axis must rise from point to point.", name)
    return axis


def _bracket(axis: Floats, at: Floats) -> tuple[NDArray[np.intp], Floats]:
    """Index of the lower neighbour and fraction towards the upper; the ends hold."""
    if len(axis) == 1:
        return np.zeros(at.shape, dtype=np.intp), np.zeros(at.shape)
    lower = np.clip(np.searchsorted(axis, at, side="right") - 1, 0, len(axis) - 2)
    fraction = np.clip((at - axis[lower]) / (axis[lower + 1] - axis[lower]), 0.0, 1.0)
    return lower, fraction


@dataclass(frozen=True)
class Curve:
    """Values along one axis; straight between points, held beyond the ends."""

    x: Floats
    values: Floats

    def __init__(self, x: ArrayLike, values: ArrayLike) -> None:
        object.__setattr__(self, "x", _axis("x", x))
        object.__setattr__(self, "values", np.asarray(values, dtype=float))
        if self.values.shape != self.x.shape:
            raise BadInput("A curve needs one value for each point of its axis.", "values")

    def at(self, x: float) -> float:
        return float(np.interp(x, self.x, self.values))


@dataclass(frozen=True)
class Weights:
    """Shares of the four surrounding cells: ``row``, ``column`` and ``share`` have shape (4, n)."""

    row: NDArray[np.intp]
    column: NDArray[np.intp]
    share: Floats


@dataclass(frozen=True)
class Table2D:
    """A map: ``values[row, column]`` at ``y[row]``, ``x[column]``; bilinear, held beyond the edges.

    Parameters
    ----------
    x : array_like, shape (n,)
        Columns, rising (engine speed, for most maps).
    y : array_like, shape (m,)
        Rows, rising (load).
    values : array_like, shape (m, n)
    """

    x: Floats
    y: Floats
    values: Floats

    def __init__(self, x: ArrayLike, y: ArrayLike, values: ArrayLike) -> None:
        object.__setattr__(self, "x", _axis("x", x))
        object.__setattr__(self, "y", _axis("y", y))
        object.__setattr__(self, "values", np.asarray(values, dtype=float))
        if self.values.shape != (len(self.y), len(self.x)):
            raise BadInput(
                f"The table has {self.values.shape} values; its axes ask for {len(self.y)} rows by"
                f" {len(self.x)} columns.",
                "values",
            )

    def weights(self, x: ArrayLike, y: ArrayLike) -> Weights:
        """Which four cells each point (x, y) draws on, and by what share (shares sum to 1)."""
        xs, ys = np.atleast_1d(np.asarray(x, float)), np.atleast_1d(np.asarray(y, float))
        column, across = _bracket(self.x, xs)
        row, up = _bracket(self.y, ys)
        next_column = np.minimum(column + 1, len(self.x) - 1)
        next_row = np.minimum(row + 1, len(self.y) - 1)
        return Weights(
            np.stack([row, row, next_row, next_row]),
            np.stack([column, next_column, column, next_column]),
            np.stack([(1 - up) * (1 - across), (1 - up) * across, up * (1 - across), up * across]),
        )

    def at(self, x: ArrayLike, y: ArrayLike) -> Floats:
        """Values at points, shape (n,)."""
        weights = self.weights(x, y)
        return np.asarray((self.values[weights.row, weights.column] * weights.share).sum(axis=0), dtype=float)

    def one(self, x: float, y: float) -> float:
        """Value at one point."""
        return float(self.at(x, y)[0])

    def with_values(self, values: ArrayLike) -> Table2D:
        return Table2D(self.x, self.y, values)

    def rows(self) -> Sequence[Sequence[float]]:
        """Values as plain nested lists, for files."""
        return [[float(value) for value in row] for row in self.values]
