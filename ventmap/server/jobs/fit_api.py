"""Grids, photos and the kit of a job."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from ventmap.core.basics import BadInput, Verdict
from ventmap.core.vehicle import FitResult

from ..schemas import CallOut, Done, FitReasonOut
from ..shop.access import lead, worker
from ..shop.acts import asks, waits
from . import grids, kit, photos
from .rows import job_by

router = Router(tags=["fit"])


class GridOut(Schema):
    name: str
    about: dict[str, Any]
    data: dict[str, Any]
    unfit: str
    """What was entered before no longer fits what is asked; empty where it does."""
    revision: int
    by: str
    at: datetime | None
    view: dict[str, Any]
    calls: list[CallOut]
    verdict: Verdict
    complete: bool


class GridIn(Schema):
    data: dict[str, Any]
    revision: int = 0


class SealIn(Schema):
    act: str


class Mark(Schema):
    x: float
    y: float
    label: str


class MarksIn(Schema):
    marks: list[Mark]


class PhotoOut(Schema):
    id: int
    step: str
    name: str
    size: int
    width: int
    height: int
    sha256: str
    marks: list[Mark]
    who: str
    at: datetime


class DeviceOut(Schema):
    key: str
    name: str
    kind: str
    result: FitResult
    verdict: Verdict
    call: CallOut
    reasons: list[FitReasonOut]
    work: list[str]
    not_in_the_box: list[str]
    options: list[str]
    will_not_control: list[str]
    chosen: bool
    usual: bool
    """What this shop usually fits to this vehicle: offered first, entered by nobody but a person."""
    price: float | None = None


class NamedOut(Schema):
    key: str
    name: str


class KitOut(Schema):
    devices: list[DeviceOut]
    kinds: list[str]
    """Kinds of device: one that is not on the shelf is a kind and a name."""
    pumps: list[NamedOut]
    pump: str


class KitIn(Schema):
    devices: list[str]
    pump: str = ""


class DifferenceOut(Schema):
    added: list[str]
    dropped: list[str]
    changed: list[str]
    kept: list[str]


@router.get("/jobs/{number}/kit", response=KitOut)
def kit_now(request: HttpRequest, number: str) -> Any:
    return kit.kit_out(job_by(number))


@router.post("/jobs/{number}/kit/difference", response=DifferenceOut)
@asks
def kit_difference(request: HttpRequest, number: str, body: KitIn) -> Any:
    """What a change would do to the run sheet, before it is made."""
    return kit.difference(job_by(number), body.devices, body.pump)


@router.put("/jobs/{number}/kit", response=DifferenceOut)
def kit_change(request: HttpRequest, number: str, body: KitIn) -> Any:
    return kit.change_kit(job_by(number), body.devices, body.pump, worker(request))


@router.get("/jobs/{number}/steps/{key}/grid", response=GridOut)
def grid(request: HttpRequest, number: str, key: str) -> Any:
    return grids.grid_out(job_by(number), key)


@router.put("/jobs/{number}/steps/{key}/grid", response=GridOut)
def enter_grid(request: HttpRequest, number: str, key: str, body: GridIn) -> Any:
    return grids.enter_grid(job_by(number), key, body.data, body.revision, worker(request))


@router.post("/jobs/{number}/steps/{key}/seals/{cylinder}", response=GridOut)
def seal(request: HttpRequest, number: str, key: str, cylinder: int, body: SealIn) -> Any:
    return grids.seal(job_by(number), key, cylinder, body.act, worker(request))


@router.get("/jobs/{number}/steps/{key}/pin-plan")
def pin_plan(request: HttpRequest, number: str, key: str) -> HttpResponse:
    """The pin plan as CSV."""
    answer = HttpResponse(grids.pin_csv(job_by(number), key), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="pin-plan-{number}.csv"'
    return answer


@router.put("/jobs/{number}/steps/{key}/pin-plan", response=GridOut)
def bring_pin_plan(request: HttpRequest, number: str, key: str, name: str = "pin plan") -> Any:
    """A pin plan from a CSV file, sent as it is."""
    by = worker(request)
    try:
        text = request.body.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = request.body.decode("latin-1")
    if len(text) > 2_000_000:
        raise BadInput(f"{name} is larger than any pin plan.", "file")
    return grids.pins_from_csv(job_by(number), key, text, by)


@router.get("/jobs/{number}/photos", response=list[PhotoOut])
def photos_of(request: HttpRequest, number: str) -> Any:
    return [
        photos.photo_out(photo) for photo in job_by(number).photos.select_related("by").defer("thumbnail")
    ]


@router.put("/jobs/{number}/photos", response=PhotoOut)
@waits("a picture is decoded first")
def take_photo(request: HttpRequest, number: str, name: str, step: str = "") -> Any:
    """A picture, sent as it is."""
    by = worker(request)
    size = int(request.headers.get("Content-Length") or 0)
    if size > photos.LARGEST:
        raise photos.too_large(name, size)
    return photos.photo_out(photos.keep(job_by(number), step, name, request.read(photos.LARGEST + 1), by))


@router.get("/photos/{photo_id}/file")
def photo_file(request: HttpRequest, photo_id: int) -> HttpResponse:
    """The picture, byte for byte as it came."""
    photo = photos.photo_by(photo_id)
    return HttpResponse(
        (settings.MEDIA_ROOT / photo.path).read_bytes(), content_type=photos.KINDS[photo.kind]
    )


@router.get("/photos/{photo_id}/thumbnail")
def photo_thumbnail(request: HttpRequest, photo_id: int) -> HttpResponse:
    answer = HttpResponse(bytes(photos.photo_by(photo_id).thumbnail), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@router.put("/photos/{photo_id}/marks", response=PhotoOut)
def photo_marks(request: HttpRequest, photo_id: int, body: MarksIn) -> Any:
    by = worker(request)
    return photos.photo_out(photos.mark(photos.photo_by(photo_id), [mark.dict() for mark in body.marks], by))


@router.delete("/photos/{photo_id}", response=Done)
def photo_aside(request: HttpRequest, photo_id: int, destroy: bool = False) -> Any:
    """Set aside; or, as the lead, deleted for good with a line in the ledger."""
    if destroy:
        photos.destroy(photos.photo_by(photo_id), lead(request))
        return {"sentence": "Deleted, with its file."}
    photos.remove(photos.photo_by(photo_id), worker(request))
    return {"sentence": "Set aside; the file is kept."}
