"""What stands follows from what is: after every change of a job its evidence is held against today's facts.

A step whose facts are as they were stays done. Where one differs, a reading or a grid is judged again from
what was entered; anything else is open again, and the ledger says why.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User

from ventmap.core.runsheet import ASKED_OTHERWISE, Step, differs, rests, stands_on

from . import ledger
from .acting import whose
from .assemble import rules, run_sheet
from .grids import about, judge_again
from .judging import answer_call, reading_call, rule_of, step_of
from .memory import found_before, remember
from .models import Job, LedgerEntry, StepDone
from .rows import devices
from .steps import finish, read_anew, reopen

#: Facts that apps above the jobs know: what a map or a log adds to them.
FACTS: list[Callable[[Job], dict[str, Any]]] = []
#: Judgements of a whole job that are made again when a fact of theirs differs: name → (facts, again).
JUDGES: dict[str, tuple[Callable[[Job], dict[str, Any]], Callable[[Job, User], None]]] = {}


def facts(job: Job) -> dict[str, Any]:
    """What is true of a job now, in words."""
    kit = [item.name for item in devices(job)]
    goal = f"{job.power_goal_kw:g} kW" if job.power_goal_kw else "no power goal"
    octane = f"{job.ron:g} RON, " if job.ron else ""
    found: dict[str, Any] = {
        "variant": job.vehicle.name,
        "device": kit,
        "kit": ", ".join(kit),
        "injectors": job.injectors.name if job.injectors else "",
        "pump": job.pump.name if job.pump else "",
        "goal": f"{job.goal}, {goal}",
        "fuel": f"{octane}{100 * job.ethanol:.0f} % ethanol",
        "altitude": f"{job.altitude_m:g} m",
        "vin": job.vin,
        "house": mark(job.rules),
    }
    for more in FACTS:
        found |= more(job)
    return found


def refresh(given: Job) -> None:
    """Hold everything that stands against what is."""
    job = Job.objects.select_related("vehicle", "device", "injectors", "pump").filter(pk=given.pk).first()
    by = whose(given)
    if job is None or by is None:
        return
    remember(job)
    given.memory = job.memory
    _judges(job, by)
    now = facts(job)
    steps = {step.key: step for step in run_sheet(job).steps}
    for row in job.steps_done.all():
        step = steps.get(row.key)
        if step is None:
            continue
        basis = basis_of(job, step, row, now)
        if not row.rests:
            StepDone.objects.filter(pk=row.pk).update(rests=basis)
        elif row.rests != basis and (changed := differs(row.rests, basis)):
            _again(job, step, row, changed, by)
            StepDone.objects.filter(pk=row.pk).update(rests=basis)
    _open_ones(job, steps, now, by)
    _told_apart(job, steps, now)


def _open_ones(job: Job, steps: dict[str, Step], now: dict[str, Any], by: User) -> None:
    """What holds leaves its step open; it too is judged again by what was entered, or falls."""
    done = set(job.steps_done.values_list("key", flat=True))
    held: dict[str, LedgerEntry] = {}
    for entry in job.ledger.filter(standing=True, kind="call", rule__startswith="step.").order_by("id"):
        held.setdefault(step_of(entry.rule), entry)
    for key, entry in held.items():
        if key in done:
            continue
        step = steps.get(key)
        if step is None:
            # What it was found on is no part of this job now; if it comes back it is read anew. A stop found
            # on the vehicle itself is asked there still.
            every = job.ledger.filter(standing=True, kind="call", stage=entry.stage)
            found_before(job, [one for one in every if step_of(one.rule) == key])
            ledger.withdraw_step(job, entry.stage, key)
            ledger.write(job, entry.stage, "note", f"Not asked any more: {entry.title}", by)
            continue
        unknown = not entry.given and not _filled(step)
        basis = _basis(job, step, now, entered=not unknown)
        if entry.rests and (changed := differs(entry.rests, basis)):
            if changed == ASKED_OTHERWISE and unknown:
                continue  # nobody kept what was entered: it stands until it is read again
            _again(job, step, _as_entered(job, key, entry), changed, by)
            _done_by_it(job, step, entry, basis)
        if entry.rests != basis:
            job.ledger.filter(standing=True, rule=entry.rule).update(rests=basis)


def basis_of(job: Job, step: Step, row: StepDone, now: dict[str, Any]) -> dict[str, Any]:
    """What the evidence of a done step rests on."""
    entered = row.reading is not None or _filled(step)
    return _basis(job, step, now, entered=entered and not row.set_aside)


def _filled(step: Step) -> bool:
    return step.evidence == "grid"


def _basis(job: Job, step: Step, now: dict[str, Any], *, entered: bool) -> dict[str, Any]:
    """What a step's evidence rests on. A figure or a grid that somebody entered is judged by house rules and
    by the tools at hand too: by all of them, so that none is forgotten.
    """
    if not entered:
        return rests(step, now)
    whole = replace(step, about=about(job, step)) if _filled(step) else step
    basis = rests(whole, now)
    return {**basis, "asked": f"{basis['asked']} {now['house']}"}


def _told_apart(job: Job, steps: dict[str, Step], now: dict[str, Any]) -> None:
    """Each call carries what it rests on, and what had changed since its rule was judged before."""
    done = set(job.steps_done.values_list("key", flat=True))
    calls = job.ledger.filter(standing=True, kind="call").order_by("id")
    for pk, stage, rule, known in calls.values_list("id", "stage", "rule", "rests"):
        step = steps.get(step_of(rule)) if rule.startswith("step.") else None
        basis = _basis(job, step, now, entered=True) if step is not None else stands_on(rule, now)
        row = LedgerEntry.objects.filter(pk=pk)
        if not known:
            before = job.ledger.filter(stage=stage, rule=rule, standing=False).exclude(rests={}).first()
            changed = differs(before.rests, basis) if before is not None else ""
            row.update(rests=basis, changed="" if changed == ASKED_OTHERWISE else changed)
        elif known != basis and (step is None or step.key in done):
            row.update(rests=basis)  # found the same again, from what is now


def _as_entered(job: Job, key: str, entry: LedgerEntry) -> StepDone:
    """What was entered at a step that it did not end, as a row of its own that nobody keeps."""
    given = entry.given
    return StepDone(job=job, key=key, reading=given.get("reading"), answer=given.get("answer", ""))


def _done_by_it(job: Job, step: Step, entry: LedgerEntry, basis: dict[str, Any]) -> None:
    """What held then and is right now ends its step, at the time when it was read."""
    call = job.ledger.filter(standing=True, rule=rule_of(step.key)).first()
    if call is None or call.verdict != "go" or not entry.given:
        return
    at = entry.moment or entry.at
    finish(job, step.key, entry.by, entry.given.get("reading"), entry.given.get("answer", ""))
    StepDone.objects.filter(job=job, key=step.key).update(at=at, rests=basis)
    LedgerEntry.objects.filter(pk=call.pk).update(given=entry.given)


def _judges(job: Job, by: User) -> None:
    stood = dict(job.stood)
    #: Several judge by the same facts: they are asked once, until one of them has judged anew.
    asked: dict[Callable[[Job], dict[str, Any]], str] = {}
    for name, (known, again) in JUDGES.items():
        now = asked[known] if known in asked else mark(known(job))
        if name in stood and stood[name] != now:
            again(job, by)
            asked.clear()
            now = mark(known(job))
        stood[name] = asked[known] = now
    if stood != job.stood:
        Job.objects.filter(pk=job.pk).update(stood=stood)


def mark(known: dict[str, Any]) -> str:
    """Of facts, to see whether one differs."""
    return hashlib.sha256(json.dumps(known, sort_keys=True, default=str).encode()).hexdigest()[:16]


def noted(job: Job, name: str) -> None:
    """A judgement was made just now, from what is now."""
    stood = {**Job.objects.values_list("stood", flat=True).get(pk=job.pk), name: mark(JUDGES[name][0](job))}
    Job.objects.filter(pk=job.pk).update(stood=stood)


def _again(job: Job, step: Step, row: StepDone, changed: str, by: User) -> None:
    """Judge a step by what was entered, where that still answers what it asks; else it is open again."""
    if changed == ASKED_OTHERWISE and not row.set_aside and _judged(job, step, row, by):
        return
    read_anew(job, step.key)
    ledger.withdraw_step(job, step.stage, step.key)
    ledger.write(job, step.stage, "note", f"Open again: {step.title}", by, f"{changed}.")


def _judged(job: Job, step: Step, row: StepDone, by: User) -> bool:
    """Whether what was entered answers the step as it is asked now; judged where it does."""
    if step.evidence == "grid":
        return judge_again(job, step, by)
    if step.reading is not None and row.reading is not None:
        call = reading_call(step, row.reading, rules(job))
    elif step.evidence == "answer" and any(answer.key == row.answer for answer in step.answers):
        call = answer_call(step, row.answer)
    else:
        return step.evidence in ("tick", "timer", "photo", "auto", "words")
    ledger.judge(job, step.stage, [call], by, {"reading": row.reading, "answer": row.answer})
    if call.verdict != "go":
        reopen(job, step.key)
    return True
