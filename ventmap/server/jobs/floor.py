"""The floor: every job in a row, made anew only where something of it changed; kept over a restart."""

from __future__ import annotations

import hashlib
import json
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db import DatabaseError
from django.db.models import Count, Max, Q

import ventmap
from ventmap import core

from ..shelf.models import ShelfItem
from . import views
from .models import FloorRow, Job, LedgerEntry, StepDone, Timer
from .schemas import JobRow

_FIELDS = [field.attname for field in Job._meta.concrete_fields]
#: Rows of one statement.
WRITTEN_AT_ONCE = 100


def rows() -> str:
    """One row a job, as JSON. What a row is made from is asked in a few sums over all jobs; only where one of
    them differs is the run sheet built again.
    """
    waits: dict[int, list[dict[str, Any]]] = {}
    for timer in Timer.objects.filter(ended_at=None):
        waits.setdefault(timer.job_id, []).append(views.timer_out(timer))
    stamps = _stamps()
    made = {
        job: row
        for job, stamp, row in FloorRow.objects.values_list("job", "stamp", "row")
        if stamps.get(job) == stamp
    }
    stale = [job for job in stamps if job not in made]
    fresh = []
    for job in Job.objects.select_related("vehicle", "device", "injectors", "pump").filter(pk__in=stale):
        row = JobRow.model_validate({**views.job_row(job), "timers": []}).model_dump_json(exclude={"timers"})
        made[job.pk] = row[:-1]
        fresh.append(FloorRow(job_id=job.pk, stamp=stamps[job.pk], row=row[:-1]))
    # Somebody writes meanwhile, or a job is gone again: the row is made once more at the next look.
    with suppress(DatabaseError):
        FloorRow.objects.bulk_create(
            fresh,
            batch_size=WRITTEN_AT_ONCE,
            update_conflicts=True,
            unique_fields=["job"],
            update_fields=["stamp", "row"],
        )
    told = (
        f'{made[job]},"timers":{json.dumps(waits.get(job, []), cls=DjangoJSONEncoder)}}}'
        for job in stamps
        if job in made
    )
    return f"[{','.join(told)}]"


def _stamps() -> dict[int, str]:
    """Job → a mark of everything that its row is made from, in the order of the floor."""
    lines = _by_job(
        LedgerEntry, last=Max("id"), standing=Count("id", Q(standing=True)), aside=Count("overruled_by")
    )
    steps = _by_job(StepDone, last=Max("id"), count=Count("id"), aside=Count("id", ~Q(set_aside="")))
    items = {
        item: (kind, key, stock)
        for item, kind, key, stock in ShelfItem.objects.values_list(
            "id", "kind", "key", "body__stock_injectors"
        )
    }
    changed = dict(
        ShelfItem.history.order_by().values("id").annotate(last=Max("history_id")).values_list("id", "last")
    )
    by_key = {(kind, key): item for item, (kind, key, _) in items.items()}
    found = {}
    for own in Job.objects.values(*_FIELDS):
        used = [own[f"{name}_id"] for name in ("vehicle", "device", "injectors", "pump")]
        used += [by_key.get(("device", key)) for key in own["also"]]
        used.append(by_key.get(("injector", items[own["vehicle_id"]][2])))
        stamp = (
            own,
            [changed.get(item) for item in used],
            lines.get(own["id"]),
            steps.get(own["id"]),
            _code(),
        )
        found[own["id"]] = hashlib.sha256(json.dumps(stamp, cls=DjangoJSONEncoder).encode()).hexdigest()
    return found


@cache
def _code() -> str:
    """Of the program itself: another version may make another row of the same job."""
    root = Path(ventmap.__file__).parent
    files = sorted(
        path for room in (Path(core.__file__).parent, root / "server" / "jobs") for path in room.rglob("*.py")
    )
    return str(max(path.stat().st_mtime_ns for path in files))


def _by_job(model: type[Any], **sums: Any) -> dict[int, tuple[Any, ...]]:
    return {
        job: tuple(values)
        for job, *values in model.objects.order_by().values("job").annotate(**sums).values_list("job", *sums)
    }
