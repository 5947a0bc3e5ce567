"""The floor: every job in a row, made anew only where something of it changed."""

from __future__ import annotations

import json
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db.models import Count, Max, Q

from ..shelf.models import ShelfItem
from . import views
from .models import Job, LedgerEntry, StepDone, Timer
from .schemas import JobRow

#: Job → what its row was made from, and the row as the answer has it, with its timers left open at its end.
_made: dict[int, tuple[Any, str]] = {}
_FIELDS = [field.attname for field in Job._meta.concrete_fields]


def rows() -> str:
    """One row a job, as JSON. What a row is made from is asked in four sums over all jobs; only where one of
    them differs is the run sheet built again.
    """
    shelf = ShelfItem.history.aggregate(last=Max("history_id"))["last"]
    lines = _by_job(
        LedgerEntry, last=Max("id"), standing=Count("id", Q(standing=True)), aside=Count("overruled_by")
    )
    steps = _by_job(StepDone, last=Max("id"), count=Count("id"), aside=Count("id", ~Q(set_aside="")))
    waits: dict[int, list[dict[str, Any]]] = {}
    for timer in Timer.objects.filter(ended_at=None):
        waits.setdefault(timer.job_id, []).append(views.timer_out(timer))
    stamps = {
        own["id"]: (own, shelf, lines.get(own["id"]), steps.get(own["id"]))
        for own in Job.objects.values(*_FIELDS)
    }
    stale = [key for key, stamp in stamps.items() if key not in _made or _made[key][0] != stamp]
    for job in Job.objects.select_related("vehicle", "device", "injectors", "pump").filter(pk__in=stale):
        row = JobRow.model_validate({**views.job_row(job), "timers": []}).model_dump_json(exclude={"timers"})
        _made[job.pk] = (stamps[job.pk], row[:-1])
    told = (
        f'{_made[key][1]},"timers":{json.dumps(waits.get(key, []), cls=DjangoJSONEncoder)}}}'
        for key in stamps
    )
    return f"[{','.join(told)}]"


def _by_job(model: type[Any], **sums: Any) -> dict[int, tuple[Any, ...]]:
    return {
        job: tuple(values)
        for job, *values in model.objects.order_by().values("job").annotate(**sums).values_list("job", *sums)
    }
