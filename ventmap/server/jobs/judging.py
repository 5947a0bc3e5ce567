"""Rows to core calls for what people enter by hand."""

from __future__ import annotations

from ventmap.core.calls import Call
from ventmap.core.readings import judge_reading
from ventmap.core.runsheet import Step


def reading_call(step: Step, value: float) -> Call:
    """Judge a step's reading against the limits that the run sheet gives it."""
    wanted = step.reading
    assert wanted is not None
    return judge_reading(f"step.{step.key}", step.title, wanted.label, value, wanted.unit, wanted.low, wanted.high, step.wrong)
