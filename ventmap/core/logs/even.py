"""A log brought to one even clock, so that a rule sees what the engine did and not how the logger wrote it.

Bursts of frames, several clocks in one file, jitter and gaps move when a sample is written, never what it
says. Rows that come evenly stay as they are.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .model import Log, Samples

#: Fastest clock that is made [1/s]: a pull asks for ten rows a second.
FASTEST_HZ = 50.0
#: Nothing was recorded for this long: no window reaches over it [s].
GAP_S = 2.0
#: A value is held this long, or for so many of its own steps where those are slower [s].
HELD_S, HELD_STEPS = 1.0, 3.0
#: Rows are even while nineteen in twenty steps lie within this of the usual one.
UNEVEN = 3.0
#: What counts by its most, not by its last: a single sample of knock is not lost between two rows.
BY_THEIR_MOST = ("knock", "duty")


def is_even(time_s: NDArray[np.float64]) -> bool:
    """Whether rows come one after the other at one rate.

    Examples
    --------
    >>> is_even(np.arange(0, 9, 0.1)), is_even(np.sort(np.concatenate([np.arange(0, 9, 0.1)] * 2)))
    (True, False)
    """
    steps = np.diff(time_s)
    if len(steps) < 3:
        return True
    usual = float(np.median(steps))
    if usual <= 0.0:
        return False
    near = (steps >= usual / UNEVEN) & (steps <= usual * UNEVEN)
    return bool(near.mean() >= 0.95)


def even(log: Log) -> Log:
    """The log on an even clock; itself where its rows come evenly.

    Notes
    -----
    Each channel is held from sample to sample as a logger's own screen would, no longer than `HELD_S` or
    three of
    its own steps; then it is blank, not old. Rows in a gap are left out, and a gap parts recordings.
    """
    if len(log) < 4 or is_even(log.time_s):
        return log
    rates = {name: log.rate_of(name) for name in log.channels if np.isfinite(log.channels[name]).any()}
    rate = min(FASTEST_HZ, max(rates.values(), default=0.0))
    if rate <= 0.0:
        return log
    time_s = _clock(log.time_s, rate)
    channels = {
        name: _held(log.time_s, log.channels[name], time_s, rates.get(name, 0.0), name)
        for name in log.channels
    }
    steps = np.diff(time_s)
    gaps = np.flatnonzero(steps > GAP_S) + 1
    resets = np.searchsorted(time_s, log.time_s[list(log.breaks)]) if log.breaks else ()
    return Log(
        time_s,
        channels,
        columns=log.columns,
        notes=log.notes,
        reads=log.reads,
        clock=log.clock,
        source=log.source,
        breaks=tuple(sorted({*gaps.tolist(), *(int(row) for row in resets)})),
        name=log.name,
    )


def _clock(time_s: NDArray[np.float64], rate: float) -> NDArray[np.float64]:
    """Even times over everything that was recorded, none in a gap."""
    grid = np.arange(time_s[0], time_s[-1] + 0.5 / rate, 1.0 / rate)
    last = np.searchsorted(time_s, grid + 1e-9, side="right") - 1
    return np.asarray(grid[grid - time_s[last] <= GAP_S])


def _held(
    time_s: NDArray[np.float64], values: Samples, at: NDArray[np.float64], rate: float, name: str
) -> Samples:
    there = np.flatnonzero(np.isfinite(values))
    if not len(there):
        return np.full(len(at), np.nan, np.float32)
    own, real = time_s[there], values[there]
    last = np.searchsorted(own, at + 1e-9, side="right") - 1
    held = np.asarray(real[np.maximum(last, 0)], np.float32).copy()
    if name in BY_THEIR_MOST:
        before = np.concatenate([[-1], last[:-1]])
        several = np.flatnonzero(last - before > 1)
        for row in several:
            held[row] = real[before[row] + 1 : last[row] + 1].max()
    old = at - own[np.maximum(last, 0)] > max(HELD_S, HELD_STEPS / rate if rate else HELD_S)
    held[(last < 0) | old] = np.nan
    return held
