"""Knock retard under load."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import cylinder_of, runs
from .model import Finding
from .view import Detector, View

#: Stretches of load that lie closer are one: the engine did not rest between [s].
APART_S = 2.0


def _stretches(view: View) -> list[tuple[int, int]]:
    """Where the engine works hard, each once: pulls, and load that is no pull."""
    found: list[tuple[int, int]] = [(pull.start, pull.stop) for pull in view.pulls]
    rest = view.mask("load") & ~view.mask("pull")
    return sorted([*found, *runs(rest, view.time, 0.0, APART_S)])


def look(view: View) -> list[Finding]:
    """Retard under load: on two samples of a stretch a hold; the stop's own retard on any sample, or the
    same speed in two stretches, be it one sample each, a stop.
    """
    rules, retard, rpm = view.rules, np.abs(view["knock"]), view["rpm"]
    hits, stretches, loaded = [], _stretches(view), view.mask("load", "pull")
    for start, stop in stretches:
        rows = np.arange(start, stop)[loaded[start:stop]]
        rows = rows[retard[rows] >= rules["knock.hold"]]
        if len(rows):
            hits.append(rows)
    if not hits:
        return []
    # One event that runs over the end of a stretch is not two.
    pairs = [
        (a, b)
        for i, a in enumerate(hits)
        for b in hits[i + 1 :]
        if view.time[b[0]] - view.time[a[-1]] >= APART_S
    ]
    apart = min((_nearest(rpm[a], rpm[b]) for a, b in pairs), default=np.inf)
    hit = max(hits, key=lambda rows: float(retard[rows].max()))
    worst = int(hit[np.argmax(retard[hit])])
    most, repeated = float(retard[worst]), apart <= rules["knock.same_rpm"]
    # The first knock breaks a rotor's apex seals.
    stopped = most >= rules["knock.stop"] or repeated or view.context.rotary
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
                Evidence("stretches of load with knock", len(hits), len(stretches)),
                Evidence("same speed in two of them", "yes" if repeated else "no"),
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


def _one_cylinder(view: View) -> str:
    """A column of one cylinder says nothing of the others."""
    cylinder = cylinder_of(view.raw, "knock")
    return f"knock of the cylinders beside {cylinder}" if cylinder and view.context.cylinders != 1 else ""


DETECTOR = Detector(
    "knock",
    (("knock",), ("rpm",), ("pedal", "throttle", "map", "pulse")),
    look,
    lambda context: context.spark,
    partly=_one_cylinder,
    where="load",
    sees=(("knock",),),
)
