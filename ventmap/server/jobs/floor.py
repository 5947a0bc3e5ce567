"""The floor: every job in a row, made anew only where something of it changed; kept over a restart."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db import DatabaseError
from django.db.models import Count, JSONField, Max, Q, QuerySet, TextField
from django.db.models.functions import Cast

import ventmap
from ventmap import core

from ..shelf.models import ShelfItem
from . import views
from .models import FloorRow, Job, LedgerEntry, StepDone, Timer
from .schemas import JobRow

_FIELDS = [field for field in Job._meta.concrete_fields if field.name != "opened_at"]
#: A list or a tree is compared as the database keeps it: nobody reads it here.
_AS_KEPT = {
    field.attname: Cast(field.attname, TextField()) for field in _FIELDS if isinstance(field, JSONField)
}
_PLAIN = [field.attname for field in _FIELDS if field.attname not in _AS_KEPT]
#: Rows of one statement.
WRITTEN_AT_ONCE = 100


def rows() -> str:
    """One row a job, as JSON. What a row is made from is asked in a few sums over all jobs; only where one of
    them differs is the run sheet built again.
    """
    waits: dict[int, list[dict[str, Any]]] = {}
    for timer in Timer.objects.filter(ended_at=None):
        waits.setdefault(timer.job_id, []).append(views.timer_out(timer))
    made = _made(Job.objects.all())
    told = (
        f'{row},"timers":{json.dumps(waits[job], cls=DjangoJSONEncoder) if job in waits else "[]"}}}'
        for job, row in made.items()
    )
    return f"[{','.join(told)}]"


def keep(numbers: Sequence[str]) -> None:
    """Make the rows of these jobs now: whoever changed a thing of theirs waits, not whoever looks next."""
    _made(Job.objects.filter(number__in=numbers))


def _made(jobs: QuerySet[Job]) -> dict[int, str]:
    """Job → its row, in the order of the floor; what is as it was is as it was made before."""
    stamps = _stamps(jobs)
    kept = FloorRow.objects.filter(job__in=jobs.order_by())
    made = {
        job: row
        for job, stamp, row in kept.values_list("job", "stamp", "row").iterator()
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
    return {job: made[job] for job in stamps if job in made}


def _stamps(jobs: QuerySet[Job]) -> dict[int, str]:
    """Job → a mark of everything that its row is made from, in the order of the floor."""
    of = jobs.order_by()
    lines = _by_job(
        LedgerEntry.objects.filter(job__in=of),
        last=Max("id"),
        standing=Count("id", Q(standing=True)),
        aside=Count("overruled_by"),
    )
    steps = _by_job(
        StepDone.objects.filter(job__in=of),
        last=Max("id"),
        count=Count("id"),
        aside=Count("id", ~Q(set_aside="")),
    )
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
    for own in jobs.values(*_PLAIN, **{f"{name}_kept": kept for name, kept in _AS_KEPT.items()}):
        used = [own[f"{name}_id"] for name in ("vehicle", "device", "injectors", "pump")]
        used += [by_key.get(("device", key)) for key in json.loads(own["also_kept"])]
        used.append(by_key.get(("injector", items[own["vehicle_id"]][2])))
        stamp = (
            [*own.values()],
            [changed.get(item) for item in used],
            lines.get(own["id"]),
            steps.get(own["id"]),
            _code(),
        )
        found[own["id"]] = hashlib.sha256(repr(stamp).encode()).hexdigest()
    return found


@cache
def _code() -> str:
    """Of the program itself: another version may make another row of the same job."""
    root = Path(ventmap.__file__).parent
    files = sorted(
        path for room in (Path(core.__file__).parent, root / "server" / "jobs") for path in room.rglob("*.py")
    )
    return str(max(path.stat().st_mtime_ns for path in files))


def _by_job(rows: QuerySet[Any], **sums: Any) -> dict[int, tuple[Any, ...]]:
    return {
        job: tuple(values)
        for job, *values in rows.order_by().values("job").annotate(**sums).values_list("job", *sums)
    }
