"""Battery voltage, sensors that cannot be right, ethanol that jumps, rates too slow."""

from __future__ import annotations

import numpy as np

from ..calls import Evidence, Verdict
from ..logs.channels import CHANNELS
from ..logs.windows import runs, smooth
from .model import Detector, Finding, View

#: Faster than this is not physics [unit/s].
FASTEST = {"coolant": 15.0, "iat": 60.0, "baro": 10.0, "oil_temp": 15.0, "ambient": 10.0}
#: Sensors with noise of their own: exactly the same value for long while the engine changes is a dead signal.
LIVELY = ("map", "lambda", "battery", "throttle")
FLAT_S = 20.0


def voltage_low(view: View) -> list[Finding]:
    """Battery below its limit with the engine running, or falling within a pull."""
    rules = view.rules
    volts = smooth(view["battery"], view.rows(0.5))
    running = view["rpm"] > 500
    settled = running & np.concatenate([np.zeros(min(len(running), view.rows(5.0)), bool), running[: -view.rows(5.0)]])[: len(running)]
    low = runs(settled & (volts < rules["battery.running"]), view.time, 2.0, 0.5)
    evidence: tuple[Evidence, ...] = ()
    span = (0.0, 0.0)
    if low:
        start, stop = min(low, key=lambda s: float(volts[s[0] : s[1]].min()))
        evidence = (Evidence("battery, running", round(float(volts[start:stop].min()), 2), rules["battery.running"], "V"),)
        span = (float(view.time[start]), float(view.time[stop - 1]))
    else:
        for pull in view.pulls:
            stretch = volts[pull.start : pull.stop]
            fall = float(stretch[0] - stretch.min())
            if fall > rules["battery.fall"]:
                evidence = (Evidence("falls within a pull", round(fall, 2), rules["battery.fall"], "V"),)
                span = (pull.from_s, pull.to_s)
    if not evidence:
        return []
    return [
        Finding(
            "voltage_low", Verdict.hold, "Battery voltage is low", *span, evidence,
            ("charging: belt or alternator", "ground or feed wiring", "a load larger than the alternator"),
            "Measure at the battery: low there, charging; right there, the computer's feed or ground",
            "Measure voltage drop on feed and ground before correcting fuel: dead time moves with voltage.",
        )
    ]  # fmt: skip


def implausible(view: View) -> list[Finding]:
    """Signals that cannot be right: out of range, at a rail, faster than physics, dead, or off the barometer at key-on."""
    found: list[tuple[str, Evidence, int, int]] = []
    for name, values in view.log.channels.items():
        channel = CHANNELS[name]
        seen = np.isfinite(values)
        outside = seen & ((values < channel.low) | (values > channel.high))
        stretch = runs(outside, view.time, 0.3, 0.2)
        if stretch:
            start, stop = stretch[0]
            found.append(
                (
                    channel.label,
                    Evidence(f"{channel.label} reads", round(float(values[start]), 2), f"{channel.low:g}–{channel.high:g}", channel.unit),
                    start,
                    stop,
                )
            )
            continue
        if channel.quantity == "temperature" and name in ("coolant", "iat") and seen.any():
            railed = runs(seen & (values <= -39.5), view.time, 0.3, 0.2)
            if railed:
                start, stop = railed[0]
                found.append((channel.label, Evidence(f"{channel.label} at its rail", -40.0, unit="°C"), start, stop))
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
                        Evidence(f"{channel.label} jumps by", round(float(step[jumps[0]]), 1), round(FASTEST[name], 0), channel.unit),
                        row,
                        row + 2,
                    )
                )
                continue
        if name in LIVELY and view.has("rpm") and name in view.log.channels:
            flat = runs(np.concatenate([[False], np.diff(view[name]) == 0]), view.time, FLAT_S)
            for start, stop in flat:
                if np.ptp(view["rpm"][start:stop]) > 500:
                    found.append(
                        (
                            channel.label,
                            Evidence(
                                f"{channel.label} does not move for", round(float(view.time[stop - 1] - view.time[start]), 0), FLAT_S, "s"
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
            "sensor_implausible", Verdict.hold, f"{labels[0]} cannot be right" + (f", and {len(labels) - 1} more" if len(labels) > 1 else ""),
            float(view.time[min(f[2] for f in found)]), float(view.time[min(max(f[3] for f in found), len(view.log)) - 1]),
            tuple(evidence for _, evidence, _, _ in found[:6]),
            ("plug or wiring", "wrong scaling in the map", "sensor"),
            "Wiggle the plug while reading it live: it moves, wiring",
            "Put the sensor right before trusting anything that depends on it.",
        )
    ]  # fmt: skip


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
                    Evidence("key-on manifold − barometer", round(off, 1), view.rules["key_on.stop_kpa"], "kPa"),
                    window.start,
                    window.stop,
                )
            ]
    return []


def ethanol_jump(view: View) -> list[Finding]:
    """Ethanol content that changes without a refuel, or exceeds 100 %."""
    content = smooth(view["ethanol"], view.rows(1.0))
    most, swing = float(content.max()), float(content.max() - content.min())
    if most <= 100.5 and swing <= view.rules["ethanol.jump"]:
        return []
    low, high = sorted((int(np.argmin(content)), int(np.argmax(content))))
    return [
        Finding(
            "ethanol_jump", Verdict.hold, "Ethanol content jumps", float(view.time[low]), float(view.time[high]),
            (Evidence("change without a refuel", round(swing, 1), view.rules["ethanol.jump"], "points"), Evidence("highest", round(most, 1), 100.0, "%")),
            ("water or dirt in the fuel", "sensor or its wiring", "air in the line"),
            "Drain a sample into glass: it parts into layers, water",
            "Fix the content by hand in the map until it is found.",
        )
    ]  # fmt: skip


def slow_sampling(view: View) -> list[Finding]:
    """Channels of a pull logged more slowly than its findings need."""
    if not view.pulls:
        return []
    limit = view.rules["sampling.pull_hz"]
    slow = {n: view.log.rate_of(n) for n in ("rpm", "map", "lambda", "knock", "spark") if view.has(n) and view.log.rate_of(n) < limit}
    if not slow:
        return []
    return [
        Finding(
            "slow_sampling", Verdict.hold, "Logged too slowly for a pull", view.pulls[0].from_s, view.pulls[-1].to_s,
            tuple(Evidence(f"rate of {CHANNELS[n].label.lower()}", round(hz, 1), limit, "1/s") for n, hz in slow.items()),
            ("too many channels for the link",), "Halve the channels: the rate doubles", "Log fewer channels in the pull.",
        )
    ]  # fmt: skip


def misfire(view: View) -> list[Finding]:
    """Misfire counts that grew while the log ran; what stood before is history."""
    counts = view["misfire"]
    grown = np.maximum(np.diff(counts), 0.0)
    total = float(grown.sum())
    if total < view.rules["misfire.counts"]:
        return []
    rows = np.flatnonzero(grown > 0)
    return [
        Finding(
            "misfire", Verdict.hold, "Misfires were counted", float(view.time[rows[0]]), float(view.time[rows[-1] + 1]),
            (Evidence("misfires", total, view.rules["misfire.counts"]), Evidence("first at", round(float(view["rpm"][rows[0]])), unit="rpm")),
            ("plug or coil", "injector", "mixture"), "Swap the coil with a neighbour: the misfire moves, the coil",
            "Find the cylinder before pulling again.",
        )
    ]  # fmt: skip


VOLTAGE = Detector("voltage_low", (("battery",), ("rpm",)), voltage_low)
IMPLAUSIBLE = Detector("sensor_implausible", (), implausible)
ETHANOL = Detector("ethanol_jump", (("ethanol",),), ethanol_jump)
SAMPLING = Detector("slow_sampling", (("rpm",),), slow_sampling)
MISFIRE = Detector("misfire", (("misfire",), ("rpm",)), misfire)
