"""Logs: dropping, capturing, viewing, correcting."""

from __future__ import annotations

import uuid
from time import monotonic
from typing import Any

from django.conf import settings
from django.http import FileResponse, HttpRequest
from ninja import Router

from ventmap.core.basics import LogError

from ..jobs.rows import NotFound, job_by
from ..jobs.under_way import begun, ended
from ..schemas import CallsOut, Done
from ..shop.access import person, worker
from ..shop.acts import asks, waits
from . import correcting, imports, naming, services, store
from .models import LogFile
from .schemas import (
    ChannelChoice,
    ImportOut,
    KeptIn,
    LanesOut,
    LogOut,
    LogRow,
    LogSaid,
    MadeOut,
    ProposalOut,
    RoundIn,
)

router = Router(tags=["logs"])

#: Form in which a log is taken → (ending, kind).
FORMS = {
    "csv": ("csv", "text/csv"),
    "parquet": ("parquet", "application/vnd.apache.parquet"),
    "mdf": ("mf4", "application/octet-stream"),
    "workbook": ("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
}


@router.put("/logs", response=LogOut)
@waits("reads a file")
def drop(
    request: HttpRequest,
    name: str,
    job: str = "",
    baseline: bool = False,
    on_drum: bool = False,
    ticket: str = "",
) -> Any:
    """A dropped file, sent as it is. With a job it belongs to it; without, it is looked at alone. Under a
    ticket of the sender's own, how far it is can be asked, and it can be stopped.
    """
    user = worker(request) if job else person(request)
    found = job_by(job) if job else None
    path = store.folder() / f"{uuid.uuid4().hex}.log"
    coming = imports.begin(ticket, user)
    record = begun(found, "import", "baseline" if baseline else "log", user)
    try:
        with path.open("wb") as out:
            while chunk := request.read(1 << 20):
                # A length that was told was refused at the door (`asgi.py`); one that was not is counted
                # here.
                if out.tell() + len(chunk) > settings.LARGEST_UPLOAD:
                    raise LogError(
                        f"The file is larger than {settings.LARGEST_UPLOAD // 10**6} MB. Split the log and"
                        " drop the parts.",
                        "file",
                    )
                out.write(chunk)
        row = services.bring(
            path,
            name,
            user,
            found,
            baseline=baseline,
            on_drum=on_drum,
            tell=coming.tell,
            stopped=coming.stopping.is_set,
            settled=lambda: ended(record),
        )
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    finally:
        imports.end(ticket)
        ended(record)
    return services.log_out(store.log_by(row.pk), user)


@router.get("/imports/{ticket}", response=ImportOut)
def import_under_way(request: HttpRequest, ticket: str) -> Any:
    """How far it is; a file that is still on its way, or has been read, is *sending*."""
    try:
        found = imports.of(ticket, person(request))
    except NotFound:
        return {"phase": "sending", "seconds": 0.0}
    return {"phase": found.phase, "seconds": round(monotonic() - found.began, 1)}


@router.delete("/imports/{ticket}", response=ImportOut)
@asks
def stop_import(request: HttpRequest, ticket: str) -> Any:
    found = imports.of(ticket, person(request))
    found.stopping.set()
    return {"phase": "stopping", "seconds": round(monotonic() - found.began, 1)}


@router.get("/logs", response=list[LogRow])
def logs(request: HttpRequest, job: str = "", baseline: bool = False) -> Any:
    rows = (
        LogFile.objects.select_related("map")
        .defer("review", "notes", "reads")
        .filter(job__number=job, baseline=baseline)
        if job
        else LogFile.objects.filter(job=None, by=person(request)).defer("review", "reads")[:20]
    )
    return [
        {
            "id": r.pk,
            "name": r.name,
            "source": r.source,
            "rows": r.rows,
            "duration_s": r.duration_s,
            "at": r.at,
            "map": r.map.version if r.map else "",
        }
        for r in rows
    ]


@router.get("/logs/{log_id}", response=LogOut)
def log(request: HttpRequest, log_id: int) -> Any:
    return services.log_out(store.log_by(log_id, person(request)), person(request))


@router.put("/logs/{log_id}/kept", response=LogOut)
def keep_look(request: HttpRequest, log_id: int, body: KeptIn) -> Any:
    """A look that is kept is not swept after a month."""
    row = store.log_by(log_id, person(request))
    if row.job_id:
        worker(request)
    row.kept = body.kept
    row.save(update_fields=["kept"])
    return services.log_out(row, person(request))


@router.put("/logs/{log_id}/columns", response=LogOut)
@waits("reads a file again")
def say_columns(request: HttpRequest, log_id: int, body: LogSaid) -> Any:
    """Say what columns are, and what no log says; it is read and judged again."""
    row = store.log_by(log_id, person(request))
    user = worker(request) if row.job_id or body.remember.strip() else person(request)
    coming = imports.begin(body.ticket, user)
    said = body.model_dump(include={"induction", "stroke", "altitude_m", "diesel"})
    source = body.model_dump(include={"columns", "afr_scale"})
    try:
        naming.say(
            row,
            said,
            source,
            body.remember,
            user,
            coming.tell,
            coming.stopping.is_set,
            judge=services.judge_log,
        )
    finally:
        imports.end(body.ticket)
    return services.log_out(store.log_by(row.pk), user)


@router.get("/log-channels", response=list[ChannelChoice])
def log_channels(request: HttpRequest) -> Any:
    """What a column may be, and the units it may be in."""
    person(request)
    return naming.choices()


@router.delete("/logs/{log_id}", response=Done)
def delete_log(request: HttpRequest, log_id: int) -> Any:
    store.destroy(store.log_by(log_id, person(request)), person(request))
    return {"sentence": "Deleted, with its file."}


@router.get("/logs/{log_id}/lanes", response=LanesOut)
def lanes(
    request: HttpRequest, log_id: int, channels: str, start: float, stop: float, points: int = 1200
) -> Any:
    names = [name for name in channels.split(",") if name][:12]
    return store.lanes(store.log_by(log_id, person(request)), names, start, stop, max(50, min(points, 4000)))


@router.get("/logs/{log_id}/file")
def file(request: HttpRequest, log_id: int) -> FileResponse:
    """The file, byte for byte as it came."""
    row = store.log_by(log_id, person(request))
    name = row.name if "." in row.name else f"{row.name}.csv"
    return FileResponse((settings.MEDIA_ROOT / row.path).open("rb"), as_attachment=True, filename=name)


@router.get("/logs/{log_id}/table")
def table(request: HttpRequest, log_id: int, form: str = "csv") -> FileResponse:
    """What was understood of it, in canonical units, as CSV or Parquet."""
    if form not in FORMS:
        raise LogError(f"A log is taken as one of {', '.join(FORMS)}.", "form")
    row = store.log_by(log_id, person(request))
    ending, kind = FORMS[form]
    name = f"log-{row.pk}.{ending}"
    return FileResponse(store.table(row, form), content_type=kind, as_attachment=True, filename=name)


@router.get("/jobs/{number}/proposal", response=ProposalOut)
def proposal(request: HttpRequest, number: str, log_id: int | None = None, take_scalars: bool = True) -> Any:
    return correcting.proposal_out(job_by(number), log_id, take_scalars)


@router.post("/jobs/{number}/mixture", response=CallsOut)
@waits("looks through a whole log")
def judge_mixture(request: HttpRequest, number: str, log_id: int | None = None) -> Any:
    return correcting.judge_mixture(job_by(number), log_id, worker(request))


@router.post("/jobs/{number}/rounds", response=MadeOut)
@waits("looks through a whole log")
def make_round(request: HttpRequest, number: str, body: RoundIn) -> Any:
    made = correcting.next_round(job_by(number), body.log_id, body.take_scalars, body.cells, worker(request))
    return {"version": made.version}
