"""Sensors that cannot be right."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import CHANNELS, runs
from .model import Finding
from .view import Detector, View

#: Faster than this is not physics [unit/s].
FASTEST = {"coolant": 15.0, "iat": 60.0, "baro": 10.0, "oil_temp": 15.0, "head_temp": 30.0, "ambient": 10.0}
#: Sensors with noise of their own: exactly the same value for long while the engine changes is a dead signal.
LIVELY = ("map", "lambda", "battery", "throttle")
FLAT_S = 20.0
#: Of successive samples so many differ in a channel with noise; one that is written rounded rests by itself.
NOISY_SHARE = 0.5
#: A wideband heats up so long after it is switched on, and reads one constant [s].
HEATS_S = 60.0
#: A diesel runs lean of this at no load alone: leaner than any petrol engine burns.
DIESEL_LEANEST = 12.0


def implausible(view: View) -> list[Finding]:
    """Signals that cannot be right: out of range, at a rail, faster than physics, dead, or off the barometer
    at key-on.
    """
    found: list[tuple[str, Evidence, int, int]] = []
    for name, values in view.log.channels.items():
        channel = CHANNELS[name]
        seen = np.isfinite(values)
        if channel.quantity == "mixture":
            # With the engine still the sensor reads air, and so does it in a fuel cut.
            seen = seen & view.running & ~view.mask("overrun")
        diesel = channel.quantity == "mixture" and not view.context.spark
        high = DIESEL_LEANEST if diesel else channel.high
        outside = seen & ((values < channel.low) | (values > high))
        stretch = runs(outside, view.time, 0.3, 0.2)
        if stretch:
            start, stop = stretch[0]
            found.append(
                (
                    channel.label,
                    Evidence(
                        f"{channel.label} reads",
                        round(float(values[start]), 2),
                        f"{channel.low:g}–{high:g}",
                        unit=channel.unit,
                    ),
                    start,
                    stop,
                )
            )
            continue
        if channel.quantity == "temperature" and name in ("coolant", "iat") and seen.any():
            railed = runs(seen & (values <= -39.5), view.time, 0.3, 0.2)
            if railed:
                start, stop = railed[0]
                found.append(
                    (channel.label, Evidence(f"{channel.label} at its rail", -40.0, unit="°C"), start, stop)
                )
                continue
        if name in FASTEST and seen.sum() > 3:
            rows = np.flatnonzero(seen)
            step, apart = np.abs(np.diff(values[rows])), np.maximum(np.diff(view.time[rows]), 0.05)
            jumps = np.flatnonzero((step / apart > FASTEST[name]) & (step > 8.0))
            if len(jumps):
                row = int(rows[jumps[0]])
                found.append(
                    (
                        channel.label,
                        Evidence(
                            f"{channel.label} jumps by",
                            round(float(step[jumps[0]]), 1),
                            # The most that it can in that time.
                            round(FASTEST[name] * float(apart[jumps[0]]), 1),
                            unit=channel.unit,
                        ),
                        row,
                        row + 2,
                    )
                )
                continue
        if name in LIVELY and view.has("rpm") and name in view.log.channels:
            flat = runs(np.concatenate([[False], np.diff(view[name]) == 0]), view.time, FLAT_S)
            for start, stop in flat:
                # A diesel at idle stands at the end of what its sensor reads.
                ends = diesel and view[name][start] >= np.nanmax(values)
                ends = ends or _rests(view, name, start, stop)
                if np.ptp(view["rpm"][start:stop]) > 500 and not ends:
                    found.append(
                        (
                            channel.label,
                            Evidence(
                                f"{channel.label} does not move for",
                                round(float(view.time[stop - 1] - view.time[start]), 0),
                                FLAT_S,
                                unit="s",
                            ),
                            start,
                            stop,
                        )
                    )
                    break
    found += _key_on(view)
    if not found:
        return []
    labels = list(dict.fromkeys(label for label, *_ in found))
    return [
        Finding(
            "sensor_implausible",
            verdict=Verdict.hold,
            title=f"{labels[0]} cannot be right"
            + (f", and {len(labels) - 1} more" if len(labels) > 1 else ""),
            from_s=float(view.time[min(f[2] for f in found)]),
            to_s=float(view.time[min(max(f[3] for f in found), len(view.log)) - 1]),
            evidence=tuple(evidence for _, evidence, _, _ in found[:6]),
            causes=("plug or wiring", "wrong scaling in the map", "sensor"),
            check="Wiggle the plug while reading it live: it moves, wiring",
            next="Put the sensor right before trusting anything that depends on it.",
        )
    ]


def _rests(view: View, name: str, start: int, stop: int) -> bool:
    """Whether a value that does not move is what the sensor rightly reads there."""
    values = view[name]
    if name == "lambda" and start <= view.rows(HEATS_S) and view.time[stop - 1] <= view.time[0] + HEATS_S:
        return True
    if name == "map" and view.context.induction != "none":
        # A boost gauge cannot show vacuum: at the barometer it stands, above it moves.
        at_rest = abs(float(values[start]) - view.barometer) < 1.5
        if at_rest and float(values[start]) <= float(values.min()) and bool(view.boosted.any()):
            return True
    if name == "throttle" and view.has("pedal") and np.ptp(view["pedal"][start:stop]) < 10.0:
        # Held by the foot, as on a drum.
        return True
    outside = np.concatenate([values[:start], values[stop:]])
    return len(outside) < 20 or float((np.diff(outside) != 0).mean()) < NOISY_SHARE


def _key_on(view: View) -> list[tuple[str, Evidence, int, int]]:
    if not view.has("map", "baro", "rpm"):
        return []
    for window in view.of("key_on"):
        rows = slice(window.start, window.stop)
        off = abs(float(np.median(view["map"][rows]) - np.median(view["baro"][rows])))
        if off > view.rules["key_on.stop_kpa"] and window.to_s - window.from_s >= 1.0:
            return [
                (
                    "Manifold pressure",
                    Evidence(
                        "key-on manifold − barometer",
                        round(off, 1),
                        view.rules["key_on.stop_kpa"],
                        unit="kPa",
                    ),
                    window.start,
                    window.stop,
                )
            ]
    return []


IMPLAUSIBLE = Detector("sensor_implausible", (), implausible)
