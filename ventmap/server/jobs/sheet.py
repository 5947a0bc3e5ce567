"""From rows to core: the vehicle, the kit and the run sheet of a job."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.errors import BadInput, VentMapError
from ventmap.core.fuels import Fuel, blend
from ventmap.core.house_rules import HouseRules
from ventmap.core.quantities import parse
from ventmap.core.runsheet import Kit, RunSheet, SheetVehicle, Step, build

from ..shelf.models import ShelfItem
from ..shop.services import rules_of
from . import ledger
from .models import Job, StepDone, Timer


class NotFound(VentMapError):
    """There is no such thing; the address is wrong or it was removed."""


def job_by(number: str) -> Job:
    job = Job.objects.select_related("vehicle", "device", "injectors").filter(number=number).first()
    if job is None:
        raise NotFound(f"There is no job {number}.", "number")
    return job


def shelf(kind: str, key: str) -> ShelfItem:
    item = ShelfItem.objects.filter(kind=kind, key=key).first()
    if item is None:
        raise NotFound(f"There is no {kind} “{key}” on the shelf.", kind)
    return item


def rules(job: Job) -> HouseRules:
    return rules_of(job.rules)


def fuel(job: Job) -> Fuel:
    return blend(job.ethanol)


def vehicle_body(job: Job) -> dict[str, Any]:
    return job.vehicle.body


def run_sheet(job: Job) -> RunSheet:
    body = vehicle_body(job)
    device = job.device.body if job.device else {}
    kit = Kit(
        device.get("kind", ""), job.injectors.key if job.injectors else body.get("stock_injectors"),
        bool(device.get("hose", False)), float(device.get("off_s", 8.0)), float(body.get("rail_bolt_nm", 9.0)),
    )  # fmt: skip
    vehicle = SheetVehicle(int(body["cylinders"]), str(body["injection"]), bool(body["referenced_regulator"]))
    return build(vehicle, [kit], job.goal, rules(job))


def step_by(job: Job, key: str) -> Step:
    step = next((step for step in run_sheet(job).steps if step.key == key), None)
    if step is None:
        raise NotFound(f"The run sheet of job {job.number} has no step “{key}”.", "step")
    return step


def finish(job: Job, key: str, by: User, reading: float | None = None) -> bool:
    """Mark a step done; false where somebody was quicker."""
    _, fresh = StepDone.objects.get_or_create(job=job, key=key, defaults={"by": by, "reading": reading})
    if fresh:
        Timer.objects.filter(job=job, step=key, ended_at=None).update(ended_at=_now())
        ledger.touch(job)
    return fresh


def reopen(job: Job, key: str) -> None:
    StepDone.objects.filter(job=job, key=key).delete()
    ledger.touch(job)


@transaction.atomic
def do_step(job: Job, key: str, by: User, typed: str | None, unit: str | None, anyway: bool) -> None:
    """A person does a step: tick, reading within its limits, or a wait that is over.

    A reading outside its limits is a hold: it is entered, and the step stays open until it is right or overruled.
    """
    from .judging import reading_call

    step = step_by(job, key)
    if step.evidence == "auto":
        raise BadInput("This step is done by the work on its screen, not by a tick.", "step")
    value: float | None = None
    if step.reading is not None:
        if not typed or not typed.strip():
            raise BadInput(f"Enter the reading: {step.reading.label} in {step.reading.unit}.", "reading")
        value = parse(typed, step.reading.quantity, unit or step.reading.unit)
        call = reading_call(step, value)
        ledger.judge(job, step.stage, [call], by)
        if call.verdict != "go" and not anyway:
            return
    if step.evidence == "timer" and not anyway:
        running = Timer.objects.filter(job=job, step=key).order_by("-id").first()
        if running is None:
            Timer.objects.create(job=job, step=key, label=step.title, seconds=step.seconds, by=by)
            ledger.write(job, step.stage, "timer", f"Started: {step.title}", by, f"{step.seconds / 60:.0f} min")
            return
    if finish(job, key, by, value) and step.reading is None:
        ledger.write(job, step.stage, "tick", step.title, by)


@transaction.atomic
def undo_step(job: Job, key: str, by: User) -> None:
    step = step_by(job, key)
    if step.evidence == "auto":
        raise BadInput("This step follows from the work on its screen; do that again instead.", "step")
    reopen(job, key)
    ledger.withdraw(job, step.stage, f"step.{key}")
    ledger.write(job, step.stage, "undo", f"Taken back: {step.title}", by)


def _now() -> Any:
    from django.utils import timezone

    return timezone.now()
