"""The power that was asked for, against what the runs after show."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict
from .reduction import crank_range


def goal_call(goal_kw: float, wheel_kw: float, loss_low: float, loss_high: float) -> Call:
    """Whether a goal at the crank was reached by a peak at the wheels [kW]: surely, perhaps, or not.

    Parameters
    ----------
    loss_low, loss_high : float
        Lost between, least and most (fractions of crank power): nobody measured it, so the crank is a range.
    """
    low, high = crank_range(wheel_kw, loss_low, loss_high)
    because = (
        Evidence("goal at the crank", round(goal_kw, 1), unit="kW"),
        Evidence("peak at the wheels", round(wheel_kw, 1), unit="kW"),
        Evidence("that is at the crank", f"{low:.0f}–{high:.0f}", round(goal_kw, 1), unit="kW"),
    )
    if low >= goal_kw:
        verdict, title, advice = (
            Verdict.go,
            "The goal power is reached",
            "Say the wheel figure; the crank is a range.",
        )
    elif high >= goal_kw:
        verdict, title, advice = (
            Verdict.hold,
            "The goal power may be reached",
            "It lies within what the losses may be: claim the wheel figure, not the goal.",
        )
    else:
        verdict, title, advice = (
            Verdict.hold,
            "The goal power is not reached",
            "Tell the owner before handing over; look at what limits it: air, fuel, or the map.",
        )
    return Call(
        "dyno.goal",
        verdict=verdict,
        because=because,
        do_next=advice,
        source="A wheel figure is what was measured; the crank is a range",
        title=title,
    )
