"""What the engine was doing, stretch by stretch."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .model import Log

Mask = NDArray[np.bool_]
RUNNING_RPM = 400.0
STILL_RPM = 50.0
CLOSED_PEDAL = 2.5  # %
FULL_PEDAL = 90.0  # %
STANDING_KMH = 3.0
MOVING_KMH = 8.0
WARM_C = 60.0
PULL_RISE_RPM = 1500.0
PULL_RISE_SHARE = 0.25
#: On a belt the ratio moves and speed of the engine need not: held so near its top, for so long, it pulls.
HELD_SHARE = 0.8
HELD_S = 1.5
SHORTEST = {
    "key_on": 0.5,
    "crank": 0.2,
    "warm_up": 3.0,
    "idle": 2.0,
    "cruise": 2.0,
    "overrun": 0.6,
    "pull": 1.0,
}


@dataclass(frozen=True)
class Window:
    """A stretch of rows ``start`` up to ``stop``."""

    kind: str
    start: int
    stop: int
    from_s: float
    to_s: float


def runs(
    mask: Mask, time_s: NDArray[np.float64], shortest_s: float = 0.0, bridge_s: float = 0.0
) -> list[tuple[int, int]]:
    """Stretches (start, stop) in which `mask` holds, gaps up to `bridge_s` closed, shorter ones left out."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    starts, stops = edges[::2], edges[1::2]
    if not len(starts):
        return []
    if bridge_s and len(starts) > 1:
        apart = time_s[starts[1:]] - time_s[stops[:-1] - 1] > bridge_s
        starts, stops = starts[np.concatenate([[True], apart])], stops[np.concatenate([apart, [True]])]
    long_enough = time_s[stops - 1] - time_s[starts] >= shortest_s
    return [(int(a), int(b)) for a, b in zip(starts[long_enough], stops[long_enough], strict=True)]


def smooth(values: NDArray[np.floating], rows: int) -> NDArray[np.float64]:
    """Centred moving mean over an odd number of rows; the ends use what there is."""
    rows = max(1, rows | 1)
    if rows == 1 or len(values) < rows:
        return np.asarray(values, float)
    total = np.empty(len(values) + 1)
    total[0] = 0.0
    np.cumsum(values, dtype=float, out=total[1:])
    half, count = rows // 2, len(values)
    found = np.empty(count)
    found[half : count - half] = (total[rows:] - total[:-rows]) / rows
    # The ends use what there is.
    few = np.arange(half + 1, rows)
    found[:half] = total[half + 1 : rows] / few
    found[count - half :] = (total[count] - total[count - rows + 1 : count - half]) / few[::-1]
    return found


def closed_throttle(log: Log) -> Mask:
    """Foot off. By pedal, else by throttle near its own closed stop."""
    if log.has("pedal"):
        return np.asarray(log.filled("pedal") < CLOSED_PEDAL)
    if log.has("throttle"):
        throttle = log.filled("throttle")
        return np.asarray(throttle < np.nanpercentile(throttle, 5) + 3.0)
    return np.zeros(len(log), bool)


def full_pedal(log: Log) -> Mask:
    """Foot flat, by pedal, else by throttle."""
    for name in ("pedal", "throttle"):
        if log.has(name):
            return np.asarray(log.filled(name) >= FULL_PEDAL)
    return np.zeros(len(log), bool)


def find_windows(
    log: Log, cut_depth: float = 0.15, cut_back_s: float = 1.5, *, belt: bool = False
) -> list[Window]:
    """Key-on, crank, warm-up, idle, cruise, overrun, pull, shift and traction cut, in order of time.

    A dip of the share `cut_depth` under full pedal that comes back within `cut_back_s` [s] is a traction cut.
    `belt`: it drives through a belt: pedal and speed of the engine tell a pull, and nothing shifts.
    Needs engine speed; pedal or throttle for most kinds. What cannot be told is left out.
    """
    if not log.has("rpm") or len(log) < 3:
        return []
    rpm, time_s = log.filled("rpm"), log.time_s
    rate = max(log.rate_hz, 1e-6)
    closed = closed_throttle(log)
    speed = log.filled("speed") if log.has("speed") else None
    running = rpm >= RUNNING_RPM
    masks: dict[str, Mask] = {"key_on": rpm < STILL_RPM, "crank": (rpm >= STILL_RPM) & ~running}
    standing = speed < STANDING_KMH if speed is not None else np.ones(len(log), bool)
    at_rest = running & closed & standing
    usual = float(np.median(rpm[at_rest])) if at_rest.any() else 900.0
    smooth_rpm = smooth(rpm, int(rate * 0.6))
    # A blip of the throttle is not idle; a hunting or high idle is.
    idle = at_rest & (np.abs(smooth_rpm - usual) < max(350.0, 0.35 * usual))
    warmth = next((name for name in ("coolant", "head_temp", "oil_temp") if log.has(name)), "")
    cold = log.filled(warmth) < WARM_C if warmth else np.zeros(len(log), bool)
    masks["warm_up"], masks["idle"] = idle & cold, idle & ~cold
    moving = speed > MOVING_KMH if speed is not None else np.ones(len(log), bool)
    masks["overrun"] = running & closed & moving & (rpm > usual + 300.0)
    full = full_pedal(log)
    slope = np.abs(np.gradient(smooth_rpm, 1.0 / rate))
    masks["cruise"] = running & ~closed & ~full & moving & (slope < 350.0)
    found = []
    for kind, mask in masks.items():
        for start, stop in _split(runs(mask, time_s, SHORTEST[kind], 0.4), log.breaks):
            if time_s[stop - 1] - time_s[start] >= SHORTEST[kind]:
                found.append(Window(kind, start, stop, float(time_s[start]), float(time_s[stop - 1])))
    pulls, shifts = _held(log, full, smooth_rpm, 2 * usual) if belt else _pulls(log, full, smooth_rpm)
    found += pulls + shifts + _cuts(log, pulls, cut_depth, cut_back_s)
    return sorted(found, key=lambda window: (window.start, window.stop))


def _split(stretches: list[tuple[int, int]], breaks: tuple[int, ...]) -> list[tuple[int, int]]:
    """Stretches parted where the clock was reset: no window reaches over two recordings."""
    parted: list[tuple[int, int]] = []
    for start, stop in stretches:
        inside = breaks[bisect_right(breaks, start) : bisect_left(breaks, stop)]
        parted += zip((start, *inside), (*inside, stop), strict=True)
    return parted


def _pulls(log: Log, full: Mask, smooth_rpm: NDArray[np.float64]) -> tuple[list[Window], list[Window]]:
    time_s, rate = log.time_s, log.rate_hz
    top = float(np.percentile(smooth_rpm, 99.9))
    enough = min(PULL_RISE_RPM, PULL_RISE_SHARE * top)
    pulls, shifts = [], []
    for start, stop in _split(runs(full, time_s, SHORTEST["pull"], 0.3), log.breaks):
        parts, ends = _at_shifts(smooth_rpm[start:stop], rate)
        for a, b in parts:
            stretch = smooth_rpm[start + a : start + b]
            if len(stretch) > 2 and stretch.max() - stretch[0] >= enough:
                pulls.append(
                    Window(
                        "pull", start + a, start + b, float(time_s[start + a]), float(time_s[start + b - 1])
                    )
                )
        for a, b in ends:
            shifts.append(
                Window("shift", start + a, start + b, float(time_s[start + a]), float(time_s[start + b - 1]))
            )
    return pulls, shifts


def _held(
    log: Log, full: Mask, smooth_rpm: NDArray[np.float64], least_rpm: float
) -> tuple[list[Window], list[Window]]:
    """Full pedal on a belt: it rises as in a gear, or stays near its top."""
    time_s, top = log.time_s, float(np.percentile(smooth_rpm, 99.9))
    enough = min(PULL_RISE_RPM, PULL_RISE_SHARE * top)
    near_top = smooth_rpm >= max(HELD_SHARE * top, least_rpm)
    pulls = []
    for start, stop in _split(runs(full, time_s, SHORTEST["pull"], 0.3), log.breaks):
        stretch = smooth_rpm[start:stop]
        if len(stretch) < 3:
            continue
        held = runs(near_top[start:stop], time_s[start:stop], HELD_S, 0.3)
        if held or stretch.max() - stretch[0] >= enough:
            pulls.append(Window("pull", start, stop, float(time_s[start]), float(time_s[stop - 1])))
    return pulls, []


def _at_shifts(rpm: NDArray[np.float64], rate: float) -> tuple[list[tuple[int, int]], list[tuple[int, int]]]:
    """Split where engine speed falls by more than 12 % within 0.8 s: an upshift with the foot down."""
    back = max(1, int(0.8 * rate))
    if len(rpm) <= back:
        return [(0, len(rpm))], []
    fall = rpm[back:] < 0.88 * rpm[:-back]
    edges = np.flatnonzero(np.diff(np.concatenate([[0], fall.astype(np.int8), [0]])))
    parts, shifts, at = [], [], 0
    for a, b in zip(edges[::2], edges[1::2], strict=True):
        first, last = int(a), int(b - 1 + back)
        parts.append((at, first + 1))
        shifts.append((first, last + 1))
        at = last
    parts.append((at, len(rpm)))
    return parts, shifts


def _cuts(log: Log, pulls: list[Window], depth: float, back_s: float) -> list[Window]:
    cuts = []
    for pull in pulls:
        for start, stop in torque_cuts(log, pull, depth, back_s):
            cuts.append(
                Window("traction_cut", start, stop, float(log.time_s[start]), float(log.time_s[stop - 1]))
            )
    return cuts


def torque_cuts(log: Log, pull: Window, depth: float, back_within_s: float) -> list[tuple[int, int]]:
    """Rows in which pressure or throttle dips under full pedal and comes back.

    A dip counts from the running level just before it (the highest of the last second) and must be made good,
    to within half its depth, inside `back_within_s`.
    """
    rows = slice(pull.start, pull.stop)
    time_s = log.time_s[rows]
    found: list[tuple[int, int]] = []
    for name in ("throttle", "map"):
        if not log.has(name):
            continue
        values = smooth(log.filled(name)[rows], 3)
        # The first and last moments of a pull are the foot itself.
        before = np.maximum.accumulate(values)
        low = values < (1.0 - depth) * before
        for start, stop in runs(low, time_s, 0.0, 0.1):
            level = before[start]
            if stop >= len(values) or time_s[stop - 1] - time_s[start] > back_within_s:
                continue
            after = values[stop : stop + max(3, int(log.rate_hz))]
            if len(after) and after.max() >= (1.0 - depth / 2) * level:
                found.append((pull.start + start, pull.start + stop))
        if found:
            break
    return found
