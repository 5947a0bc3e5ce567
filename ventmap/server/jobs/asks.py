"""What the steps of a job ask of vehicle, devices and parts; answers stay on the shelf for the next one."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import NAME_LENGTH, AccessList, Call, Grown, Injector, Vehicle
from ventmap.core.fuel import read_dead_time
from ventmap.core.needs import (
    Ask,
    Question,
    Thing,
    access_rows,
    may_replace,
    question_of,
    read_answer,
    shown,
    told_at,
)

from ..shelf.models import ShelfItem
from ..shelf.services import free_key, put, record_of
from ..shelf.starter import STARTER
from ..shop.access import full_name
from . import grids, ledger
from .acting import changes_job
from .assemble import run_sheet
from .injector_choice import judge_injectors
from .kit import judge_fit
from .known import things_of
from .models import Job
from .moment import late, moment
from .rows import NotFound, vehicle_of


def ask_out(ask: Ask) -> dict[str, Any]:
    question = ask.question
    return {
        "of": question.of,
        "key": ask.thing.key,
        "name": ask.thing.name,
        "field": question.field,
        "title": question.title,
        "found": question.found,
        "without": question.without,
        "must": question.must,
        "protects": question.protects,
        "form": question.form,
        "quantity": question.quantity,
        "unit": question.unit,
        "choices": list(question.choices),
        "none": question.none,
        "columns": [vars(column) | {"choices": list(column.choices)} for column in question.columns],
        "begin": _usual(ask.thing) if question.field == "access" else [],
    }


def _usual(thing: Thing) -> list[dict[str, Any]]:
    """How bays come apart by layout, as the shelf has it; before them how this one is known to."""
    lists = ShelfItem.objects.filter(kind="access").order_by("name")
    found = [{"name": item.name, "rows": access_rows(record_of(item, AccessList).items)} for item in lists]
    known = thing.record.access if isinstance(thing.record, Vehicle) else None
    return [{"name": "as it is known", "rows": access_rows(known)}, *found] if known else found


def known_out(step: str, things: list[Thing]) -> list[dict[str, Any]]:
    """What was answered here before, with where it comes from."""
    return [
        {
            "of": question.of,
            "key": thing.key,
            "name": thing.name,
            "field": question.field,
            "title": question.title,
            "value": shown(question, getattr(thing.record, question.field)),
            "source": told.source,
            "by": told.by,
            "on": told.on,
            "ask": ask_out(Ask(question, thing)),
        }
        for question, thing, told in told_at(step, things)
    ]


@changes_job
def answer(
    job: Job,
    *,
    of: str,
    key: str,
    field: str,
    given: Any,
    unit: str,
    source: str,
    anyway: bool,
    step: str,
    by: User,
) -> None:
    """Keep an answer on the record of the thing it is about, with who, when and source, and tell the ledger.

    Raises
    ------
    BadInput
        Naming the field; also where it contradicts a better source.
    """
    question = question_of(of, field)
    thing = next((thing for thing in things_of(job) if (thing.of, thing.key) == (of, key)), None)
    if thing is None:
        raise NotFound(f"This job has no {of} “{key}”.", "key")
    calls: list[Call] = []
    if question.form == "table":
        assert isinstance(thing.record, Injector)
        table, calls = read_dead_time(str(given), thing.record.rated_kpa)
        value: Any = table
    else:
        value = read_answer(question, given, unit)
    if _said_since(thing.record, field):
        ledger.write(
            job,
            step.split(".")[0] or "intake",
            "reading",
            f"Arrived late: {thing.name}: {question.title.rstrip('?')}",
            by,
            f"{given} {unit}".strip() + ": somebody answered after that, and it stands.",
        )
        return
    if question.field != "fits":
        may_replace(question, thing, value, source, anyway)
    item = own_of(job, ShelfItem.objects.get(kind=of, key=key))
    keep_answer(item, question, value, vehicle_of(job).engine, source, by)
    if question.field == "fits":
        value = "yes" if value else "no"
    words = value if isinstance(value, str) else shown(question, value)
    ledger.write(
        job,
        step.split(".")[0] or "intake",
        "reading",
        f"{thing.name}: {question.title.rstrip('?')}"[:160],
        by,
        f"{words} · {source}",
    )
    if calls:
        ledger.judge(job, step.split(".")[0], calls, by)
    _judge_again(job, step, by)


def _judge_again(job: Job, step: str, by: User) -> None:
    """What was judged without the answer is judged with it."""
    fresh = Job.objects.select_related("vehicle", "device", "injectors", "pump").get(pk=job.pk)
    if fresh.device is not None:
        judge_fit(fresh, by)
    judge_injectors(fresh, by)
    asked = next((one for one in run_sheet(fresh).steps if one.key == step), None)
    if asked is not None and asked.evidence == "grid":
        grids.judge_again(fresh, asked, by)


def own_of(job: Job, item: ShelfItem) -> ShelfItem:
    """The thing itself; of a plain one of the starter shelf a copy of this job's own, in its place."""
    if not item.key.startswith(STARTER):
        return item
    name = f"{item.name}, as on {job.vehicle.name}"[: NAME_LENGTH[1]]
    own = put(
        {"kind": item.kind, "key": free_key(item.kind, name), "name": name, "body": dict(item.body)},
        job.practice,
    )
    if item.pk == job.device_id:
        job.device = own
    if item.pk == job.injectors_id:
        job.injectors = own
    job.also = [own.key if key == item.key else key for key in job.also]
    job.save()
    return own


def keep_answer(item: ShelfItem, question: Question, value: Any, engine: str, source: str, by: User) -> None:
    """Write a value and its source into a thing's body; the record's own bounds are held."""
    body = dict(item.body)
    if question.field == "fits" and value:
        body["fits"] = [*body.get("fits", []), {"engine": engine}]
    elif question.field == "fits":
        body["not_for"] = [*body.get("not_for", []), engine]
    else:
        body[question.field] = value
    body["told"] = {**body.get("told", {}), question.field: told_now(source, by)}
    put({"kind": item.kind, "key": item.key, "name": item.name, "body": body})


def told_now(source: str, by: User) -> dict[str, str]:
    """Who says it, and when."""
    said = moment()
    return {
        "source": source,
        "by": full_name(by),
        "on": timezone.localtime(said).date().isoformat(),
        "moment": said.isoformat(timespec="seconds"),
    }


def _said_since(record: Grown, field: str) -> bool:
    """Whether a field was answered after this answer was made, which a tablet had kept."""
    made, said = late(), record.told.get(field)
    return made is not None and said is not None and said.moment > made.isoformat(timespec="seconds")
