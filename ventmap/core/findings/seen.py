"""Seen or not seen: whether a channel really shows what a rule asks, in the stretches that the rule judges.

A value that is held over from before, a channel that stands still while everything else moves, or that
lies at the end of what its sensor reads, shows nothing: the rule is then *not checkable*, by name.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..logs import Samples, Window, runs
from .view import Detector, View

#: Only channels with noise of their own: knock and duty rest at nought on a sound engine.
NOISY = ("lambda", "lambda_2", "map")
#: A stretch shorter than this tells nothing of its own [s].
LONG_S = 1.0
#: In work that lasts so long something must have been held still [s]; a gap so short parts no stretch [s].
STILL_S, BRIDGE_S = 3.0, 0.1
#: Real samples in a stretch, at least, and a second of it.
LEAST, LEAST_HZ = 2, 1.0
#: Of successive samples so many differ where a channel is alive, and hardly any where it stands.
ALIVE, STANDS = 0.5, 0.1
#: Exactly one value for this long and for so many samples is an end of a range.
FLAT_S, FLAT_SAMPLES = 1.0, 8


def not_seen(view: View, detector: Detector) -> str:
    """Why these channels show nothing in the windows `where`; empty where they do.

    Parameters
    ----------
    view : View
    detector : Detector
        The windows that it judges, what must be seen there, and for how long.
    """
    where = detector.where
    windows = view.of(where) if where else []
    if where and not windows:
        return f"{where} (none was driven)"
    for choice in detector.sees:
        logged = [name for name in choice if name in view.raw.channels]
        reasons = {name: why for name in logged if (why := _in_windows(view, name, windows))}
        if reasons and len(reasons) == len(logged):
            return "; ".join(f"{name} ({why})" for name, why in reasons.items())
    return _not_held(view, detector, windows)


def _not_held(view: View, detector: Detector, windows: list[Window]) -> str:
    """Why nothing of these windows was long and steady enough to be judged; empty where something was."""
    if detector.judges is None:
        return ""
    rows, shortest_s = detector.judges(view)
    if not runs(rows, view.time, shortest_s, BRIDGE_S):
        return f"{detector.where} (never held still for {shortest_s:g} s)"
    for window in windows:
        judged = rows[window.start : window.stop] | view.cut_rows[window.start : window.stop]
        if window.to_s - window.from_s >= STILL_S and not judged.any():
            return f"{detector.where} (nothing held still at {window.from_s:.0f} s)"
    return ""


def _in_windows(view: View, name: str, windows: list[Window]) -> str:
    time_s, values = view.raw.time_s, view.raw.channels[name]
    real = np.isfinite(values)
    own, there = time_s[real], values[real]
    inside = np.zeros(len(own), bool)
    spans = []
    for window in windows:
        first, last = np.searchsorted(own, [window.from_s - 1e-6, window.to_s + 1e-6])
        inside[first:last] = True
        seconds = window.to_s - window.from_s
        if seconds >= LONG_S:
            if last - first < max(LEAST, LEAST_HZ * seconds):
                return f"blank under load at {window.from_s:.0f} s"
            spans.append((int(first), int(last)))
    if name not in NOISY or not spans:
        return ""
    if _moves(there[~inside]) > ALIVE:
        # How many samples differ from the one before, from the first on: a stretch asks by its two ends.
        moved = np.concatenate([[0], np.cumsum(np.diff(there) != 0)])
        level = _level(own, there)
        for first, last in spans:
            if last - first >= 5 and (moved[last - 1] - moved[first]) / (last - first - 1) < STANDS:
                return f"stands still under load at {own[first]:.0f} s"
            if (at := _flat(own, there, level, first, last)) is not None:
                return f"at the end of its range at {at:.0f} s"
    return "moves with nothing but its own noise" if name.startswith("lambda") and _dead(view, name) else ""


def _moves(values: Samples) -> float:
    """Share of successive samples that differ; nought of too few."""
    return float((np.diff(values) != 0).mean()) if len(values) >= 5 else 0.0


def _level(own: NDArray[np.float64], values: Samples) -> NDArray[np.int64]:
    """Runs (first, last) of one exact value, long enough to be an end of a range, shape (n, 2)."""
    edges = np.concatenate([[0], np.flatnonzero(np.diff(values) != 0) + 1, [len(values)]])
    first, last = edges[:-1], edges[1:]
    long_ = (last - first >= FLAT_SAMPLES) & (own[last - 1] - own[first] >= FLAT_S)
    return np.stack([first[long_], last[long_]], axis=1)


def _flat(
    own: NDArray[np.float64], values: Samples, level: NDArray[np.int64], start: int, stop: int
) -> float | None:
    """When a value that is the highest or lowest of a stretch is read for long without any noise [s]."""
    inside = level[(level[:, 1] > start) & (level[:, 0] < stop)]
    ends = (values[start:stop].max(), values[start:stop].min()) if len(inside) else ()
    for end in ends:
        for first, last in inside:
            first, last = max(int(first), start), min(int(last), stop)
            long_ = last - first >= FLAT_SAMPLES and own[last - 1] - own[first] >= FLAT_S
            if long_ and values[first] == end:
                return float(own[first])
    return None


def _dead(view: View, name: str) -> bool:
    """A mixture whose every second reads the same but for noise, while fuel was cut and load was driven."""
    cuts = [window for window in view.of("overrun") if window.to_s - window.from_s >= 1.5]
    if not cuts or not view.has("pulse"):
        return False
    cut = view.mask("overrun") & (view["pulse"] < 0.05)
    if cut.sum() < view.rows(1.0):
        return False
    values, rows = view[name][view.running], view.rows(1.0)
    if rows < 3 or len(values) < 20 * rows:
        return False
    blocks = values[: len(values) // rows * rows].reshape(-1, rows)
    # The mean of so many samples of pure noise scatters by its square root less.
    return float(blocks.mean(axis=1).std()) < 2.0 * float(blocks.std(axis=1).mean()) / np.sqrt(rows) + 1e-6
