"""Misfires that were counted."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from .model import Finding
from .view import Detector, View


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
            "misfire",
            verdict=Verdict.hold,
            title="Misfires were counted",
            from_s=float(view.time[rows[0]]),
            to_s=float(view.time[rows[-1] + 1]),
            evidence=(
                Evidence("misfires", total, view.rules["misfire.counts"]),
                Evidence("first at", round(float(view["rpm"][rows[0]])), unit="rpm"),
            ),
            causes=("plug or coil", "injector", "mixture"),
            check="Swap the coil with a neighbour: the misfire moves, the coil",
            next="Find the cylinder before pulling again.",
        )
    ]


MISFIRE = Detector("misfire", (("misfire",), ("rpm",)), misfire)
