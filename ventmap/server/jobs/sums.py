"""The sums, alone and with a job's own figures in them."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.basics import Device, Sum, Verdict, worst
from ventmap.core.sums import (
    Field,
    JobFigures,
    SumKind,
    SumResult,
    known_figures,
    other_figures,
    sum_by,
    sums_of,
)

from ..schemas import call_out, evidence_out
from ..shelf.services import record_of
from . import ledger
from .acting import changes_job
from .assemble import rules
from .known import answered
from .models import GridEntry, Job
from .rows import devices, injectors_of, pump_of, vehicle_of
from .steps import finish


def field_out(item: Field) -> dict[str, Any]:
    return {
        "name": item.name,
        "label": item.label,
        "kind": item.kind,
        "quantity": item.quantity,
        "unit": item.unit,
        "default": item.default,
        "choices": list(item.choices),
        "columns": [field_out(column) for column in item.columns],
        "hint": item.hint,
    }


def kind_out(kind: SumKind) -> dict[str, Any]:
    return {
        "key": kind.key,
        "title": kind.title,
        "purpose": kind.purpose,
        "fields": [field_out(item) for item in kind.fields],
    }


def sum_out(item: Sum) -> dict[str, Any]:
    return {**asdict(item), "inputs": evidence_out(item.inputs), "result": evidence_out([item.result])[0]}


def result_out(result: SumResult) -> dict[str, Any]:
    return {
        "sums": [sum_out(item) for item in result.sums],
        "calls": [call_out(call) for call in result.calls],
        "tables": [
            {"title": t.title, "columns": list(t.columns), "rows": [list(row) for row in t.rows]}
            for t in result.tables
        ],
        "drawing": asdict(result.drawing) if result.drawing else None,
        "cautions": list(result.cautions),
    }


def figures(job: Job) -> JobFigures:
    """What the sums may know of a job."""
    return JobFigures(
        vehicle=vehicle_of(job),
        devices=[record_of(item, Device) for item in devices(job)],
        injectors=injectors_of(job),
        pump=pump_of(job),
        power_goal_kw=job.power_goal_kw,
        ethanol=job.ethanol,
        altitude_m=job.altitude_m,
    )


def for_job(job: Job) -> list[str]:
    """Which sums this job asks for, in the order in which they are worked."""
    return sums_of(figures(job))


def typed_for(job: Job, key: str) -> dict[str, Any]:
    """What the job knows of a sum's inputs, as it would be typed; what was kept wins."""
    kept = job.grids.filter(step=f"sum.{key}").first()
    return dict(kept.data) if kept else known_figures(figures(job), rules(job), key)


@changes_job
def keep(job: Job, key: str, typed: dict[str, Any], by: User) -> SumResult:
    """Keep a sum with the job: its inputs, its judgements, its results in the ledger."""
    kind = sum_by(key)
    row, fresh = GridEntry.objects.get_or_create(
        job=job, step=f"sum.{key}", defaults={"data": typed, "by": by}
    )
    if not fresh:
        row.data, row.by, row.revision = typed, by, row.revision + 1
        row.save()
    result = _judge(job, key, typed, by)
    ledger.write(
        job, "plan", "sum", f"Sum kept: {kind.title}", by, evidence=[item.result for item in result.sums]
    )
    if key == PUMP and job.pump:
        answered(job, "plan.pump")
    if key == PUMP and job.pump and worst(result.calls) is Verdict.go:
        finish(job, "plan.pump", by)
    return result


def judge_again(job: Job, by: User) -> None:
    """What was typed into a sum is held against what is known of the job now."""
    for step, typed in job.grids.filter(step__startswith="sum.").values_list("step", "data"):
        _judge(job, step.removeprefix("sum."), typed, by)


PUMP = "fuel-pump"


def _judge(job: Job, key: str, typed: dict[str, Any], by: User) -> SumResult:
    result = sum_by(key).run(typed)
    other = other_figures(figures(job), rules(job), key, typed) if key == PUMP and job.pump else None
    if other is not None:
        result = replace(result, calls=(*result.calls, other))
    calls = [
        replace(call, rule=f"sum.{key}" if n == 0 else f"sum.{key}#{n + 1}")
        for n, call in enumerate(result.calls)
    ]
    ledger.found_now(job, "plan", f"sum.{key}", calls, by)
    return result
