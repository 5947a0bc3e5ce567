"""Firmware of the kit's computer: brought or fetched, judged, and what its writes put in."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Computer
from ventmap.core.forms import Firmware, firmware_call, read_firmware
from ventmap.core.runsheet import Act

from .. import bench
from ..jobs import gate, ledger, workshop
from ..jobs.acting import changing
from ..jobs.models import Job
from ..jobs.rows import device_of, job_by
from ..schemas import CallOut, call_out
from ..shop.access import worker
from ..shop.acts import waits
from .models import FirmwareFile, Load
from .services import calibration_of, newest

router = Router(tags=["load"])
RULE = "load.firmware_file"


class FirmwareOffer(Schema):
    file: str
    title: str
    issued: str


class FirmwareOut(Schema):
    """What is in, what the map asks for, the file at hand with its call, and what the supplier offers."""

    answered: str
    minimum: str
    version: str
    crc32: str
    call: CallOut | None
    writable: bool
    offers: list[FirmwareOffer]


class OfferIn(Schema):
    file: str


@router.get("/jobs/{number}/firmware", response=FirmwareOut)
def get_firmware(request: HttpRequest, number: str) -> Any:
    return firmware_out(job_by(number))


@router.put("/jobs/{number}/firmware", response=FirmwareOut)
@waits("reads a file and asks over the link")
def bring_firmware(request: HttpRequest, number: str) -> Any:
    """A firmware file, sent as it is."""
    job, by = job_by(number), worker(request)
    gate.ask(job, Act.power_on)
    return keep(job, request.body, by)


@router.post("/jobs/{number}/firmware", response=FirmwareOut)
@waits("asks over the link")
def fetch_firmware(request: HttpRequest, number: str, body: OfferIn) -> Any:
    """Fetch a firmware that the supplier offers."""
    job, by = job_by(number), worker(request)
    gate.ask(job, Act.power_on)
    far = bench.catalogue()
    if not any(one.file == body.file and one.kind == "firmware" for one in far.listed()):
        raise BadInput("The catalogue offers no such firmware.", "file")
    return keep(job, far.fetch(body.file), by)


def keep(job: Job, data: bytes, by: User) -> dict[str, Any]:
    """Take a firmware file in hand; another computer's is refused and not kept."""
    file = read_firmware(data)
    call = _call(job, file)
    if call.verdict == "stop":
        raise BadInput(f"{call.title}: {call.do_next}", "file")
    with changing(job):
        FirmwareFile.objects.create(
            job=job, computer=file.computer, version=file.version, image=file.image, by=by
        )
        ledger.judge(job, "load", [call], by)
    return firmware_out(job)


def cut_firmware(job: Job) -> bool:
    """Whether the last write of firmware was cut, and nothing mended it since."""
    row = Load.objects.filter(job=job).exclude(firmware=None).exclude(state="writing").first()
    return row is not None and row.state != "verified"


def answered(job: Job) -> str:
    """Version that the computer answers now; empty where it answers nothing."""
    with workshop.direct(job, "kit", warm=False) as (tester, _):
        return tester.identity()["firmware"]


def _call(job: Job, file: Firmware) -> Any:
    device = device_of(job)
    if not isinstance(device, Computer):
        raise BadInput("Firmware is written here to a computer of the kit alone.", "device")
    minimum = calibration_of(newest(job)).identity.minimum_firmware
    return firmware_call(file, device.computer, answered(job), minimum)


def in_hand(job: Job) -> FirmwareFile:
    """The file that would be written.

    Raises
    ------
    BadInput
        Where none is at hand.
    """
    row = FirmwareFile.objects.filter(job=job).last()
    if row is None:
        raise BadInput("Bring the firmware file, or fetch it from the supplier, first.", "firmware")
    return row


def may_write(job: Job) -> FirmwareFile:
    """The file at hand, where its call allows it: a hold needs its reason, unless it mends a cut one."""
    row = in_hand(job)
    call = _call(job, read_firmware(bytes(row.image)))
    aside = ledger.is_aside(job, "load")(call)
    if call.verdict == "stop" or (call.verdict == "hold" and not aside and not cut_firmware(job)):
        raise BadInput(f"{call.title}: {call.do_next}", "firmware")
    return row


def firmware_out(job: Job) -> dict[str, Any]:
    device = device_of(job)
    row = FirmwareFile.objects.filter(job=job).last()
    call = _call(job, read_firmware(bytes(row.image))) if row is not None else None
    own = device.computer if isinstance(device, Computer) else ""
    far = bench.catalogue()
    listed = [one for one in far.listed() if one.kind == "firmware"]
    offers = [one for one in listed if read_firmware(far.read(one)).computer == own]
    try:
        may = row is not None and may_write(job) is not None
    except BadInput:
        may = False
    return {
        "answered": answered(job),
        "minimum": calibration_of(newest(job)).identity.minimum_firmware,
        "version": row.version if row else "",
        "crc32": read_firmware(bytes(row.image)).crc32 if row else "",
        "call": call_out(call) if call is not None else None,
        "writable": may,
        "offers": [{"file": one.file, "title": one.title, "issued": one.issued} for one in offers],
    }
