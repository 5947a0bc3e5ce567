"""Sums: the sums of the trade, fields in, traced figures out. Uses the run sheet's plans and below."""

from .catalogue import SUMS, sum_by
from .model import Field, SumKind, SumResult

__all__ = ["SUMS", "Field", "SumKind", "SumResult", "sum_by"]
