"""The cold starts of the days after the first: when each is due, its short log, and how it is judged."""

from __future__ import annotations

import hashlib
import uuid
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.contrib.auth.models import User
from django.http import FileResponse, HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Call, Verdict, worst
from ventmap.core.findings import cold_start_calls, read_cold_start
from ventmap.core.logs import Log
from ventmap.core.runsheet import Act
from ventmap.link.logger import capture, plan_for, to_log
from ventmap.link.tester import Tester

from .. import bench
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.assemble import linked, rules, runs_here
from ..jobs.idle import idle_of
from ..jobs.models import Job, StepDone
from ..jobs.rows import NotFound, devices, job_by, vehicle_of
from ..maps.boxes import runs_beside
from ..maps.loaded import loaded_map
from ..schemas import CallOut, call_out
from ..shop import kept_files
from ..shop.access import full_name, person, worker
from ..shop.acts import waits
from ..shop.apart import read_apart
from . import store
from .models import ColdStart
from .reading import read_short

router = Router(tags=["logs"])
#: Cold starts asked for, a day each; the steps from which they are counted.
WANTED = 3
BEGUN_BY = ("first-start.start", "first-start.running")
#: A start and half a minute are short: more is another log.
MOST_BYTES = 8_000_000
LEGS = (("start", 8.0), ("idle", 30.0))


class ColdStartOut(Schema):
    """One cold start: `state` is ``done``, ``due`` or ``later``."""

    number: int
    due: date
    state: Literal["done", "due", "later"]
    verdict: Verdict | Literal[""] = ""
    calls: list[CallOut] = []
    name: str = ""
    by: str = ""
    at: datetime | None = None


class ColdStartsOut(Schema):
    """The cold starts of a job; empty before its first start. `captured`: whether they can be logged here."""

    starts: list[ColdStartOut]
    captured: bool
    next: int | None


class DueOut(Schema):
    job: str
    vehicle: str
    registration: str
    number: int
    due: date


@router.get("/jobs/{number}/cold-starts", response=ColdStartsOut)
def get_cold_starts(request: HttpRequest, number: str) -> Any:
    return cold_starts(job_by(number))


@router.post("/jobs/{number}/cold-starts", response=ColdStartsOut)
@waits("runs the engine")
def capture_cold_start(request: HttpRequest, number: str) -> Any:
    """Start it cold on the stand-in and log that."""
    return captured(job_by(number), worker(request))


@router.put("/jobs/{number}/cold-starts", response=ColdStartsOut)
@waits("reads a file")
def bring_cold_start(request: HttpRequest, number: str, name: str) -> Any:
    """A short log of a cold start, sent as it is."""
    return brought(job_by(number), request.body, name, worker(request))


@router.get("/jobs/{number}/cold-starts/{place}/file")
def cold_start_file(request: HttpRequest, number: str, place: int) -> Any:
    person(request)
    row = ColdStart.objects.filter(job=job_by(number), number=place).first()
    if row is None:
        raise NotFound(f"Job {number} has no log of cold start {place}.", "place")
    return FileResponse(row.file.open("rb"), as_attachment=True, filename=row.name)


@router.get("/follow-ups", response=list[DueOut])
def follow_ups(request: HttpRequest) -> Any:
    """Cold starts that are due today or were before, over all jobs; the oldest first."""
    person(request)
    today = timezone.localdate()
    rows = StepDone.objects.filter(key__in=BEGUN_BY, set_aside="", job__practice=False)
    jobs = {row.job_id: row.job for row in rows.select_related("job__vehicle", "job__device")}
    found = []
    for job in jobs.values():
        due = next((one for one in cold_starts(job)["starts"] if one["state"] == "due"), None)
        if due is not None and due["due"] <= today:
            found.append(
                {
                    "job": job.number,
                    "vehicle": job.vehicle.name,
                    "registration": job.registration,
                    "number": due["number"],
                    "due": due["due"],
                }
            )
    return sorted(found, key=lambda one: (one["due"], one["job"]))


def begun(job: Job) -> date | None:
    """The day on which it first ran with this kit."""
    row = job.steps_done.filter(key__in=BEGUN_BY, set_aside="").order_by("at").first()
    return timezone.localdate(row.at) if row is not None and devices(job) else None


def cold_starts(job: Job) -> dict[str, Any]:
    """Every cold start of a job: done, due or later."""
    first = begun(job)
    if first is None:
        return {"starts": [], "captured": False, "next": None}
    kept = {row.number: row for row in job.cold_starts.select_related("by")}
    place = next((n for n in range(1, WANTED + 1) if n not in kept), None)
    today = timezone.localdate()
    last = first
    starts: list[dict[str, Any]] = []
    for n in range(1, WANTED + 1):
        row = kept.get(n)
        due = row.day if row is not None else last + timedelta(days=1)
        last = due
        state = "done" if row is not None else "due" if n == place and due <= today else "later"
        starts.append({"number": n, "due": due, "state": state} | (_kept(row) if row is not None else {}))
    return {"starts": starts, "captured": runs_here(job), "next": place}


def _kept(row: ColdStart) -> dict[str, Any]:
    return {
        "verdict": row.verdict,
        "calls": row.calls,
        "name": row.name,
        "by": full_name(row.by),
        "at": row.at,
    }


def _place(job: Job) -> tuple[int, date]:
    """Which cold start a log of today is: today's own, made again, or the next.

    Raises
    ------
    BadInput
        Before the first start, on its very day, or after the last.
    """
    first, today = begun(job), timezone.localdate()
    if first is None:
        raise BadInput("It has not run with this kit yet: first start it and judge its idle.", "day")
    if today <= first:
        raise BadInput("It first ran today: the first cold start is tomorrow's, after a night.", "day")
    again = job.cold_starts.filter(day=today).first()
    if again is not None:
        return again.number, today
    done = job.cold_starts.count()
    if done >= WANTED:
        raise BadInput(f"All {WANTED} cold starts are on record.", "day")
    return done + 1, today


def captured(job: Job, by: User) -> dict[str, Any]:
    """Start the pretend vehicle cold and judge it.

    Raises
    ------
    BadInput
        Where it does not run here, or no cold start is due.
    """
    gate.ask(job, Act.start)
    place, day = _place(job)
    if not runs_here(job):
        raise BadInput("This kit does not run here: bring the log of its cold start.", "link")
    if linked(job):
        loaded_map(job)
        car = workshop.vehicle(job, "kit", warm=False)
    else:
        car = workshop.beside(job, [calibration for _, _, calibration in runs_beside(job)], warm=False)
    rows = []
    with workshop.line_taken(job.pk, "a cold start"):
        line = bench.DirectLine(car, car.drive([bench.Leg(kind, seconds) for kind, seconds in LEGS]))
        for row in capture(Tester(line), plan_for(bench.asked_of(car))):
            rows.append(row)
            if line.ended:
                break
        car.computer.power(False)
    name = f"cold start {place}.csv"
    log = to_log(rows, name)
    return _keep(job, place, day, store.as_csv(log), name, log, by)


def brought(job: Job, data: bytes, name: str, by: User) -> dict[str, Any]:
    """A short log that somebody brings."""
    place, day = _place(job)
    if len(data) > MOST_BYTES:
        raise BadInput("A cold start is half a minute: cut the log to it and bring that.", "file")
    log = read_apart(read_short, data, name, job.altitude_m, size=len(data))
    return _keep(job, place, day, data, name, log, by)


def _keep(job: Job, place: int, day: date, data: bytes, name: str, log: Log, by: User) -> dict[str, Any]:
    vehicle = vehicle_of(job)
    idle = idle_of(job)
    if idle is None:
        raise BadInput("Its idle speed is not known yet: enter it with the vehicle first.", "idle_rpm")
    seen = read_cold_start(log, idle)
    calls = cold_start_calls(seen, idle, petrol=vehicle.petrol, rules=rules(job))
    digest = hashlib.sha256(data).hexdigest()
    if job.cold_starts.exclude(number=place).filter(sha256=digest).exists():
        raise BadInput("This is the log of another night: each cold start is one of its own.", "file")
    path: Path = store.folder() / f"{uuid.uuid4().hex}.cold"
    kept_files.put(path, data)
    try:
        with changing(job):
            for row in job.cold_starts.filter(number=place):
                row.delete()
            ColdStart.objects.create(
                job=job,
                number=place,
                day=day,
                name=name[:200],
                path=str(path.relative_to(settings.MEDIA_ROOT)),
                sha256=digest,
                calls=[call_out(call) for call in calls],
                verdict=worst(calls).value,
                by=by,
            )
            _tell(job, place, calls, by)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return cold_starts(job)


def _tell(job: Job, place: int, calls: list[Call], by: User) -> None:
    """What does not hold stands in the ledger until the next cold start is sound; the rest is one line."""
    ledger.withdraw(job, "hand-over", "cold.")
    faults = [call for call in calls if call.verdict != "go"]
    if faults:
        ledger.judge(job, "hand-over", faults, by)
    ledger.write(
        job,
        "hand-over",
        "log",
        f"Cold start {place}: {'something holds' if faults else 'go'}",
        by,
        evidence=tuple(item for call in calls for item in call.because),
    )
