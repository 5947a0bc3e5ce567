"""Knock retard in a pull."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from .model import Detector, Finding, View


def look(view: View) -> list[Finding]:
    """Retard on two or more samples of a pull; the same speed in two pulls makes it a stop."""
    rules, retard, rpm = view.rules, np.abs(view["knock"]), view["rpm"]
    events = []
    for pull in view.pulls:
        rows = np.arange(pull.start, pull.stop)
        hit = rows[retard[rows] >= rules["knock.hold"]]
        if len(hit) >= 2:
            events.append((pull, hit))
    if not events:
        return []
    pull, hit = max(events, key=lambda event: float(retard[event[1]].max()))
    worst = int(hit[np.argmax(retard[hit])])
    apart = min(
        (
            abs(float(rpm[a]) - float(rpm[b]))
            for i, (_, first) in enumerate(events)
            for _, second in events[i + 1 :]
            for a in first[:: max(1, len(first) // 50)]
            for b in second[:: max(1, len(second) // 50)]
        ),
        default=float("inf"),
    )
    repeated = apart <= rules["knock.same_rpm"]
    most = float(retard[worst])
    stopped = most >= rules["knock.stop"] or repeated
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
                Evidence("pulls with knock", len(events), len(view.pulls)),
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


DETECTOR = Detector("knock", (("knock",), ("rpm",), ("pedal", "throttle")), look)
