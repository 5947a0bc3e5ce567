"""Ethanol content that jumps."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import smooth
from .model import Detector, Finding, View


def ethanol_jump(view: View) -> list[Finding]:
    """Ethanol content that changes without a refuel, or exceeds 100 %."""
    content = smooth(view["ethanol"], view.rows(1.0))
    most, swing = float(content.max()), float(content.max() - content.min())
    if most <= 100.5 and swing <= view.rules["ethanol.jump"]:
        return []
    low, high = sorted((int(np.argmin(content)), int(np.argmax(content))))
    return [
        Finding(
            "ethanol_jump",
            verdict=Verdict.hold,
            title="Ethanol content jumps",
            from_s=float(view.time[low]),
            to_s=float(view.time[high]),
            evidence=(
                Evidence(
                    "change without a refuel", round(swing, 1), view.rules["ethanol.jump"], unit="points"
                ),
                Evidence("highest", round(most, 1), 100.0, unit="%"),
            ),
            causes=("water or dirt in the fuel", "sensor or its wiring", "air in the line"),
            check="Drain a sample into glass: it parts into layers, water",
            next="Fix the content by hand in the map until it is found.",
        )
    ]


ETHANOL = Detector("ethanol_jump", (("ethanol",),), ethanol_jump)
