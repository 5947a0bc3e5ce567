"""Before a write and after many: a dry run, and what was ever written to this vehicle."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db.models import Q
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import Evidence
from ventmap.core.runsheet import Act
from ventmap.link import wire
from ventmap.link.loader import dry_run

from ..jobs import gate, ledger, workshop
from ..jobs.models import Job, StepDone
from ..jobs.rows import job_by
from ..shop.access import full_name, person, worker
from ..shop.acts import waits
from .loaded import load_out
from .models import Load
from .services import newest

router = Router(tags=["load"])
READ_BACK = "load.read_back"


class DryRunOut(Schema):
    sentence: str
    seconds: float


class LoadLine(Schema):
    """A write to this vehicle, or what was set at a device of it and read back, in whichever job."""

    job: str
    what: str
    slot: int | None
    state: str
    by: str
    at: datetime


@router.post("/jobs/{number}/dry-runs", response=DryRunOut)
@waits("plays a write")
def post_dry_run(request: HttpRequest, number: str) -> Any:
    return rehearsed(job_by(number), worker(request))


@router.get("/jobs/{number}/load-history", response=list[LoadLine])
def get_history(request: HttpRequest, number: str) -> Any:
    person(request)
    return history(job_by(number))


def rehearsed(job: Job, by: User) -> dict[str, Any]:
    """Session, key and four blocks read, as a write begins; nothing is erased."""
    gate.ask(job, Act.power_on)
    newest(job)
    car = workshop.vehicle(job, "kit", warm=False)
    with workshop.line_taken(job.pk, "a dry run"), workshop.on_bus(car) as (tester, _):
        seconds = dry_run(tester, wire.FLASH_SIZE)
    ledger.write(
        job,
        "load",
        "reading",
        "Dry run: session and key accepted, nothing written",
        by,
        evidence=(Evidence("a write would take about", round(seconds, 1), unit="s"),),
    )
    told = (
        f"Session and key accepted, blocks answer. Nothing was written; a write takes about {seconds:.1f} s."
    )
    return {"sentence": told, "seconds": round(seconds, 2)}


def history(job: Job) -> list[dict[str, Any]]:
    """Every write to this vehicle, by its VIN or by its plate where it has none, and what was set at a device
    of it and read back; the newest first.
    """
    mine = Q(job=job)
    if job.vin:
        mine |= Q(job__vin=job.vin)
    elif job.registration:
        mine |= Q(job__registration=job.registration, job__vehicle=job.vehicle)
    rows = Load.objects.filter(mine).exclude(state="writing").select_related("job", "map", "firmware", "by")
    written = [
        {
            "job": row.job.number,
            "what": load_out(row)["what"],
            "slot": row.slot,
            "state": row.state,
            "by": full_name(row.by),
            "at": row.started_at,
        }
        for row in rows
    ]
    done = StepDone.objects.filter(mine, key__startswith=READ_BACK, set_aside="").select_related("job", "by")
    read_back = [
        {
            "job": row.job.number,
            "what": row.title.partition(": ")[2] or row.title,
            "slot": None,
            "state": row.words or "read back",
            "by": full_name(row.by),
            "at": row.at,
        }
        for row in done
    ]
    return sorted([*written, *read_back], key=lambda line: line["at"], reverse=True)
