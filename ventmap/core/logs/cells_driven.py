"""One channel of a log over another, and where the engine was driven."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..basics import LogError
from .even import GAP_S, even
from .model import Log, Samples


@dataclass(frozen=True)
class Driven:
    """Where the engine was driven: seconds in each cell, and the mean of a channel there (NaN: nowhere)."""

    x_edges: Samples
    y_edges: Samples
    seconds: Samples
    mean: Samples | None


def cloud(log: Log, names: Sequence[str]) -> tuple[Samples, Samples]:
    """Times [s] and values, a row each where every one of the channels is known, in the order driven."""
    missing = [name for name in names if name not in log.channels]
    if missing:
        raise LogError(f"This log has no {missing[0].replace('_', ' ')}.", "channels")
    whole = even(log)
    values = np.stack([np.asarray(whole.channels[name], dtype=float) for name in names])
    known = np.isfinite(values).all(axis=0)
    return whole.time_s[known], values[:, known]


def driven(log: Log, x: str, y: str, of: str = "", cells: int = 14) -> Driven:
    """Seconds, and the mean of a channel by time, in cells of one channel over another.

    Raises
    ------
    LogError
        If a channel is missing, or never stands with the others.
    """
    time_s, values = cloud(log, [x, y, *([of] if of else [])])
    if len(time_s) < 2:
        raise LogError("These channels never have values at one time: nothing can be placed.", "channels")
    lasts = np.minimum(np.diff(time_s, append=time_s[-1]), GAP_S)
    x_edges, y_edges = (_edges(values[n], cells) for n in (0, 1))
    where = [
        np.clip(np.digitize(values[n], edges) - 1, 0, len(edges) - 2)
        for n, edges in enumerate((x_edges, y_edges))
    ]
    shape = (len(y_edges) - 1, len(x_edges) - 1)
    seconds, sums = np.zeros(shape), np.zeros(shape)
    np.add.at(seconds, (where[1], where[0]), lasts)
    if not of:
        return Driven(x_edges, y_edges, seconds, None)
    np.add.at(sums, (where[1], where[0]), lasts * values[2])
    with np.errstate(divide="ignore", invalid="ignore"):
        return Driven(x_edges, y_edges, seconds, np.where(seconds > 0, sums / seconds, np.nan))


def _edges(values: Samples, cells: int) -> Samples:
    """Round edges around all values, at most so many cells."""
    low, high = float(values.min()), float(values.max())
    rough = max(high - low, 1e-6) / cells
    size = 10.0 ** np.floor(np.log10(rough))
    step = next(size * times for times in (1.0, 2.0, 2.5, 5.0, 10.0) if size * times >= rough)
    first = np.floor(low / step) * step
    count = int(np.floor((high - first) / step)) + 1
    return first + step * np.arange(count + 1)
