"""What is true of a job because of its logs: the newest is judged, and nothing where none is left."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User

from ..jobs import ledger
from ..jobs.models import Job
from ..jobs.steps import reopen
from .models import LogFile
from .reviews import of_log
from .services import judge_log, of_now


def newest(job: Job) -> dict[str, Any]:
    row = job.logs.filter(baseline=False).select_related("map").first()
    if row is None:
        return {}
    # Another variant, fuel, limit or house rule, and the same samples mean something else.
    return {
        "id": row.pk,
        "name": row.name,
        "map": row.map.version if row.map else None,
        "judged_by": of_log(row).mark,
        "of_now": of_now(job, row),
    }


def facts(job: Job) -> dict[str, Any]:
    row = job.logs.filter(baseline=False).values("id", "name").first()
    return {"logs": f"{row['name']} ({row['id']})" if row else ""}


def judge_newest(job: Job, by: User) -> None:
    """Another log is the newest, or none is left: what was found in one that is gone stands no more."""
    row = job.logs.filter(baseline=False).first()
    reopen(job, "log.review")
    if row is not None:
        judge_log(job, row, by)
    else:
        ledger.withdraw(job, "log", "log.")


def foretelling(job: Job, row: LogFile) -> LogFile | None:
    """The log that foretold a log's mixture: the last one of the map that its own was made from."""
    if row.map is None or row.map.parent_id is None:
        return None
    return job.logs.filter(baseline=False, map=row.map.parent_id, pk__lt=row.pk).first()


def corrected_from(job: Job) -> dict[str, Any]:
    """What the mixture was judged from: the newest log, and the one before where it was held against that."""
    told = newest(job)
    if told and job.ledger.filter(rule="correct.foretold", standing=True).exists():
        before = foretelling(job, job.logs.select_related("map").get(pk=told["id"]))
        told["foretold_by"] = before.pk if before else None
    return told


def mixture_again(job: Job, by: User) -> None:
    """How far the mixture holds is judged of the newest log: of another one it says nothing."""
    ledger.withdraw(job, "correct", "correct.")
    reopen(job, "correct.done")
