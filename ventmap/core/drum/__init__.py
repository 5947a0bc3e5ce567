"""Drum: runs from the speed of the drum to a gain that may be claimed. Uses basics."""

from .apart import SCATTER_ALONE, Apart, apart_of, between_days, to_one_air
from .comparison import GOALS, Comparison, compare
from .cooling import cool_down
from .drum_file import read_curve
from .expected import Expected, expected_of_boost, expected_of_goal
from .goal import goal_call, stock_power_call
from .reduction import Drum, PowerCurve, crank_range, mean_run, on_grid, reduce_pull
from .run_advice import run_advice
from .run_conditions import USUAL_HUMIDITY, RunConditions, ToMatch, same_conditions, to_match
from .run_plan import (
    Scatter,
    SeenBy,
    chance_to_see,
    least_seen,
    one_more,
    plan_runs,
    runs_for,
    scatter_of,
)
from .standards import (
    STANDARDS,
    VALID,
    CorrectionFactor,
    DieselEngine,
    correction_factor,
    diesel_engine,
    standards_for,
)

__all__ = [
    "GOALS",
    "SCATTER_ALONE",
    "STANDARDS",
    "USUAL_HUMIDITY",
    "VALID",
    "Apart",
    "Comparison",
    "CorrectionFactor",
    "DieselEngine",
    "Drum",
    "Expected",
    "PowerCurve",
    "RunConditions",
    "Scatter",
    "SeenBy",
    "ToMatch",
    "apart_of",
    "between_days",
    "chance_to_see",
    "compare",
    "cool_down",
    "correction_factor",
    "crank_range",
    "diesel_engine",
    "expected_of_boost",
    "expected_of_goal",
    "goal_call",
    "least_seen",
    "mean_run",
    "on_grid",
    "one_more",
    "plan_runs",
    "read_curve",
    "reduce_pull",
    "run_advice",
    "runs_for",
    "same_conditions",
    "scatter_of",
    "standards_for",
    "stock_power_call",
    "to_match",
    "to_one_air",
]
