"""What people keep of their own at logs: words at a moment, own channels, rows of lanes, limits; and what
they take out: rows, a selection, a picture.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
import polars as pl
from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from ventmap.core.basics import BadInput, as_text
from ventmap.core.logs import FUNCTIONS

from ..jobs.rows import NotFound
from ..schemas import Done
from ..shop.access import LEAD, NotAllowed, person, role, worker
from . import own, picture, store
from .capture import WORD
from .capture_api import MOST_LIMITS, LimitIO
from .models import KeptLook, LogFile, OwnChannel
from .reading import TIME
from .schemas import MarkOut

router = Router(tags=["logs"])
#: Rows on one page, rows of lanes that a person keeps, lanes of one row, marks of one log.
PAGE, MOST_ROWS, MOST_LANES, MOST_MARKS = 200, 12, 12, 200


class MarkAt(Schema):
    at_s: float
    word: str = Field(max_length=WORD)


class OwnChannelIO(Schema):
    name: str = Field(max_length=60)
    formula: str = Field(max_length=400)
    unit: str = Field("", max_length=20)


class OwnChannelOut(Schema):
    id: int
    name: str
    formula: str
    unit: str
    by: str
    may_delete: bool


class OwnChannelsOut(Schema):
    channels: list[OwnChannelOut]
    functions: list[str]


class FormulaTriedOut(Schema):
    """What a formula gives on a log."""

    least: float | None
    most: float | None
    samples: int


class RowIO(Schema):
    """A row of lanes under a name; each lane one or two channels."""

    name: str = Field(max_length=40)
    lanes: list[Annotated[list[Annotated[str, Field(max_length=120)]], Field(max_length=2)]] = Field(
        max_length=MOST_LANES
    )


class LookIO(Schema):
    rows: list[RowIO] = Field(max_length=MOST_ROWS)
    limits: list[LimitIO] = Field(max_length=MOST_LIMITS)


class LogRowsOut(Schema):
    """Rows of a log as a table: the columns asked for, a page at a time."""

    columns: list[str]
    first: int
    total: int
    time_s: list[float]
    values: list[list[float | None]]


@router.put("/logs/{log_id}/marks", response=list[MarkOut])
def mark(request: HttpRequest, log_id: int, body: MarkAt) -> Any:
    """Put a word at a moment; without a word the mark there is taken away."""
    row = store.log_by(log_id, person(request))
    if row.job_id:
        worker(request)
    if not 0.0 <= body.at_s <= row.duration_s + 1.0:
        raise BadInput("A mark lies within its log.", "at_s")
    at = round(body.at_s, 2)
    with transaction.atomic():
        now = LogFile.objects.select_for_update().get(pk=row.pk)
        left = [one for one in now.marks if one["at_s"] != at]
        word = body.word.strip()
        if word and len(left) >= MOST_MARKS:
            raise BadInput(f"A log holds {MOST_MARKS} marks: take one away first.", "word")
        now.marks = sorted(
            [*left, *([{"at_s": at, "word": word}] if word else [])], key=lambda one: one["at_s"]
        )
        now.save(update_fields=["marks"])
    return now.marks


@router.get("/own-channels", response=OwnChannelsOut)
def own_channels(request: HttpRequest) -> Any:
    """Channels that the shop made up, and what a formula may call."""
    user = person(request)
    rows = OwnChannel.objects.select_related("by")
    return {"channels": [_own_out(row, user) for row in rows], "functions": list(FUNCTIONS.values())}


@router.post("/logs/{log_id}/tried", response=FormulaTriedOut)
def try_formula(request: HttpRequest, log_id: int, body: OwnChannelIO) -> Any:
    """What a formula gives on this log; nothing is kept."""
    values = own.worked_out(store.log_by(log_id, person(request)), body.formula, body.unit)
    real = values[np.isfinite(values)]
    return {
        "least": float(real.min()) if len(real) else None,
        "most": float(real.max()) if len(real) else None,
        "samples": len(real),
    }


@router.post("/own-channels", response=OwnChannelOut)
def make_own_channel(request: HttpRequest, body: OwnChannelIO, log_id: int | None = None) -> Any:
    """Keep a channel for the shop; on a log it is tried first."""
    user = worker(request)
    name = body.name.strip()
    if not name:
        raise BadInput("Give the channel a name.", "name")
    if log_id is not None:
        own.worked_out(store.log_by(log_id, user), body.formula, body.unit)
    own.checked(body.formula, body.unit)
    try:
        with transaction.atomic():
            row = OwnChannel.objects.create(
                name=name, formula=body.formula.strip(), unit=body.unit.strip(), by=user
            )
    except IntegrityError as error:
        raise BadInput(f"There is a channel “{name}” already: choose another name.", "name") from error
    return _own_out(row, user)


@router.delete("/own-channels/{own_id}", response=Done)
def delete_own_channel(request: HttpRequest, own_id: int) -> Any:
    """Take a channel away; whose it is may, and the lead."""
    user = worker(request)
    row = OwnChannel.objects.filter(pk=own_id).first()
    if row is None:
        raise NotFound("There is no such channel.", "channel")
    if not _may_delete(row, user):
        raise NotAllowed("Only the lead, or who made it, may take this channel away.", "person")
    row.delete()
    return {"sentence": f"“{row.name}” is taken away."}


@router.get("/kept-looks/{vehicle}", response=LookIO)
def kept_look(request: HttpRequest, vehicle: str) -> Any:
    """A person's own rows of lanes and limits for one vehicle of the shelf."""
    row = KeptLook.objects.filter(by=person(request), vehicle=vehicle[:60]).first()
    return {"rows": row.rows, "limits": row.limits} if row else {"rows": [], "limits": []}


@router.put("/kept-looks/{vehicle}", response=LookIO)
def keep_look_of(request: HttpRequest, vehicle: str, body: LookIO) -> Any:
    """Keep rows of lanes and limits; they are this person's alone."""
    if len({one.name.strip().lower() for one in body.rows}) < len(body.rows):
        raise BadInput("Two rows have one name: choose another.", "rows")
    for one in body.limits:
        one.read()
    told = {"rows": [one.dict() for one in body.rows], "limits": [one.dict() for one in body.limits]}
    KeptLook.objects.update_or_create(by=person(request), vehicle=vehicle[:60], defaults=told)
    return told


@router.get("/logs/{log_id}/rows", response=LogRowsOut)
def rows(request: HttpRequest, log_id: int, channels: str, start: float, stop: float, first: int = 0) -> Any:
    """Rows of a stretch as they were logged: a blank cell is blank."""
    row = store.log_by(log_id, person(request))
    names, time_s, values = _stretch(row, channels, start, stop)
    page = slice(max(first, 0), max(first, 0) + PAGE)
    return {
        "columns": names,
        "first": max(first, 0),
        "total": len(time_s),
        "time_s": np.round(time_s[page], 3).tolist(),
        "values": [
            [None if not np.isfinite(one) else round(float(one), 4) for one in values[name][page]]
            for name in names
        ],
    }


@router.get("/logs/{log_id}/selection")
def selection(request: HttpRequest, log_id: int, channels: str, start: float, stop: float) -> HttpResponse:
    """A stretch of some channels as CSV, under headings that our own reader takes back."""
    row = store.log_by(log_id, person(request))
    names, time_s, values = _stretch(row, channels, start, stop)
    heads = {name: as_text(own.heading(name) or store.heading(name)) for name in names}
    frame = pl.DataFrame({"Time (s)": np.round(time_s, 4)} | {heads[name]: values[name] for name in names})
    answer = HttpResponse(frame.fill_nan(None).write_csv().encode(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="log-{row.pk}-{start:.0f}-{stop:.0f}.csv"'
    return answer


@router.get("/logs/{log_id}/picture")
def as_picture(
    request: HttpRequest,
    log_id: int,
    channels: str,
    start: float,
    stop: float,
    form: Literal["svg", "png"] = "svg",
) -> HttpResponse:
    """The lanes of a stretch as a picture to print or send; `channels` by lane, two joined by +."""
    row = store.log_by(log_id, person(request))
    lanes = [[name for name in lane.split("+") if name] for lane in channels.split(",") if lane][:MOST_LANES]
    names, time_s, values = _stretch(row, ",".join(name for lane in lanes for name in lane), start, stop)
    drawn = [[name for name in lane if name in names] for lane in lanes]
    data = picture.drawn(row, [lane for lane in drawn if lane], time_s, values, form)
    kind = "image/svg+xml" if form == "svg" else "image/png"
    answer = HttpResponse(data, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="log-{row.pk}-{start:.0f}-{stop:.0f}.{form}"'
    return answer


def _stretch(row: LogFile, channels: str, start: float, stop: float) -> tuple[list[str], Any, dict[str, Any]]:
    asked = list(dict.fromkeys(name for name in channels.split(",") if name))[:60]
    columns = store.columns_of(row, asked)
    time_s = columns.pop(TIME).astype(float)
    names = [name for name in asked if name in columns]
    if not names:
        raise BadInput("Choose channels that this log has.", "channels")
    here = (time_s >= start) & (time_s <= stop)
    if not here.any():
        raise BadInput("This stretch lies outside the log.", "start")
    return names, time_s[here], {name: columns[name][here] for name in names}


def _own_out(row: OwnChannel, user: User) -> dict[str, Any]:
    return {
        "id": row.pk,
        "name": row.name,
        "formula": row.formula,
        "unit": row.unit,
        "by": row.by.get_full_name() or row.by.username,
        "may_delete": _may_delete(row, user),
    }


def _may_delete(row: OwnChannel, user: User) -> bool:
    return row.by_id == user.pk or role(user) == LEAD
