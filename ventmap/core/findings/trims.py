"""Fuel trims: hunting, offsets by zone, banks that disagree."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import Window, smooth
from .model import Finding
from .view import Detector, View


def _swings(values: np.ndarray, swing: float) -> list[int]:
    """Turning points of a signal whose successive turns lie at least `swing` apart (zig-zag)."""
    turns: list[int] = []
    extreme = low = high = 0
    direction = 0
    for row in range(1, len(values)):
        if direction == 0:
            low = row if values[row] <= values[low] else low
            high = row if values[row] >= values[high] else high
            if values[high] - values[low] >= swing:
                turns.append(min(low, high))
                direction, extreme = (1 if high > low else -1), row
            continue
        change = values[row] - values[extreme]
        if change * direction > 0:
            extreme = row
        elif -change * direction >= swing:
            turns.append(extreme)
            direction, extreme = -direction, row
    return turns


def hunting(view: View) -> list[Finding]:
    """Short trim swinging at idle, when it began, and which channel woke at that moment."""
    rules = view.rules
    for window in view.of("idle"):
        if window.to_s - window.from_s < 6.0:
            continue
        stretch = slice(window.start, window.stop)
        trim = smooth(view["stft_1"][stretch], view.rows(0.3))
        time = view.time[stretch]
        if np.ptp(trim) < rules["trim.hunt_swing"]:
            continue
        turns = _swings(trim, rules["trim.hunt_swing"])
        if len(turns) < 2 * rules["trim.hunt_cycles"]:
            continue
        periods = 2 * np.diff(time[turns])
        period = float(np.median(periods))
        if not 1.0 <= period <= 20.0:
            continue
        # The first turn may be any low point of the calm before; half a period before the second is where it
        # began.
        begins = max(float(time[turns[0]]), float(time[turns[1]]) - period / 2)
        swing = float(np.median(np.abs(np.diff(trim[turns]))))
        evidence = [
            Evidence("swing, peak to peak", round(swing, 1), rules["trim.hunt_swing"], unit="%"),
            Evidence("period", round(period, 1), "1–20", unit="s"),
            Evidence("swings", len(turns) // 2, rules["trim.hunt_cycles"]),
            Evidence("begins at", round(begins, 1), unit="s"),
        ]
        woke = _woke(view, window, int(np.searchsorted(view.time, begins)))
        if woke:
            evidence.append(Evidence("woke at that moment", woke))
        rear = woke and woke.lower().startswith("rear")
        return [
            Finding(
                "trim_hunting",
                verdict=Verdict.hold,
                title="Fuel trim hunts at idle",
                from_s=begins,
                to_s=window.to_s,
                evidence=tuple(evidence),
                causes=(
                    (
                        "rear sensor correcting the front one",
                        "exhaust change that lengthened the delay",
                        "leak at a sensor",
                    )
                    if rear
                    else (
                        "sensor delay longer than the map expects",
                        "exhaust leak at the sensor",
                        "rear sensor",
                    )
                ),
                check="Unplug nothing: log the rear sensor; if it swings first, it leads",
                next=(
                    "Set the rear-sensor correction aside for one log, within the law, or fit the stock"
                    " exhaust part and repeat."
                ),
            )
        ]
    return []


def _woke(view: View, window: Window, row: int) -> str | None:
    """The channel whose scatter rises most when the hunting begins; None where it hunted from the start."""
    from ..logs import CHANNELS

    before, after = slice(window.start, row), slice(row, window.stop)
    if row - window.start < view.rows(3.0):
        return None
    best, label = 4.0, None
    for name in view.log.channels:
        if name.startswith(("stft", "lambda", "time", "pulse", "duty")):
            continue
        calm = float(np.std(view[name][before]))
        change = abs(float(np.mean(view[name][after]) - np.mean(view[name][before]))) + float(
            np.std(view[name][after])
        )
        ratio = change / max(calm, 1e-3 * (abs(float(np.mean(view[name][before]))) + 0.1))
        if ratio > best:
            best, label = ratio, CHANNELS[name].label
    return label


def _total(view: View, bank: int) -> np.ndarray:
    total = view[f"stft_{bank}"].astype(float)
    total = total + view[f"ltft_{bank}"] if view.has(f"ltft_{bank}") else total
    # Fuel added everywhere hides what the trims would otherwise show.
    return total + view["global_trim"] if view.has("global_trim") else total


def _zones(view: View) -> dict[str, np.ndarray]:
    zones = {"idle": view.mask("idle"), "cruise": view.mask("cruise"), "load": view.mask("pull")}
    return {name: mask for name, mask in zones.items() if mask.sum() >= view.rows(3.0)}


def offset(view: View) -> list[Finding]:
    """Long + short trim away from zero by zone, which tells supply from leak from figure."""
    limit = view.rules["trim.offset"]
    total, zones = _total(view, 1), _zones(view)
    if view.has("stft_2"):
        total = (total + _total(view, 2)) / 2
    means = {name: float(np.median(total[mask])) for name, mask in zones.items()}
    off = {name: mean for name, mean in means.items() if abs(mean) > limit}
    if not off:
        return []
    closed = [name for name in means if name != "load"]
    if all(name in off for name in closed) and len(closed) > 1:
        where, causes = (
            "everywhere",
            (
                "injector flow figure",
                "fuel pressure",
                "airflow or pressure sensor scaling",
            ),
        )
        check = "Measure fuel pressure at idle and load: right pressure leaves the flow figure"
    elif "idle" in off:
        where, causes = "at idle", ("air leak", "dead time", "leaking injector")
        check = (
            "Spray-test or smoke the intake; tight: change battery load and watch the trim move with voltage"
        )
    else:
        where, causes = f"under {' and '.join(off)}", ("fuel supply", "air meter", "filling map")
        check = "Log fuel pressure in the same zone: it sags, supply; it holds, the map"
    mask = np.any([zones[name] for name in off], axis=0)
    rows = np.flatnonzero(mask)
    return [
        Finding(
            "trim_offset",
            verdict=Verdict.hold,
            title=f"Trims are off {where}",
            from_s=float(view.time[rows[0]]),
            to_s=float(view.time[rows[-1]]),
            evidence=tuple(
                Evidence(f"long + short, {name}", round(mean, 1), limit, unit="%")
                for name, mean in means.items()
            ),
            causes=causes,
            check=check,
            next="Split the fuel error into flow and dead time once warm, then correct.",
        )
    ]


def banks(view: View) -> list[Finding]:
    """Long + short trim of two banks apart in one zone."""
    limit = view.rules["trim.banks"]
    difference = _total(view, 1) - _total(view, 2)
    for name, mask in _zones(view).items():
        apart = float(np.median(difference[mask]))
        if abs(apart) >= limit:
            rows = np.flatnonzero(mask)
            lean = 1 if apart > 0 else 2
            return [
                Finding(
                    "bank_imbalance",
                    verdict=Verdict.hold,
                    title="The banks disagree",
                    from_s=float(view.time[rows[0]]),
                    to_s=float(view.time[rows[-1]]),
                    evidence=(Evidence(f"bank 1 − bank 2, {name}", round(apart, 1), limit, unit="%"),),
                    causes=(
                        f"air or exhaust leak on bank {lean}",
                        f"injector on bank {lean}",
                        "sensor, or sensors crossed",
                    ),
                    check=(
                        "Swap the two front sensors: the difference moves, the sensor; it stays, the engine"
                    ),
                    next=f"Look for a leak on bank {lean} first.",
                )
            ]
    return []


HUNTING = Detector("trim_hunting", (("stft_1",), ("rpm",), ("pedal", "throttle")), hunting)
OFFSET = Detector("trim_offset", (("stft_1",), ("rpm",), ("pedal", "throttle")), offset)
BANKS = Detector(
    "bank_imbalance",
    (("stft_1",), ("stft_2",), ("rpm",), ("pedal", "throttle")),
    banks,
    lambda context: context.banks is None or context.banks > 1,
)
