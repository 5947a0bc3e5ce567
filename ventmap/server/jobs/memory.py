"""What a job remembers of its vehicle: kept after every change, by the sheet that was asked then."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from ventmap.core.runsheet import (
    ACCESS,
    EARLIER,
    FUEL_GATE,
    ON_IT,
    Begun,
    ChecksAsked,
    Memory,
    mistaken,
    off,
    remembered,
)

from . import ledger
from .assemble import run_sheet
from .models import GridEntry, Job, LedgerEntry, StepDone
from .steps import UNDONE, reopen


def memory_of(job: Job) -> Memory:
    return Memory.from_json(job.memory)


def remember(job: Job) -> None:
    """Keep what was begun and what is off; what the step for earlier work asks no more, it forgets."""
    steps = run_sheet(job).steps
    was = memory_of(job)
    rows = {row.step: row.data for row in job.grids.filter(step__startswith="fit.")}
    way_in = next((step for step in steps if step.key == ACCESS), None)
    _keep(
        job,
        replace(
            was,
            begun=remembered(was.begun, steps, _done(job), {key for key, data in rows.items() if data}),
            off=tuple(off(was.off, way_in, rows.get(ACCESS, {}).get("rows", []))),
        ),
    )
    _forget_answers(job, rows.get(EARLIER))


def _done(job: Job) -> set[str]:
    return set(job.steps_done.filter(set_aside="").values_list("key", flat=True))


def _keep(job: Job, memory: Memory) -> None:
    kept = memory.to_json()
    if kept != job.memory:
        job.memory = kept
        Job.objects.filter(pk=job.pk).update(memory=kept)


def _forget_answers(job: Job, data: dict[str, object] | None) -> None:
    """An answer was given of work that no sheet asked; once one asks it again the answer is no answer."""
    answers = dict(data.get("answers", {})) if data else {}  # type: ignore[call-overload]
    about = next((step.about for step in run_sheet(job).steps if step.key == EARLIER), None)
    asked = {row.key for row in about.rows} if isinstance(about, ChecksAsked) else set()
    if set(answers) <= asked:
        return
    row = GridEntry.objects.get(job=job, step=EARLIER)
    row.data, row.revision = {"answers": {k: v for k, v in answers.items() if k in asked}}, row.revision + 1
    row.save()
    reopen(job, EARLIER)
    ledger.withdraw_step(job, "fit", EARLIER)


def found_before(job: Job, entries: Iterable[LedgerEntry]) -> None:
    """Stops found on the vehicle at steps that its sheet asks no more: they are asked of it still."""
    found = [
        Begun(f"{entry.rule.removeprefix('step.')}#{entry.pk}", entry.title[:120], found=entry.text)
        for entry in entries
        if entry.stage in ON_IT and entry.verdict == "stop" and entry.overruled_by_id is None
    ]
    if found:
        was = memory_of(job)
        _keep(job, replace(was, begun=(*was.begun, *found)))


def _taken_back(job: Job, key: str) -> None:
    """A relief that was never done, and nothing of Fit touched since: no fuel is open."""
    if key in FUEL_GATE:
        was = memory_of(job)
        filled = job.grids.filter(step__startswith="fit.").values_list("step", flat=True)
        done = StepDone.objects.filter(job=job).values_list("key", flat=True)
        _keep(job, replace(was, begun=mistaken(was.begun, list(done), list(filled))))


UNDONE.append(_taken_back)
