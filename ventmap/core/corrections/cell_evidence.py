"""What samples say about the cells of a map."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import Floats, Table2D

#: Effective samples from which a cell carries 1, 2, 3 and 4 ticks.
TICKS = (10.0, 25.0, 60.0, 120.0)


@dataclass(frozen=True)
class CellEvidence:
    """By cell: weighted median of the error, effective samples, spread, share of the time, ticks 0–4."""

    error: Floats
    samples: Floats
    spread: Floats
    time_share: Floats
    ticks: NDArray[np.int_]


def weighted_quantiles(values: Floats, weights: Floats, shares: tuple[float, ...]) -> list[float]:
    """Quantiles of weighted values; each sample stands for the middle of its weight."""
    order = np.argsort(values)
    ranked, weight = values[order], weights[order]
    at = (np.cumsum(weight) - 0.5 * weight) / weight.sum()
    return [float(np.interp(share, at, ranked)) for share in shares]


def gather(table: Table2D, x: Floats, y: Floats, error: Floats) -> CellEvidence:
    """Spread each sample over its four cells by bilinear weight and summarise each cell."""
    weights = table.weights(x, y)
    shape = table.values.shape
    cell = (weights.row * shape[1] + weights.column).ravel()
    share = weights.share.ravel()
    values = np.tile(error, 4)
    keep = share > 0.05
    cell, share, values = cell[keep], share[keep], values[keep]
    order = np.argsort(cell, kind="stable")
    cell, share, values = cell[order], share[order], values[order]
    size = shape[0] * shape[1]
    middle, spread = np.full(size, np.nan), np.full(size, np.nan)
    samples, time = np.zeros(size), np.zeros(size)
    edges = np.searchsorted(cell, np.arange(size + 1))
    for index in range(size):
        rows = slice(edges[index], edges[index + 1])
        if edges[index] == edges[index + 1]:
            continue
        w = share[rows]
        samples[index] = time[index] = w.sum()
        # Near samples speak louder than those that barely touch the cell.
        low, median, high = weighted_quantiles(values[rows], w**2, (0.16, 0.5, 0.84))
        middle[index], spread[index] = median, (high - low) / 2
    ticks = np.digitize(samples, TICKS)
    total = time.sum()
    return CellEvidence(
        middle.reshape(shape),
        samples.reshape(shape),
        spread=spread.reshape(shape),
        time_share=(time / total if total else time).reshape(shape),
        ticks=ticks.reshape(shape),
    )


def between(known: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Unknown cells that lie between known ones in their row or column."""
    inside = np.zeros(known.shape, bool)
    for axis in (0, 1):
        before = np.maximum.accumulate(known, axis=axis)
        after = np.flip(np.maximum.accumulate(np.flip(known, axis), axis=axis), axis)
        inside |= before & after
    return inside & ~known
