"""Routes over files of other programs."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from ninja import Router, Schema

from ventmap.core.loading import ROLES

from ..schemas import CallOut, call_out
from ..shop.access import worker
from ..shop.acts import waits
from . import files
from .rows import devices, job_by

router = Router(tags=["files of other programs"])


class JobFileOut(Schema):
    id: int
    part: str
    role: str
    round: int
    name: str
    size: int
    sha256: str
    who: str
    at: datetime
    picked_at: datetime | None
    picked_by: str
    read_back_at: datetime | None


class RoleOut(Schema):
    role: str
    what_for: str


class ForOut(Schema):
    part: str
    name: str


class JobFilesOut(Schema):
    files: list[JobFileOut]
    roles: list[RoleOut]
    parts: list[ForOut]
    """Devices of the kit that a file may be for."""


def _sent(request: HttpRequest, name: str) -> bytes:
    size = int(request.headers.get("Content-Length") or 0)
    if size > files.LARGEST:
        raise files.too_large(name, size)
    return bytes(request.read(files.LARGEST + 1))


@router.get("/jobs/{number}/files", response=JobFilesOut)
def files_of(request: HttpRequest, number: str) -> Any:
    job = job_by(number)
    return {
        "files": [files.file_out(row) for row in job.files.select_related("by", "picked_by")],
        "roles": [{"role": role, "what_for": what} for role, what in ROLES.items()],
        "parts": [{"part": item.key, "name": item.name} for item in devices(job)],
    }


@router.put("/jobs/{number}/files", response=JobFileOut)
@waits("a file is written to the disk first")
def keep_file(request: HttpRequest, number: str, name: str, role: str, part: str, round: int = 0) -> Any:
    """A file of another program, sent as it is: any bytes."""
    by = worker(request)
    return files.file_out(files.keep(job_by(number), part, role, round, name, _sent(request, name), by))


@router.put("/jobs/{number}/held-files", response=CallOut)
@waits("a file is read first")
def hold_file(request: HttpRequest, number: str, name: str, part: str, read_back: bool = False) -> Any:
    """Hold what a tool is about to write, or has read back, against what is kept; it is not kept itself."""
    by = worker(request)
    return call_out(files.hold(job_by(number), part, name, _sent(request, name), by, read_back=read_back))


@router.get("/jobs/{number}/files/{file_id}/content")
def file_content(request: HttpRequest, number: str, file_id: int) -> HttpResponse:
    """The file, byte for byte as it came."""
    row = files.file_by(job_by(number), file_id)
    answer = HttpResponse(
        (settings.MEDIA_ROOT / row.path).read_bytes(), content_type="application/octet-stream"
    )
    answer["Content-Disposition"] = content_disposition_header(True, row.name) or "attachment"
    return answer
