"""The power that was asked for, against what the runs after show."""

from __future__ import annotations

from ..basics import SEA_LEVEL_KPA, Call, Evidence, Verdict
from .reduction import crank_range


def goal_call(
    goal_kw: float,
    wheel_kw: float,
    loss_low: float,
    loss_high: float,
    barometer_kpa: float | None = None,
) -> Call:
    """Whether a goal at the crank was reached by a peak at the wheels [kW]: surely, perhaps, or not.

    Parameters
    ----------
    loss_low, loss_high : float
        Lost between, least and most (fractions of crank power): nobody measured it, so the crank is a range.
    barometer_kpa : float, optional
        Of runs that no standard brings to sea level, on an engine that breathes what is there: the goal,
        which is one at sea level, is then brought to this air [kPa].
    """
    asked = goal_kw
    if barometer_kpa is not None:
        goal_kw = goal_kw * barometer_kpa / SEA_LEVEL_KPA
    low, high = crank_range(wheel_kw, loss_low, loss_high)
    because = (
        Evidence("goal at the crank", round(asked, 1), unit="kW"),
        *(
            [Evidence(f"goal in this air, {barometer_kpa:.1f} kPa", round(goal_kw, 1), unit="kW")]
            if barometer_kpa is not None
            else []
        ),
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


#: By this share a stock engine may show more at the wheels than its maker's figure at the crank: such figures
#: are often modest, drums differ; more is another vehicle, another unit, or no stock engine.
STOCK_OVER = 0.15


def stock_power_call(stock_kw: float, wheel_kw: float) -> Call:
    """Whether stock runs can be of this vehicle: peak at the wheels against its maker's figure [kW]."""
    most = stock_kw * (1.0 + STOCK_OVER)
    # The limit itself still fits, whatever its last binary digit says.
    fits = wheel_kw <= most + 1e-9
    return Call(
        "baseline.runs",
        verdict=Verdict.go if fits else Verdict.hold,
        because=(
            Evidence("peak at the wheels", round(wheel_kw, 1), round(most, 1), unit="kW"),
            Evidence("maker's figure at the crank", round(stock_kw, 1), unit="kW"),
        ),
        do_next=(
            "These runs are the before."
            if fits
            else "Look whether file, unit and vehicle are the right ones, and whether it is stock at all."
        ),
        source="A factory figure is at the crank and often modest; the drum loses, it does not add",
        title="The runs can be of this vehicle" if fits else "More at the wheels than this engine has",
    )
