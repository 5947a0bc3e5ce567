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


def _injectors(job: Job) -> dict[str, Any]:
    return {
        "goal": job.power_goal_kw,
        "ethanol": job.ethanol,
        "altitude": job.altitude_m,
        "injectors": job.injectors.body if job.injectors else None,
        "vehicle": job.vehicle.body,
        "kit": [item.body for item in devices(job)],
        "rules": {key: value for key, value in job.rules.items() if key.startswith("plan.")},
    }


def _fit(job: Job) -> dict[str, Any]:
    return {"vehicle": job.vehicle.body, "kit": [item.body for item in devices(job)]}


def _sums(job: Job) -> dict[str, Any]:
    return {**_injectors(job), "pump": job.pump.body if job.pump else None, "rules": job.rules}


def _devices(job: Job) -> dict[str, Any]:
    return {"kit": [item.key for item in devices(job)]}


def register() -> None:
    JUDGES["injectors"] = (_injectors, judge_injectors)
    JUDGES["fit"] = (_fit, judge_fit)
    JUDGES["sums"] = (_sums, judge_again)
    JUDGES["files"] = (_devices, held_again)
