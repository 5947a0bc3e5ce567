"""What is true of a job because of its runs: a claim rests on every run that counts."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User

from ..jobs import ledger
from ..jobs.models import Job
from ..jobs.steps import reopen


def counting(job: Job) -> dict[str, Any]:
    runs = job.runs.filter(counts=True).order_by("id").values_list("id", "when")
    return {"runs": [list(run) for run in runs], "standard": job.standard}


def facts(job: Job) -> dict[str, Any]:
    known = counting(job)
    sides = [sum(when == side for _, when in known["runs"]) for side in ("before", "after")]
    last = known["runs"][-1][0] if known["runs"] else 0
    return {"runs": f"{sides[0]} before, {sides[1]} after, the last {last}" if last else ""}


def claim_falls(job: Job, by: User) -> None:
    """A run came, went or counts otherwise: what was claimed of the others is claimed no more."""
    for rule in ("dyno.gain", "dyno.goal", "dyno.alike"):
        ledger.withdraw(job, "prove", rule)
    reopen(job, "prove.claim")
