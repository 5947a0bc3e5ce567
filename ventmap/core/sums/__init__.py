"""Sums: the sums of the trade, fields in, traced figures out. Uses the run sheet's plans and below."""

from .catalogue import SUMS, sum_by
from .model import Field, SumKind, SumResult
from .with_job import JobFigures, known_figures, other_figures, sums_of

__all__ = [
    "SUMS",
    "Field",
    "JobFigures",
    "SumKind",
    "SumResult",
    "known_figures",
    "other_figures",
    "sum_by",
    "sums_of",
]
