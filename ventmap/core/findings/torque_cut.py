"""Traction control taking torque away under a full pedal: no fault."""

from __future__ import annotations

import numpy as np

from ..basics import Evidence, Verdict
from .model import Finding
from .view import Detector, View


def look(view: View) -> list[Finding]:
    """A dip under full pedal that comes back: no fault, and its stretch is not used to judge boost."""
    cuts = view.of("traction_cut")
    if not cuts:
        return []
    name = "throttle" if view.has("throttle") else "map"
    unit = "%" if name == "throttle" else "kPa"
    first = cuts[0]
    before = float(np.max(view[name][max(0, first.start - view.rows(1.0)) : first.start + 1]))
    low = float(np.min(view[name][first.start : first.stop]))
    evidence = [
        Evidence(f"{name} before", round(before, 1), unit=unit),
        Evidence(
            "lowest in the dip",
            round(low, 1),
            round((1 - view.rules["cut.depth"] / 100) * before, 1),
            unit=unit,
        ),
        Evidence(
            "longest dip",
            round(max(cut.to_s - cut.from_s for cut in cuts), 2),
            view.rules["cut.back_s"],
            unit="s",
        ),
        Evidence("dips", len(cuts)),
    ]
    if view.has("front_speed", "rear_speed"):
        around = slice(max(0, first.start - view.rows(0.5)), first.stop)
        jump = float(np.max(np.abs(view["rear_speed"][around] - view["front_speed"][around])))
        evidence.append(Evidence("wheel speeds differ", round(jump, 1), unit="km/h"))
    return [
        Finding(
            "torque_cut",
            verdict=Verdict.go,
            title="Torque was cut under full pedal",
            from_s=first.from_s,
            to_s=cuts[-1].to_s,
            evidence=tuple(evidence),
            causes=("traction control", "wheel hop", "gearbox protecting itself"),
            check="Wheel speeds apart just before the dip: traction control",
            next=(
                "No fault. These stretches are not used to judge boost; repeat on a better surface or strap"
                " down harder."
            ),
        )
    ]


DETECTOR = Detector("torque_cut", (("throttle", "map"), ("pedal",), ("rpm",)), look)
