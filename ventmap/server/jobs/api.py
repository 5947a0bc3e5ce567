"""Jobs: the floor, one job, its steps, timers and ledger; intake, plan, baseline."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from ventmap.core.basics import STAGE_KEYS, BadInput

from ..schemas import Done
from ..shop.access import lead, worker
from ..shop.acts import waits
from . import asks, baseline, floor, injector_choice, intake, ledger, rows, steps, views
from .acting import only_says
from .models import LedgerEntry, Timer
from .schemas import (
    AnswerIn,
    BaselineIn,
    BaselineOut,
    DoingOut,
    IntakeIn,
    JobOut,
    JobRow,
    LedgerOut,
    NewJob,
    NoteIn,
    OverruleIn,
    PlanIn,
    PlanOut,
    RunningOut,
    SetAsideIn,
    StepDoneIn,
)

router = Router(tags=["jobs"])


@router.get("/jobs", response=list[JobRow])
def jobs(request: HttpRequest) -> Any:
    return HttpResponse(floor.rows(), content_type="application/json; charset=utf-8")


@router.post("/jobs", response=JobRow)
def open_job(request: HttpRequest, body: NewJob) -> Any:
    return views.job_row(
        intake.open_job(body.vehicle, body.registration, body.owner, worker(request), body.vin, body.devices)
    )


@router.get("/jobs/{number}", response=JobOut)
def job(request: HttpRequest, number: str) -> Any:
    return views.job_answer(rows.job_by(number))


@router.get("/jobs/{number}/ledger", response=list[LedgerOut])
def whole_ledger(request: HttpRequest, number: str) -> Any:
    """Every entry of a job, newest first."""
    return [
        views.entry_out(entry) for entry in rows.job_by(number).ledger.select_related("by", "overruled_by")
    ]


@router.get("/jobs/{number}/revision", response=int)
def revision(request: HttpRequest, number: str) -> Any:
    """Grows with each change: a cheap way to see that somebody else did something."""
    return rows.job_by(number).revision


@router.put("/jobs/{number}/intake", response=JobOut)
def put_intake(request: HttpRequest, number: str, body: IntakeIn) -> Any:
    found = intake.save_intake(rows.job_by(number), body.dict(), worker(request))
    return views.job_answer(found)


@router.put("/jobs/{number}/steps/{key}/answers", response=JobOut)
def step_answer(request: HttpRequest, number: str, key: str, body: AnswerIn) -> Any:
    """Answer what a step asks; it stays with the thing it is about, for this job and the next."""
    found = rows.job_by(number)
    asks.answer(found, step=key, by=worker(request), **body.dict())
    return views.job_answer(rows.job_by(number))


@router.post("/jobs/{number}/steps/{key}/done", response=JobOut)
def step_done(request: HttpRequest, number: str, key: str, body: StepDoneIn) -> Any:
    found = rows.job_by(number)
    steps.do_step(found, key, worker(request), body.reading, body.unit, body.anyway, body.answer, body.words)
    return views.job_answer(rows.job_by(number))


@router.post("/jobs/{number}/steps/{key}/set-aside", response=JobOut)
def step_set_aside(request: HttpRequest, number: str, key: str, body: SetAsideIn) -> Any:
    """A step that does not apply to this job, with its reason."""
    steps.set_aside(rows.job_by(number), key, body.because, lead(request))
    return views.job_answer(rows.job_by(number))


@router.post("/jobs/{number}/steps/{key}/undo", response=JobOut)
def step_undo(request: HttpRequest, number: str, key: str) -> Any:
    steps.undo_step(rows.job_by(number), key, worker(request))
    return views.job_answer(rows.job_by(number))


@router.get("/timers", response=list[RunningOut])
def running_timers(request: HttpRequest) -> Any:
    """Every wait that runs, on any job: for the strip below every screen."""
    return [
        views.timer_out(timer) | {"job": timer.job.number}
        for timer in Timer.objects.filter(ended_at=None).select_related("job")
    ]


@router.post("/timers/{timer_id}/end", response=Done)
def end_timer(request: HttpRequest, timer_id: int) -> Any:
    user = worker(request)
    timer = Timer.objects.select_related("job").filter(pk=timer_id).first()
    if timer is None:
        raise rows.NotFound("This timer is gone.", "timer")
    if timer.ended_at is None:
        timer.ended_at = timezone.now()
        timer.save()
        ran = (timer.ended_at - timer.started_at).total_seconds()
        stage = timer.step.split(".")[0] or "fit"
        ledger.write(
            timer.job,
            stage,
            "timer",
            f"Ended: {timer.label}",
            user,
            f"ran {ran / 60:.1f} of {timer.seconds / 60:.0f} min",
        )
    if timer.step:
        steps.finish(timer.job, timer.step, user)
    return {"sentence": ""}


@router.post("/jobs/{number}/notes", response=JobOut)
def note(request: HttpRequest, number: str, body: NoteIn) -> Any:
    if not body.text.strip():
        raise BadInput("Write the note first.", "text")
    if body.stage not in STAGE_KEYS:
        raise BadInput("There is no such slat.", "stage")
    only_says()
    ledger.write(
        rows.job_by(number),
        body.stage,
        "note",
        body.text.strip()[:160],
        worker(request),
        body.text.strip()[160:],
    )
    return views.job_answer(rows.job_by(number))


@router.post("/ledger/{entry_id}/overrule", response=Done)
def overrule(request: HttpRequest, entry_id: int, body: OverruleIn) -> Any:
    user = worker(request)
    entry = LedgerEntry.objects.select_related("job").filter(pk=entry_id).first()
    if entry is None:
        raise rows.NotFound("This call is gone.", "entry")
    with transaction.atomic():
        ledger.overrule(entry, body.reason, user)
        steps.finish_overruled(entry, user)
    return {"sentence": ""}


@router.get("/jobs/{number}/plan", response=PlanOut)
def plan(request: HttpRequest, number: str) -> Any:
    return injector_choice.plan_out(rows.job_by(number))


@router.put("/jobs/{number}/plan", response=PlanOut)
def choose(request: HttpRequest, number: str, body: PlanIn) -> Any:
    found = rows.job_by(number)
    injector_choice.choose_injectors(found, body.injectors, worker(request))
    return injector_choice.plan_out(found)


@router.get("/jobs/{number}/baseline", response=BaselineOut)
def kept_baseline(request: HttpRequest, number: str) -> Any:
    return baseline.baseline_out(rows.job_by(number))


@router.post("/jobs/{number}/baseline", response=BaselineOut)
@waits("reads over the link")
def read_baseline(request: HttpRequest, number: str) -> Any:
    return baseline.read_baseline(rows.job_by(number), worker(request))


@router.put("/jobs/{number}/baseline", response=BaselineOut)
def enter_baseline(request: HttpRequest, number: str, body: BaselineIn) -> Any:
    """As another tester showed it, by hand."""
    codes = [(item.code.strip().upper(), item.status) for item in body.codes]
    return baseline.enter_baseline(
        rows.job_by(number),
        body.computer,
        body.calibration,
        body.vin,
        codes,
        worker(request),
        none_shown=body.none_shown,
    )


@router.get("/people/{username}/doings", response=list[DoingOut])
def doings(request: HttpRequest, username: str) -> Any:
    """What a person entered, judged or overruled, newest first."""
    rows = LedgerEntry.objects.filter(by__username=username).select_related("job")[:100]
    return [
        {"at": r.at, "job": r.job.number, "stage": r.stage, "title": r.title, "verdict": r.verdict}
        for r in rows
    ]
