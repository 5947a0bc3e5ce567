"""Idle: too high, unsteady, or slow to come back."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import closed_throttle, smooth
from .model import Finding
from .view import Detector, View

#: A start flare or the tail of a blip is not idle yet.
SETTLE_S = 4.0


def _target(view: View) -> float | None:
    """Idle speed that is wanted [rpm]: logged, else the vehicle's own; boats, bikes and sleds idle high."""
    if view.has("idle_target"):
        return float(np.nanmedian(view["idle_target"]))
    return view.context.idle_target


def _lacks(view: View) -> str:
    return "" if _target(view) is not None else "idle speed of this vehicle"


def _settled(view: View, shortest_s: float) -> list[slice]:
    found = []
    for window in view.of("idle"):
        start = int(np.searchsorted(view.time, window.from_s + SETTLE_S))
        if view.time[window.stop - 1] - window.from_s - SETTLE_S >= shortest_s:
            found.append(slice(start, window.stop))
    return found


def high_air(view: View) -> list[Finding]:
    """Idle above target while trims add fuel or the mixture is lean: air that nobody metered."""
    target, limit = _target(view), view.rules["idle.high"]
    if target is None:
        return []
    for rows in _settled(view, 5.0):
        rpm = float(np.median(view["rpm"][rows]))
        if rpm < target + limit:
            continue
        trim = float(np.median(view["stft_1"][rows])) if view.has("stft_1") else 0.0
        if view.has("ltft_1"):
            trim += float(np.median(view["ltft_1"][rows]))
        lean = 100 * (float(np.median(view["lambda"][rows])) - 1.0) if view.has("lambda") else 0.0
        if trim >= 2.0 or lean >= 2.0:
            return [
                Finding(
                    "idle_high_air",
                    verdict=Verdict.hold,
                    title="Idle is high with extra air",
                    from_s=float(view.time[rows.start]),
                    to_s=float(view.time[rows.stop - 1]),
                    evidence=(
                        Evidence("idle", round(rpm), round(target + limit), unit="rpm"),
                        Evidence("long + short trim", round(trim, 1), 0.0, unit="%"),
                        Evidence("mixture from stoichiometric", round(lean, 1), 0.0, unit="%"),
                    ),
                    causes=(
                        "air leak after the throttle",
                        "lower injector seal",
                        "throttle stop or idle valve",
                    ),
                    check="Smoke the intake; it leaks at an injector: the lower seal",
                    next="Find the leak before touching the map.",
                )
            ]
    return []


def unstable(view: View) -> list[Finding]:
    """Scatter of a warm, settled idle; slow drift is taken out."""
    # A two-stroke fires unevenly at idle when all is well.
    two_stroke = view.context.oil_in_fuel
    limit = view.rules["idle.unstable_two_stroke"] if two_stroke else view.rules["idle.unstable"]
    for rows in _settled(view, 8.0):
        if view.warmth and float(np.median(view[view.warmth][rows])) < view.warm_at:
            continue
        rpm = view["rpm"][rows].astype(float)
        drift = smooth(rpm, view.rows(20.0))
        scatter = float(np.std(rpm - drift))
        if scatter >= limit:
            return [
                Finding(
                    "idle_unstable",
                    verdict=Verdict.hold,
                    title="Idle is unsteady",
                    from_s=float(view.time[rows.start]),
                    to_s=float(view.time[rows.stop - 1]),
                    evidence=(Evidence("one standard deviation", round(scatter), limit, unit="rpm"),),
                    causes=("mixture at idle", "air leak", "spark: plug or coil", "dead time"),
                    check="Enrich idle by 5 %: steadier, mixture; unchanged, spark or a leak",
                    next="Set the mixture first, then look at spark.",
                )
            ]
    return []


def slow_to_idle(view: View) -> list[Finding]:
    """Time from 3000 rpm with the foot lifted to idle + 300, standing."""
    rpm, limit = smooth(view["rpm"], 3), view.rules["idle.return_s"]
    closed = closed_throttle(view.log)
    standing = view["speed"] < 5.0
    idle_rows = view.mask("idle")
    idle = float(np.median(rpm[idle_rows])) if idle_rows.sum() > view.rows(2.0) else _target(view)
    if idle is None:
        return []
    high = rpm > 3000.0
    # Rows at which engine speed falls through 3000 rpm with the foot off and the vehicle standing.
    falls = np.flatnonzero(high[:-1] & ~high[1:] & closed[1:] & standing[1:])
    reached, lifted = np.flatnonzero(rpm < idle + 300.0), np.flatnonzero(~(closed & standing))
    ends = np.append(reached, len(rpm) - 1)[np.searchsorted(reached, falls)]
    pressed = np.append(lifted, len(rpm))[np.searchsorted(lifted, falls + 1)]
    for row, end in zip(falls[pressed >= ends], ends[pressed >= ends], strict=True):
        seconds = float(view.time[end] - view.time[row])
        if seconds > limit:
            return [
                Finding(
                    "slow_to_idle",
                    verdict=Verdict.hold,
                    title="Slow to come back to idle",
                    from_s=float(view.time[row]),
                    to_s=float(view.time[end]),
                    evidence=(
                        Evidence("3000 rpm to idle + 300", round(seconds, 1), limit, unit="s"),
                        Evidence("idle", round(idle), unit="rpm"),
                    ),
                    causes=("air leak", "overrun fuel cut set too high", "throttle follow-up too long"),
                    check="Trims positive at idle as well: a leak; else the settings",
                    next="Smoke the intake, then shorten throttle follow-up.",
                )
            ]
    return []


HIGH_AIR = Detector(
    "idle_high_air", (("rpm",), ("pedal", "throttle"), ("stft_1", "lambda")), high_air, lacks=_lacks
)
UNSTABLE = Detector("idle_unstable", (("rpm",), ("pedal", "throttle")), unstable)
SLOW = Detector("slow_to_idle", (("rpm",), ("pedal", "throttle"), ("speed",)), slow_to_idle)
