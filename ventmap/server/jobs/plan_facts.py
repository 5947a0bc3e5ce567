"""Judgements of Plan and what they are made from: made anew when that differs, whatever changed it."""

from __future__ import annotations

from typing import Any

from .files import held_again
from .injector_choice import judge_injectors
from .kit import judge_fit
from .living import JUDGES
from .models import Job
from .rows import devices
from .sums import judge_again


def recorded(job: Job) -> dict[str, Any]:
    """Everything that records say of a job. What judges it by today's facts is made from all of them: none is
    named, so that none can be forgotten.
    """
    return {
        "goal": [job.goal, job.power_goal_kw, job.complaint],
        "fuel": [job.ron, job.ethanol],
        "altitude": job.altitude_m,
        "changes": job.changes,
        "fitted": job.fitted,
        "vehicle": job.vehicle.body,
        "kit": [item.body for item in devices(job)],
        "injectors": job.injectors.body if job.injectors else None,
        "pump": job.pump.body if job.pump else None,
        "rules": job.rules,
    }


def _devices(job: Job) -> dict[str, Any]:
    return {"kit": [item.key for item in devices(job)]}


def register() -> None:
    JUDGES["injectors"] = (recorded, judge_injectors)
    JUDGES["fit"] = (recorded, judge_fit)
    JUDGES["sums"] = (recorded, judge_again)
    JUDGES["files"] = (_devices, held_again)
