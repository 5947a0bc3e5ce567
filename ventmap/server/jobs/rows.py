"""Rows looked up: jobs, things on the shelf, and the records they stand for."""

from __future__ import annotations

from ventmap.core.basics import Device, Injector, Pump, Vehicle, VentMapError

from ..shelf.models import ShelfItem
from ..shelf.services import record_of
from ..shop.looking import once_a_look, until_written
from ..shop.people import with_people
from .models import Job, LedgerEntry, StepDone

#: Ignition off until a stock computer has written its memory, where no device says otherwise [s].
STOCK_OFF_S = 8.0
#: Whom a line of the ledger names.
LINE_PEOPLE = ("by", "overruled_by")


class NotFound(VentMapError):
    """There is no such thing; the address is wrong or it was removed."""


def job_by(number: str) -> Job:
    job = Job.objects.select_related("vehicle", "device", "injectors", "pump").filter(number=number).first()
    if job is None:
        raise NotFound(f"There is no job {number}.", "number")
    return job


def shelf(kind: str, key: str) -> ShelfItem:
    item = ShelfItem.objects.filter(kind=kind, key=key).first()
    if item is None:
        raise NotFound(f"There is no {kind} “{key}” on the shelf.", kind)
    return item


@until_written
def _devices_by(keys: tuple[str, ...]) -> dict[str, ShelfItem]:
    return {item.key: item for item in ShelfItem.objects.filter(kind="device", key__in=keys)}


@once_a_look
def devices(job: Job) -> list[ShelfItem]:
    """The main device first."""
    if not job.also:
        return [job.device] if job.device else []
    also = _devices_by(tuple(job.also))
    return [*([job.device] if job.device else []), *(also[key] for key in job.also if key in also)]


@once_a_look
def steps_done(job: Job) -> list[StepDone]:
    """What stands as done, with who did it."""
    return with_people(job.steps_done.all(), "by")


@once_a_look
def standing_calls(job: Job) -> list[LedgerEntry]:
    """Every call that stands, the newest first."""
    return with_people(job.ledger.filter(kind="call", standing=True), *LINE_PEOPLE)


def vehicle_of(job: Job) -> Vehicle:
    return record_of(job.vehicle, Vehicle)


def device_of(job: Job) -> Device | None:
    """The main device."""
    return record_of(job.device, Device) if job.device else None


def injectors_of(job: Job) -> Injector | None:
    return record_of(job.injectors, Injector) if job.injectors else None


def pump_of(job: Job) -> Pump | None:
    return record_of(job.pump, Pump) if job.pump else None


def new_injectors(job: Job) -> bool:
    """Others than the stock set were chosen."""
    return job.injectors is not None and job.injectors.key != vehicle_of(job).stock_injectors


def off_time(job: Job) -> float:
    """The device's own ignition-off time [s]."""
    device = device_of(job)
    return device.off_s if device is not None and device.off_s is not None else STOCK_OFF_S
