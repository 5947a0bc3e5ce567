"""Opening a job on anything, and taking into a kit what no shelf knows yet."""

from __future__ import annotations

from typing import Any, Literal

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ..shop.access import worker
from . import intake, keeping, unknown, views
from .rows import job_by
from .schemas import JobOut, JobRow

router = Router(tags=["jobs"])


class NewVehicleIn(Schema):
    """Kind, name and eight taps; a tap left out is not known yet."""

    name: str
    kind: Literal["car", "van", "pickup", "motorcycle", "watercraft", "sled", "side-by-side", "quad"]
    cylinders: int
    banks: int | None = None
    displacement: str = ""
    unit: str = ""
    stroke: Literal[2, 4]
    rotary: bool = False
    cooling: Literal["coolant", "air"] | None = None
    injection: Literal["port", "direct", "both", "diesel"]
    induction: Literal["none", "turbo", "blower"]
    throttle: Literal["cable", "electronic"] | None = None
    load_sensing: Literal["pressure", "airflow"] | None = None
    registration: str = ""
    owner: str = ""


class NewDeviceIn(Schema):
    kind: str
    name: str


class NewPumpIn(Schema):
    name: str


class NewInjectorsIn(Schema):
    """A sheet as it is typed, each figure in its unit or in the one named beside."""

    name: str
    flow: str
    flow_unit: str = ""
    rated: str
    rated_unit: str = ""
    fluid: Literal["petrol", "n-heptane", "diesel test oil"]
    ohms: str = ""
    dead_time: str = ""
    """The table as it was copied off the sheet."""
    source: Literal["maker's sheet", "measured here", "guessed"]
    stock: bool = False
    """They are the ones that are in."""


@router.post("/jobs/unknown", response=JobRow)
def open_unknown(request: HttpRequest, body: NewVehicleIn) -> Any:
    """A job on a vehicle that the shelf has never seen: it goes onto the shelf with what is known."""
    by = worker(request)
    with transaction.atomic():
        item = unknown.new_vehicle(body.dict(), by)
        job = intake.open_job(item.key, body.registration, body.owner, by)
    return views.job_row(job)


class LearnedOut(Schema):
    id: str
    name: str
    title: str
    shown: str
    why: str


class KeepIn(Schema):
    keep: list[str]


class VariantIn(Schema):
    """What tells this one from the one on the shelf: what is looked at, what it shows here, and there."""

    name: str
    tell_tale: str
    here: str
    there: str


def _learned(number: str) -> list[dict[str, str]]:
    return [
        {"id": item.id, "name": item.name, "title": item.title, "shown": item.shown, "why": item.why}
        for item in keeping.offers(job_by(number))
    ]


@router.get("/jobs/{number}/learned", response=list[LearnedOut])
def learned(request: HttpRequest, number: str) -> Any:
    """What this job found out that the next one of its kind need not find out again."""
    return _learned(number)


@router.post("/jobs/{number}/learned", response=list[LearnedOut])
def keep_learned(request: HttpRequest, number: str, body: KeepIn) -> Any:
    keeping.keep(job_by(number), body.keep, worker(request))
    return _learned(number)


@router.post("/jobs/{number}/variant", response=JobOut)
def new_variant(request: HttpRequest, number: str, body: VariantIn) -> Any:
    """This one differs from the one on the shelf."""
    by = worker(request)
    keeping.new_variant(job_by(number), body.name, body.tell_tale, body.here, body.there, by)
    return views.job_answer(job_by(number))


@router.post("/jobs/{number}/kit/new-device", response=JobOut)
def new_device(request: HttpRequest, number: str, body: NewDeviceIn) -> Any:
    unknown.new_device(job_by(number), body.kind, body.name, worker(request))
    return views.job_answer(job_by(number))


@router.post("/jobs/{number}/kit/new-pump", response=JobOut)
def new_pump(request: HttpRequest, number: str, body: NewPumpIn) -> Any:
    unknown.new_pump(job_by(number), body.name, worker(request))
    return views.job_answer(job_by(number))


@router.post("/jobs/{number}/kit/new-injectors", response=JobOut)
def new_injectors(request: HttpRequest, number: str, body: NewInjectorsIn) -> Any:
    unknown.new_injectors(job_by(number), body.dict(), worker(request))
    return views.job_answer(job_by(number))
