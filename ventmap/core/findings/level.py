"""Whether a level of a sensor piggyback acted in a log at all: what did not act was not judged."""

from __future__ import annotations

import numpy as np

from ..basics import Curve, Evidence, Verdict
from .model import Finding
from .view import Detector, View


def _lacks(view: View) -> str:
    return "" if view.context.baseline_boost_kpa is not None else "a stock log to hold its boost against"


def asleep(view: View) -> list[Finding]:
    """The best of the pulls lies at stock boost, or not far above: a timer, *off*, or a plug."""
    context, rules = view.context, view.rules
    stock = context.baseline_boost_kpa
    if stock is None or not view.pulls:
        return []
    pull = max(view.pulls, key=lambda p: float(np.nanmax(view["map"][p.start : p.stop])))
    row = pull.start + int(np.nanargmax(view["map"][pull.start : pull.stop]))
    best, rpm = float(view["map"][row]), float(view["rpm"][row])
    speeds, adds = zip(*context.level_adds, strict=True)
    added = Curve(speeds, adds).at(rpm)
    least = rules["boost.level_acted"] / 100 * added
    if best - stock >= least:
        return []
    first = float(view.time[np.flatnonzero(view.running)[0]]) if view.running.any() else 0.0
    waits = context.level_warm_up_s or 0.0
    early = pull.to_s - first < waits
    evidence = [
        Evidence("best of the pulls above stock", round(best - stock, 1), round(least, 1), unit="kPa"),
        Evidence("this level adds there", round(added, 1), unit="kPa"),
        Evidence("at", round(rpm), unit="rpm"),
    ]
    if waits:
        evidence.append(
            Evidence("running before that pull", round(pull.to_s - first), round(waits), unit="s")
        )
    return [
        Finding(
            "level_asleep",
            verdict=Verdict.hold,
            title="The level did not act in this log",
            from_s=pull.from_s,
            to_s=pull.to_s,
            evidence=tuple(evidence),
            causes=(
                "warm-up timer still ran",
                "level off, or not kept",
                "plug at the wrong sensor, or bypassed",
            ),
            check="Its display in the pull: the level shows and no timer runs; then the plugs",
            next=(
                f"Drive until {waits:.0f} s have passed since the start, then one pull: so far it was stock."
                if early
                else "Read the level at the device and look at its plugs: this log says nothing of the level."
            ),
        )
    ]


ASLEEP = Detector(
    "level_asleep",
    (("map",), ("rpm",)),
    asleep,
    lambda context: bool(context.level_adds),
    _lacks,
    where="pull",
    sees=(("map",),),
)
