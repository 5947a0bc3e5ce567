"""A link that does not come up, looked at rung by rung; what was found stands until the computer answers."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import parse
from ventmap.core.electrics import climb, rungs

from ..jobs import ledger
from ..jobs.models import Job
from ..jobs.rows import device_of, job_by
from ..schemas import CallOut, call_out
from ..shop.access import worker

router = Router(tags=["load"])


class RungOut(Schema):
    key: str
    ask: str
    mend: str


class LadderIn(Schema):
    answers: dict[str, bool]
    ohms: str = ""
    """Between the two wires of the bus, power off; empty where it was not measured."""


class LadderOut(Schema):
    call: CallOut


def _kind(job: Job) -> str:
    device = device_of(job)
    return device.kind if device else ""


@router.get("/jobs/{number}/link-ladder", response=list[RungOut])
def ladder(request: HttpRequest, number: str) -> Any:
    """What is looked at, in the order for this kind of device."""
    return [vars(rung) for rung in rungs(_kind(job_by(number)))]


@router.post("/jobs/{number}/link-ladder", response=LadderOut)
def climbed(request: HttpRequest, number: str, body: LadderIn) -> Any:
    job, by = job_by(number), worker(request)
    ohms = parse(body.ohms, "resistance") if body.ohms.strip() else None
    call = climb(_kind(job), body.answers, ohms)
    with transaction.atomic():
        ledger.judge(job, "load", [call], by)
    return {"call": call_out(call)}
