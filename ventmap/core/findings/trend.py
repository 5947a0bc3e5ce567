"""How a vehicle fares from log to log: a few figures of each, so that a slow change is seen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..logs import Log, Samples, Window


@dataclass(frozen=True)
class TrendFigure:
    """A figure that is followed: its key, what it is called, and its unit."""

    key: str
    label: str
    unit: str


#: In the order in which they stand beside each other. A rise is in K: it has no zero point of its own.
TREND = (
    TrendFigure("idle_trim", "Trims at idle", "%"),
    TrendFigure("idle_speed", "Idle", "rpm"),
    TrendFigure("knock", "Most knock retard under load", "°"),
    TrendFigure("rail", "Least rail under load", "kPa"),
    TrendFigure("feed", "Least feed under load", "kPa"),
    TrendFigure("duty", "Most injector duty", "%"),
    TrendFigure("intake_rise", "Intake rise in a pull", "K"),
    TrendFigure("battery", "Least battery while running", "V"),
    TrendFigure("coolant", "Most coolant", "°C"),
)
#: Channels that they are made of.
TREND_CHANNELS = (
    "rpm",
    "stft_1",
    "ltft_1",
    "knock",
    "rail",
    "feed",
    "duty",
    "iat",
    "battery",
    "coolant",
)
#: The alternator has caught up so long after a start [s], and an engine runs from so many turns [rpm].
SETTLED_S, RUNS_RPM = 5.0, 400.0


def trend_of(log: Log, windows: Sequence[Window]) -> dict[str, float]:
    """Figures of one log; what it does not hold, or was not driven, is left out.

    Parameters
    ----------
    log : Log
        With those of `TREND_CHANNELS` that it has.
    windows : sequence of Window
        Of the same log.
    """
    found: dict[str, float] = {}

    def take(key: str, values: Samples, of: np.ufunc | None) -> None:
        known = values[np.isfinite(values)]
        if len(known):
            found[key] = float(known.mean() if of is None else of.reduce(known))

    def within(name: str, kind: str) -> Samples:
        if name not in log.channels:
            return np.array([])
        values = np.asarray(log.channels[name], dtype=float)
        parts = [
            values[(log.time_s >= one.from_s) & (log.time_s <= one.to_s)]
            for one in windows
            if one.kind == kind
        ]
        return np.concatenate(parts) if parts else np.array([])

    trims = [within(name, "idle") for name in ("stft_1", "ltft_1")]
    means = [float(np.nanmean(one)) for one in trims if np.isfinite(one).any()]
    if means:
        found["idle_trim"] = sum(means)
    take("idle_speed", within("rpm", "idle"), None)
    take("knock", within("knock", "load"), np.maximum)
    take("rail", within("rail", "load"), np.minimum)
    take("feed", within("feed", "load"), np.minimum)
    take("duty", within("duty", "load"), np.maximum)
    rises = [rise for one in windows if one.kind == "pull" and (rise := _rise(log, one)) is not None]
    if rises:
        found["intake_rise"] = max(rises)
    take("battery", _running(log, "battery"), np.minimum)
    take("coolant", _running(log, "coolant"), np.maximum)
    return found


def _rise(log: Log, pull: Window) -> float | None:
    if "iat" not in log.channels:
        return None
    values = np.asarray(log.channels["iat"], dtype=float)
    own = values[(log.time_s >= pull.from_s) & (log.time_s <= pull.to_s) & np.isfinite(values)]
    return float(own.max() - own[0]) if len(own) > 1 else None


def _running(log: Log, name: str) -> Samples:
    """A channel from `SETTLED_S` after the engine first ran, while it runs."""
    if name not in log.channels or "rpm" not in log.channels:
        return np.array([])
    rpm = np.asarray(log.channels["rpm"], dtype=float)
    known = np.isfinite(rpm)
    if not (known & (rpm >= RUNS_RPM)).any():
        return np.array([])
    speed = np.interp(log.time_s, log.time_s[known], rpm[known])
    first = log.time_s[speed >= RUNS_RPM][0]
    running = (speed >= RUNS_RPM) & (log.time_s >= first + SETTLED_S)
    return np.asarray(log.channels[name], dtype=float)[running]
