"""A supplier's catalogue behind the same door as the shelf: searched, judged, taken."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from ventmap.core.basics import BadInput
from ventmap.core.forms import from_json
from ventmap.core.maps import match_maps

from .. import bench
from ..jobs.rows import job_by
from ..shop.access import worker
from . import choosing, loaded
from .api import VersionOut
from .drafts import part_of
from .parts import wanted_of

router = Router(tags=["catalogue"])


class OfferOut(Schema):
    maker: str
    file: str
    kind: str
    title: str
    engine: str
    fuel: str
    issued: str
    replaced_by: str
    possible: bool
    conflicts: list[str]
    differences: list[str]
    points: int


class OfferedFile(Schema):
    file: str
    older: bool = False
    """Said where a newer file is offered and the older one is meant."""


@router.get("/jobs/{number}/map-parts/{part}/catalogue", response=list[OfferOut])
def search_catalogue(request: HttpRequest, number: str, part: str, text: str = "") -> Any:
    """What the supplier offers for this device: each map judged as one of the shelf is."""
    worker(request)
    job = job_by(number)
    found = part_of(job, part)
    far = bench.catalogue()
    want = wanted_of(job, found)
    out = []
    for offer in far.search(text or want.engine):
        told: dict[str, Any] = {"possible": False, "conflicts": [], "differences": [], "points": 0}
        if offer.kind == "map":
            match = match_maps(want, [from_json(far.read(offer))])[0]
            told = {
                "possible": match.possible,
                "conflicts": list(match.conflicts),
                "differences": list(match.differences),
                "points": match.points,
            }
        out.append({**vars(offer), **told})
    return out


@router.post("/jobs/{number}/map-parts/{part}/catalogue", response=VersionOut)
def take_offer(request: HttpRequest, number: str, part: str, body: OfferedFile) -> Any:
    """Fetch an offered map and take it as this device's base, if it serves."""
    job, by = job_by(number), worker(request)
    found = part_of(job, part)
    far = bench.catalogue()
    offer = next((one for one in far.search("") if one.file == body.file and one.kind == "map"), None)
    if offer is None:
        raise BadInput("The catalogue offers no such map. Search again.", "file")
    if offer.replaced_by and not body.older:
        raise BadInput(
            f"{offer.title} was replaced by a newer file. Take that one, or say that the older one is meant.",
            "older",
        )
    source = from_json(far.fetch(offer.file))
    with transaction.atomic():
        return loaded.version_out(choosing.take(job, found, source, by))


@router.get("/catalogue/firmware")
def firmware(request: HttpRequest, file: str) -> HttpResponse:
    """A firmware file that stands beside the maps."""
    worker(request)
    far = bench.catalogue()
    if not any(one.file == file and one.kind == "firmware" for one in far.search("")):
        raise BadInput("The catalogue offers no such firmware.", "file")
    response = HttpResponse(far.fetch(file), content_type="application/octet-stream")
    response["Content-Disposition"] = f'attachment; filename="{file.rpartition("/")[2]}"'
    return response
