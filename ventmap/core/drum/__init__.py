"""Drum: runs from the speed of the drum to a gain that may be claimed. Uses basics."""

from .apart import Apart, apart_of, between_days, to_one_air
from .comparison import GOALS, Comparison, compare
from .cooling import cool_down
from .drum_file import read_curve
from .goal import goal_call, stock_power_call
from .reduction import Drum, PowerCurve, crank_range, reduce_pull
from .run_conditions import USUAL_HUMIDITY, RunConditions, same_conditions
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
    "STANDARDS",
    "USUAL_HUMIDITY",
    "VALID",
    "Apart",
    "Comparison",
    "CorrectionFactor",
    "DieselEngine",
    "Drum",
    "PowerCurve",
    "RunConditions",
    "apart_of",
    "between_days",
    "compare",
    "cool_down",
    "correction_factor",
    "crank_range",
    "diesel_engine",
    "goal_call",
    "read_curve",
    "reduce_pull",
    "same_conditions",
    "standards_for",
    "stock_power_call",
    "to_one_air",
]
