"""Basics: units, judgements, house rules, tables, air, and what the other rooms stand on. Uses nothing."""

from .air import dry_pressure, standard_pressure, vapour_pressure
from .calls import Call, Evidence, Verdict, grade_above, grade_below, worst
from .drawings import Drawing, Shape, measure
from .errors import (
    BadInput,
    CalibrationError,
    LogError,
    NotEnough,
    OutOfRange,
    VentMapError,
    require_between,
    require_positive,
)
from .house_rules import HouseRules
from .merge import Conflict, merge
from .quantities import QUANTITIES, conversions, parse, parse_field, show
from .readings import baseline_call, codes_call, judge_answer, judge_reading, stock_log_call
from .rule_table import AREAS, RULES
from .stages import STAGE_KEYS, STAGES, slat
from .tables import Curve, Floats, Table2D
from .traced import Sum

__all__ = [
    "AREAS",
    "QUANTITIES",
    "RULES",
    "STAGES",
    "STAGE_KEYS",
    "BadInput",
    "CalibrationError",
    "Call",
    "Conflict",
    "Curve",
    "Drawing",
    "Evidence",
    "Floats",
    "HouseRules",
    "LogError",
    "NotEnough",
    "OutOfRange",
    "Shape",
    "Sum",
    "Table2D",
    "VentMapError",
    "Verdict",
    "baseline_call",
    "codes_call",
    "conversions",
    "dry_pressure",
    "grade_above",
    "grade_below",
    "judge_answer",
    "judge_reading",
    "measure",
    "merge",
    "parse",
    "parse_field",
    "require_between",
    "require_positive",
    "show",
    "slat",
    "standard_pressure",
    "stock_log_call",
    "vapour_pressure",
    "worst",
]
