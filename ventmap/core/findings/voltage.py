"""Battery voltage."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import runs, smooth
from .model import Finding
from .view import Detector, View

#: An alternator that rests at cruise lets go to here [V], and comes back within [s].
RESTS_V, RESTS_S = 12.5, 60.0


def _rests(view: View, volts: np.ndarray, start: int, stop: int) -> bool:
    """Whether the alternator is switched to rest there: at cruise, not too low, and it charged just before or
    comes back after."""
    if float(volts[start:stop].min()) < RESTS_V or view.time[stop - 1] - view.time[start] > RESTS_S:
        return False
    if (view.mask("load", "pull", "idle")[start:stop]).any():
        return False
    near = view.rows(5.0)
    around = np.concatenate([volts[max(0, start - near) : start], volts[stop : stop + near]])
    return bool(len(around) and around.max() >= view.rules["battery.running"] + 0.2)


def voltage_low(view: View) -> list[Finding]:
    """Battery below its limit with the engine running, or falling within a pull."""
    rules = view.rules
    volts = smooth(view["battery"], view.rows(0.5))
    running = view["rpm"] > 500
    settled = (
        running
        & np.concatenate([np.zeros(min(len(running), view.rows(5.0)), bool), running[: -view.rows(5.0)]])[
            : len(running)
        ]
    )
    # A value of long ago says nothing of the charging now.
    settled &= view.fresh("battery")
    low = runs(settled & (volts < rules["battery.running"]), view.time, 2.0, 0.5)
    low = [(a, b) for a, b in low if not _rests(view, volts, a, b)]
    evidence: tuple[Evidence, ...] = ()
    span = (0.0, 0.0)
    if low:
        start, stop = min(low, key=lambda s: float(volts[s[0] : s[1]].min()))
        evidence = (
            Evidence(
                "battery, running",
                round(float(volts[start:stop].min()), 2),
                rules["battery.running"],
                unit="V",
            ),
        )
        span = (float(view.time[start]), float(view.time[stop - 1]))
    else:
        for pull in view.pulls:
            stretch = volts[pull.start : pull.stop]
            fall = float(stretch[0] - stretch.min())
            if fall > rules["battery.fall"]:
                evidence = (Evidence("falls within a pull", round(fall, 2), rules["battery.fall"], unit="V"),)
                span = (pull.from_s, pull.to_s)
    if not evidence:
        return []
    return [
        Finding(
            "voltage_low",
            Verdict.hold,
            "Battery voltage is low",
            *span,
            evidence,
            ("charging: belt or alternator", "ground or feed wiring", "a load larger than the alternator"),
            "Measure at the battery: low there, charging; right there, the computer's feed or ground",
            "Measure voltage drop on feed and ground before correcting fuel: dead time moves with voltage.",
        )
    ]


VOLTAGE = Detector("voltage_low", (("battery",), ("rpm",)), voltage_low)
