"""What a goal allows."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict

#: Power above stock that is still the stock figure, measured otherwise.
WITHIN = 0.02


def goal_fits(goal: str, power_kw: float, stock_kw: float) -> Call | None:
    """A learner's vehicle stays at its stock power [kW]; nothing is said of any other goal."""
    if goal != "learner":
        return None
    held = not power_kw <= stock_kw * (1 + WITHIN)
    return Call(
        "intake.goal",
        verdict=Verdict.hold if held else Verdict.go,
        because=(
            Evidence("goal power", power_kw, stock_kw, unit="kW"),
            Evidence("goal", goal),
        ),
        do_next=(
            "A learner is held to the stock power, by licence and by sense: lower the goal, or name another."
            if held
            else "The goal stands."
        ),
        source="Licence classes limit power; local rules decide",
        title="Goal and power",
    )
