"""Knock retard in a pull."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from .model import Detector, Finding, View


def look(view: View) -> list[Finding]:
    """Retard in pulls: on two samples of one a hold; the stop's own retard on any sample, or the same speed
    in two
    pulls, be it one sample each, a stop.
    """
    rules, retard, rpm = view.rules, np.abs(view["knock"]), view["rpm"]
    hits = []
    for pull in view.pulls:
        rows = np.arange(pull.start, pull.stop)
        rows = rows[retard[rows] >= rules["knock.hold"]]
        if len(rows):
            hits.append(rows)
    if not hits:
        return []
    apart = min((_nearest(rpm[a], rpm[b]) for i, a in enumerate(hits) for b in hits[i + 1 :]), default=np.inf)
    hit = max(hits, key=lambda rows: float(retard[rows].max()))
    worst = int(hit[np.argmax(retard[hit])])
    most, repeated = float(retard[worst]), apart <= rules["knock.same_rpm"]
    stopped = most >= rules["knock.stop"] or repeated
    if not stopped and max(len(rows) for rows in hits) < 2:
        return []
    if not stopped:
        hit = max(hits, key=len)
    return [
        Finding(
            "knock",
            verdict=Verdict.stop if stopped else Verdict.hold,
            title="Knock under load",
            from_s=float(view.time[hit[0]]),
            to_s=float(view.time[hit[-1]]),
            evidence=(
                Evidence(
                    "most retard",
                    round(most, 1),
                    rules["knock.stop"] if stopped else rules["knock.hold"],
                    unit="°",
                ),
                Evidence("at", round(float(rpm[worst])), unit="rpm"),
                Evidence("samples", len(hit), 2),
                Evidence("pulls with knock", len(hits), len(view.pulls)),
                Evidence("same speed in two pulls", "yes" if repeated else "no"),
            ),
            causes=(
                "too much spark there",
                "octane below what the map needs",
                "hot intake air",
                "false knock: a part touching the block",
            ),
            check="Take 3° there: knock gone, spark; unchanged, listen for a part that touches",
            next="Take spark out there now; do not pull again before it is loaded.",
        )
    ]


def _nearest(a: np.ndarray, b: np.ndarray) -> float:
    """Smallest distance between a speed of one pull and a speed of the other [rpm]."""
    b = np.sort(b)
    at = np.clip(np.searchsorted(b, a), 1, max(1, len(b) - 1))
    near = np.minimum(np.abs(a - b[np.minimum(at, len(b) - 1)]), np.abs(a - b[at - 1]))
    return float(near.min())


DETECTOR = Detector(
    "knock", (("knock",), ("rpm",), ("pedal", "throttle")), look, lambda context: context.spark
)
