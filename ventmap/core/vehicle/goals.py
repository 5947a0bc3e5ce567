"""What a goal allows."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict

#: Power above stock that is still the stock figure, measured otherwise.
WITHIN = 0.02


def goal_fits(goal: str, power_kw: float | None, stock_kw: float | None) -> Call | None:
    """A learner's vehicle stays at its stock power [kW]; nothing is said of any other goal."""
    if goal != "learner":
        return None
    if power_kw is None or stock_kw is None:
        return _not_known(goal, power_kw, stock_kw)
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


def _not_known(goal: str, power_kw: float | None, stock_kw: float | None) -> Call:
    """A learner's goal that nothing can be held against."""
    return Call(
        "intake.goal",
        verdict=Verdict.hold,
        because=(
            Evidence("goal power", "not set" if power_kw is None else power_kw, unit="kW"),
            Evidence("stock power", "not known" if stock_kw is None else stock_kw, unit="kW"),
            Evidence("goal", goal),
        ),
        do_next="A learner is held to the stock power: find out both figures first.",
        source="Licence classes limit power; local rules decide",
        title="Goal and power",
    )
