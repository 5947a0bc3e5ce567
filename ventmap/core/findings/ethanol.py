"""Ethanol content that jumps."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from ..logs import smooth
from .model import Finding
from .view import Detector, View


def ethanol_jump(view: View) -> list[Finding]:
    """Ethanol content that changes without a refuel, or exceeds 100 %."""
    content = smooth(view["ethanol"], view.rows(1.0))
    most, swing = float(content.max()), float(content.max() - content.min())
    limit, tank = view.rules["ethanol.jump"], view.context.ethanol
    off = abs(float(np.median(content)) - 100 * tank) if tank is not None else 0.0
    if most <= 100.5 and swing <= limit and off <= limit:
        return []
    if swing <= limit and most <= 100.5:
        assert tank is not None
        return [
            Finding(
                "ethanol_jump",
                verdict=Verdict.hold,
                title="Ethanol content is not what Intake says",
                from_s=float(view.time[0]),
                to_s=float(view.time[-1]),
                evidence=(
                    Evidence(
                        "sensor reads", round(float(np.median(content)), 1), round(100 * tank, 1), unit="%"
                    ),
                    Evidence("apart", round(off, 1), limit, unit="points"),
                ),
                causes=("another fill than Intake says", "sensor or its wiring"),
                check="Draw a sample and measure it: it agrees with the sensor, Intake is out of date",
                next="Put Intake right, or the sensor, before fuel is corrected.",
            )
        ]
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
