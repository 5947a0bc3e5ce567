"""A job as the screens show it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

from django.http import HttpResponse

from ventmap.core.basics import STAGES, Device, slat, standard_pressure
from ventmap.core.needs import asks_at, open_asks
from ventmap.core.runsheet import Step, VehicleState, in_words

from ..shelf.services import record_of
from ..shop.access import full_name
from ..shop.looking import looking
from ..shop.people import with_people
from . import grids, ledger
from .asks import ask_out, known_out
from .assemble import linked, on_bench, run_sheet, runs_here, why_nothing
from .early import early
from .gate import barred
from .known import things_of
from .live import live_of
from .models import Job, LedgerEntry, StepDone, Timer
from .rows import LINE_PEOPLE, devices, standing_calls, steps_done, vehicle_of
from .schemas import JobOut

LEDGER_SHOWN = 120
#: Kind of device whose map comes from elsewhere.
REMOTE = "remote tuner"


def plate(job: Job) -> dict[str, Any]:
    device = " + ".join(item.name for item in devices(job)) or "no kit yet"
    injectors = job.injectors.name if job.injectors else ""
    return {
        "number": job.number,
        "vehicle": job.vehicle.name,
        "registration": job.registration,
        "vin": job.vin,
        "owner": job.owner,
        "odometer_km": job.odometer_km,
        "kit": ", ".join(filter(None, [device, injectors, job.pump.name if job.pump else ""])),
        "device": device,
        "injectors": injectors,
        "goal": job.goal,
        "power_goal_kw": job.power_goal_kw,
        "ron": job.ron,
        "ethanol": job.ethanol,
        "altitude_m": job.altitude_m,
        "barometer_kpa": round(standard_pressure(job.altitude_m), 1),
        "complaint": job.complaint,
        "standard": job.standard,
        "revision": job.revision,
        "changes": job.changes,
        "bench_engine": on_bench(job),
        "linked": linked(job),
        "runs_here": runs_here(job),
        "remote_tuner": any(REMOTE in record_of(item, Device).kind for item in devices(job)),
        "vehicle_key": job.vehicle.key,
        "petrol": vehicle_of(job).petrol,
        "practice": job.practice,
    }


def _link(job: Job) -> str:
    """What stands at the other end, for the strip along the bottom."""
    if linked(job):
        return "stand-in"
    return "stand-in, logged only" if runs_here(job) else "none, worked by hand"


def timer_out(timer: Timer) -> dict[str, Any]:
    return {
        "id": timer.pk,
        "step": timer.step,
        "label": timer.label,
        "seconds": timer.seconds,
        "started_at": timer.started_at,
        "ends_at": timer.started_at + timedelta(seconds=timer.seconds),
    }


def entry_out(entry: LedgerEntry) -> dict[str, Any]:
    may = entry.kind == "call" and entry.standing and entry.overruled_by_id is None and entry.verdict != "go"
    return {
        "id": entry.pk,
        "stage": entry.stage,
        "kind": entry.kind,
        "at": entry.at,
        "who": full_name(entry.by),
        "title": entry.title,
        "text": entry.text,
        "rule": entry.rule,
        "verdict": entry.verdict,
        "evidence": entry.evidence,
        "source": entry.source,
        "protects": entry.protects,
        "rests": in_words(entry.rests) if entry.standing else [],
        "changed": entry.changed,
        "standing": entry.standing,
        "may_be_overruled": may and ledger.as_call(entry).may_be_overruled,
        "overruled_by": full_name(entry.overruled_by) if entry.overruled_by else "",
        "overruled_reason": entry.overruled_reason,
        "overruled_at": entry.overruled_at,
    }


def on_what(state: dict[str, Any]) -> str:
    """What was in and on the vehicle when something was read on it, in one line."""
    was = VehicleState.of(state)
    return was.words if was is not None else ""


def ledger_out(job: Job) -> dict[str, Any]:
    """The newest entries and every call that stands, however old; and how many are left out."""
    entries = job.ledger.defer("given")
    shown = with_people(entries[:LEDGER_SHOWN], *LINE_PEOPLE)
    if len(shown) < LEDGER_SHOWN:
        return {"ledger": [entry_out(e) for e in shown], "ledger_older": 0}
    older = entries.filter(pk__lt=shown[-1].pk)
    standing = [entry for entry in standing_calls(job) if entry.pk < shown[-1].pk]
    return {
        "ledger": [entry_out(e) for e in (*shown, *standing)],
        "ledger_older": older.count() - len(standing),
    }


def step_out(
    step: Step,
    done: StepDone | None,
    waits_for: str = "",
    shows: Sequence[str] = (),
    asks: Sequence[dict[str, Any]] = (),
    known: Sequence[dict[str, Any]] = (),
    live: str = "",
) -> dict[str, Any]:
    return {
        "live": live,
        "asks": list(asks),
        "known": list(known),
        "answers": [vars(answer) for answer in step.answers],
        "grid": step.grid,
        "beware": step.beware,
        "tools": list(step.tools),
        "consumables": list(step.consumables),
        "minutes": step.minutes,
        "waits_for": waits_for,
        "answer": done.answer if done else "",
        "words": done.words if done else "",
        "hint": step.hint,
        "set_aside": done.set_aside if done else "",
        "safety": step.safety,
        "aside": step.aside,
        "firm": step.firm,
        "because": step.because,
        "shows": list(shows),
        "key": step.key,
        "stage": step.stage,
        "title": step.title,
        "do": step.do,
        "know": step.know,
        "wrong": step.wrong,
        "evidence": step.evidence,
        "caution": step.caution,
        "reading": vars(step.reading) if step.reading else None,
        "seconds": step.seconds,
        "done": done is not None,
        "by": full_name(done.by) if done else "",
        "at": done.at if done else None,
        "value": done.reading if done else None,
        "on": on_what(done.state) if done else "",
    }


def slats(job: Job, steps: list[Step], done: set[str]) -> list[dict[str, Any]]:
    standing: dict[str, list[LedgerEntry]] = {}
    for entry in standing_calls(job):
        standing.setdefault(entry.stage, []).append(entry)
    found = []
    for stage in STAGES:
        keys = [step.key for step in steps if step.stage == stage.key]
        calls = ledger.standing_calls(standing.get(stage.key, []))
        found.append(vars(slat(stage, sum(key in done for key in keys), len(keys), calls)))
    return found


def job_out(job: Job) -> dict[str, Any]:
    """The whole job: plate, slats, steps, timers, ledger, next step."""
    with looking():
        return _job_out(job)


def job_answer(job: Job) -> HttpResponse:
    """The whole job as it is sent, checked and written in one go: every screen asks for it all the time."""
    body = JobOut.model_validate(job_out(job)).model_dump_json()
    return HttpResponse(body, content_type="application/json; charset=utf-8")


def _job_out(job: Job) -> dict[str, Any]:
    sheet = run_sheet(job)
    done = {entry.key: entry for entry in steps_done(job)}
    upcoming = sheet.next_open(list(done))
    too_early, stopped = early(job), barred(job)
    titles = {step.key: step.title for step in sheet.steps}

    asked_of = {step.stage for step in sheet.steps}

    def gate(step: Step) -> str:
        return next((titles[key] for key in step.needs if key in titles and key not in done), "")

    things = things_of(job)
    open_ = open_asks(things)

    def asked(step: Step) -> list[dict[str, Any]]:
        return [ask_out(ask) for ask in asks_at(step.key, open_)]

    def shown(step: Step) -> list[str]:
        return grids.result_words(job, step.shows) if step.shows else []

    return {
        "plate": plate(job),
        "slats": [
            {
                **shown,
                "early": too_early.get(shown["key"]),
                "barred": stopped.get(shown["key"]),
                "absent": "" if shown["key"] in asked_of else why_nothing(job, shown["key"]),
            }
            for shown in slats(job, list(sheet.steps), set(done))
        ],
        "steps": [
            step_out(
                step,
                done.get(step.key),
                gate(step),
                shown(step),
                asked(step),
                known_out(step.key, things),
                live_of(job, step),
            )
            for step in sheet.steps
        ],
        "kept": [
            {
                "key": key,
                "title": row.title or key,
                "by": full_name(row.by),
                "at": row.at,
                "value": row.reading,
            }
            for key, row in done.items()
            if key not in titles
        ],
        "next": step_out(upcoming, None, gate(upcoming), (), asked(upcoming), (), live_of(job, upcoming))
        if upcoming
        else None,
        "timers": [timer_out(timer) for timer in job.timers.filter(ended_at=None)],
        **ledger_out(job),
        "link": _link(job),
    }


def job_row(job: Job) -> dict[str, Any]:
    """One job on the floor."""
    sheet = run_sheet(job)
    done = set(job.steps_done.values_list("key", flat=True))
    upcoming = sheet.next_open(list(done))
    strip = slats(job, list(sheet.steps), done)
    stage = upcoming.stage if upcoming else "hand-over"
    return {
        "number": job.number,
        "vehicle": job.vehicle.name,
        "registration": job.registration,
        "owner": job.owner,
        "kit": plate(job)["kit"],
        "goal": job.goal,
        "slats": strip,
        "stage": stage,
        "stage_label": next(s.label for s in STAGES if s.key == stage),
        "next": upcoming.title if upcoming else "All done",
        "timers": [timer_out(timer) for timer in job.timers.filter(ended_at=None)],
        "holds": sum(s["state"] == "held" for s in strip),
        "practice": job.practice,
        "stops": sum(s["state"] == "stopped" for s in strip),
    }
