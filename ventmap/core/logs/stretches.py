"""Stretches of logs: what lies between two moments, and stretches laid over each other."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from ..basics import LogError
from .channels import CHANNELS
from .model import Samples

Along = Literal["rpm", "time", "distance"]
Side = Literal["before", "after"]
#: What must be in a stretch so that it can lie along this.
NEEDS: dict[Along, str] = {"rpm": "rpm", "time": "", "distance": "speed"}
#: A stretch that reaches over so much of what is compared counts as a whole one.
WHOLE = 0.8
#: Share of true nulls whose interval leaves out nought is one less this, as for runs of a drum.
SURE = 0.98
GRID = 200
#: What was said longer ago tells nothing of a moment [s].
HELD_S = 15.0


@dataclass(frozen=True)
class Between:
    """What a channel did between two moments, by its own samples; scatter is the standard deviation."""

    name: str
    samples: int
    first: float
    last: float
    least: float
    mean: float
    most: float
    scatter: float | None


def between(
    time_s: NDArray[np.float64], channels: Mapping[str, Samples], from_s: float, to_s: float
) -> list[Between]:
    """Figures of each channel from one moment to another, both with it; blanks are no samples.

    Raises
    ------
    LogError
        If no channel has a sample there.

    Examples
    --------
    >>> told = between(np.arange(5.0), {"iat": np.array([20.0, 21.0, np.nan, 24.0, 90.0])}, 0.0, 3.0)[0]
    >>> told.samples, told.least, told.most, round(told.mean, 2), told.last
    (3, 20.0, 24.0, 21.67, 24.0)
    """
    low, high = min(from_s, to_s), max(from_s, to_s)
    here = (time_s >= low) & (time_s <= high)
    found = []
    for name, values in channels.items():
        own = np.asarray(values, dtype=float)[here]
        own = own[np.isfinite(own)]
        if not len(own):
            continue
        found.append(
            Between(
                name,
                samples=len(own),
                first=float(own[0]),
                last=float(own[-1]),
                least=float(own.min()),
                mean=float(own.mean()),
                most=float(own.max()),
                scatter=float(own.std(ddof=1)) if len(own) > 1 else None,
            )
        )
    if not found:
        raise LogError("There is no sample between these two moments. Set them further apart.", "from")
    return found


def held(time_s: Samples, values: Samples, at_s: float) -> float | None:
    """What a channel last said at a moment; None where that is older than `HELD_S`.

    Examples
    --------
    >>> at = np.array([0.0, 8.0, 50.0])
    >>> held(at, np.array([80.0, np.nan, 90.0]), 9.0), held(at, np.array([80.0, np.nan, 90.0]), 40.0)
    (80.0, None)
    """
    known = np.isfinite(values) & (time_s <= at_s) & (time_s >= at_s - HELD_S)
    return float(values[known][-1]) if known.any() else None


@dataclass(frozen=True)
class Stretch:
    """A part of a log, on one side of a comparison."""

    side: Side
    time_s: NDArray[np.float64]
    channels: Mapping[str, Samples]


@dataclass(frozen=True)
class LaidOver:
    """A channel of several stretches over one axis.

    Parameters
    ----------
    lines : tuple of (x, y)
        One a stretch, in their order; empty where a stretch has not this channel.
    x, difference, scatter : array
        *After* less *before* where both sides reach, and how far stretches of one side lie apart there
        (pooled standard deviation; NaN where no side has two).
    mean, within : float or None
        Difference of the sides' means over what they share, and half of its 98 % interval.
    sentence : str
        What may be said of it.
    """

    lines: tuple[tuple[Samples, Samples], ...]
    x: Samples
    difference: Samples
    scatter: Samples
    mean: float | None
    within: float | None
    sentence: str


def axis(stretch: Stretch, along: Along) -> Samples:
    """Where each row of a stretch lies [rpm, s or m]; NaN where it does not.

    Notes
    -----
    Along engine speed a row counts only where the engine is faster than it has been: a pull, not its shifts.
    """
    since = stretch.time_s - stretch.time_s[0]
    if along == "time":
        return since
    name = NEEDS[along]
    if name not in stretch.channels:
        raise LogError(f"This log has no {CHANNELS[name].label.lower()}: choose another axis.", "along")
    values = np.asarray(stretch.channels[name], dtype=float)
    known = np.isfinite(values)
    if along == "distance":
        if known.sum() < 2:
            return np.full(len(values), np.nan)
        speed = np.interp(since, since[known], values[known]) / 3.6
        steps = 0.5 * (speed[1:] + speed[:-1]) * np.diff(since)
        return np.concatenate([[0.0], np.cumsum(steps)])
    best = np.maximum.accumulate(np.where(known, values, -np.inf))
    before = np.concatenate([[-np.inf], best[:-1]])
    return np.where(known & (values > before), values, np.nan)


def laid_over(stretches: Sequence[Stretch], name: str, along: Along) -> LaidOver:
    """One channel of several stretches over engine speed [rpm], time from their start [s] or distance [m].

    Notes
    -----
    Samples along a pull hang together, so a pull is one observation: its mean over what both sides reach. The
    interval is Student's, of two groups with one variance.
    """
    lines = tuple(_line(stretch, name, along) for stretch in stretches)
    sides = {
        side: [
            line for line, one in zip(lines, stretches, strict=True) if one.side == side and len(line[0]) > 1
        ]
        for side in ("before", "after")
    }
    none = np.array([])
    if not sides["before"] or not sides["after"]:
        return LaidOver(lines, none, none, none, None, None, "Put a stretch with this channel on each side.")
    low = max(min(x[0] for x, _ in side) for side in sides.values())
    high = min(max(x[-1] for x, _ in side) for side in sides.values())
    if high <= low:
        return LaidOver(lines, none, none, none, None, None, "The two sides share nothing of this axis.")
    grid = np.linspace(low, high, GRID)
    values = {side: np.array([_on(grid, line) for line in of_it]) for side, of_it in sides.items()}
    counts = {side: np.isfinite(of_it).sum(axis=0) for side, of_it in values.items()}
    both = (counts["before"] > 0) & (counts["after"] > 0)
    grid, values = grid[both], {side: of_it[:, both] for side, of_it in values.items()}
    difference = np.nanmean(values["after"], axis=0) - np.nanmean(values["before"], axis=0)
    mean, within, sentence = _said(values, len(grid))
    return LaidOver(lines, grid, difference, _scatter(values), mean, within, sentence)


def _line(stretch: Stretch, name: str, along: Along) -> tuple[Samples, Samples]:
    x = axis(stretch, along)
    if name not in stretch.channels:
        return np.array([]), np.array([])
    y = np.asarray(stretch.channels[name], dtype=float)
    known = np.isfinite(x) & np.isfinite(y)
    if along == "rpm" and known.sum() < 2 <= np.isfinite(y).sum():
        # Each channel on a clock of its own: it is looked up where the engine speed was read.
        at, own = stretch.time_s, np.isfinite(y)
        y = np.interp(at, at[own], y[own])
        known = np.isfinite(x)
    return x[known], y[known]


def _on(grid: Samples, line: tuple[Samples, Samples]) -> Samples:
    x, y = line
    keep = np.concatenate([[True], np.diff(x) > 0])
    return np.interp(grid, x[keep], y[keep], left=np.nan, right=np.nan)


def _scatter(values: Mapping[str, Samples]) -> Samples:
    squares, degrees = 0.0, 0.0
    for of_it in values.values():
        counts = np.isfinite(of_it).sum(axis=0)
        squares = squares + np.nansum((of_it - np.nanmean(of_it, axis=0)) ** 2, axis=0)
        degrees = degrees + counts - 1
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(np.asarray(degrees) > 0, np.sqrt(squares / np.asarray(degrees)), np.nan)


def _said(values: Mapping[str, Samples], points: int) -> tuple[float | None, float | None, str]:
    """Difference of means, half its interval, and the words."""
    means = {
        side: [float(np.nanmean(row)) for row in of_it if np.isfinite(row).sum() >= WHOLE * points]
        for side, of_it in values.items()
    }
    before, after = means["before"], means["after"]
    if not before or not after:
        return None, None, "No stretch of one side reaches over what they share: read it at single places."
    mean = float(np.mean(after) - np.mean(before))
    degrees = len(before) + len(after) - 2
    if degrees < 1:
        return mean, None, "One a side: how far two of one kind lie apart is not known. Drive each again."
    squares = sum(float(np.var(one) * len(one)) for one in (before, after))
    error = np.sqrt(squares / degrees * (1 / len(before) + 1 / len(after)))
    within = float(stats.t.ppf(0.5 + SURE / 2, degrees) * error)
    if abs(mean) <= within:
        return mean, within, "Within the scatter of the stretches: no difference is shown."
    return mean, within, "Beyond the scatter of the stretches."


def parts_of(stretches: str) -> list[tuple[int, float, float, Side]]:
    """Stretches as an address names them: ``log:from:to:side`` parted by commas.

    Raises
    ------
    LogError

    Examples
    --------
    >>> parts_of("3:0.5:4:before,7:1:2:after")
    [(3, 0.5, 4.0, 'before'), (7, 1.0, 2.0, 'after')]
    """
    found: list[tuple[int, float, float, Side]] = []
    for text in filter(None, stretches.split(",")):
        try:
            log, from_s, to_s, side = text.split(":")
            start, end = float(from_s), float(to_s)
            if side not in ("before", "after") or not start < end or not np.isfinite([start, end]).all():
                raise ValueError
            found.append((int(log), start, end, "before" if side == "before" else "after"))
        except ValueError:
            raise LogError(
                "A stretch is a log, from, to [s] and a side, as in 3:0.5:4:before.", "stretches"
            ) from None
    return found
