"""Looking into logs: figures between two moments, stretches over each other, channels over channels."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Router, Schema
from numpy.typing import NDArray
from tsdownsample import MinMaxLTTBDownsampler

from ventmap.core.basics import LogError
from ventmap.core.logs import CHANNELS, Along, Log, Stretch, between, cloud, driven, held, laid_over, parts_of

from ..jobs.rows import job_by
from ..jobs.views import on_what
from ..shop.access import person
from . import next_drives, store, trends
from .drive_schemas import NextDriveOut, TrendOut
from .models import LogFile
from .reading import TIME

router = Router(tags=["logs"])
#: Stretches that are laid over each other at once, points that are drawn of one, and points of a cloud.
MOST_STRETCHES, DRAWN, CLOUD = 24, 1_500, 6_000
AT_START = ("coolant", "iat", "gear")


class BetweenOut(Schema):
    """What a channel did between two moments, in its canonical unit."""

    name: str
    samples: int
    first: float
    last: float
    least: float
    mean: float
    most: float
    scatter: float | None


class StretchOut(Schema):
    """A pull that can be laid over others, and the side it is usually on."""

    log_id: int
    log: str
    from_s: float
    to_s: float
    side: Literal["before", "after", ""]
    state: str
    """What was in and on the vehicle."""
    at_start: dict[str, float]
    """Channels whose start makes pulls unlike: coolant, intake air, gear."""


class LaidLine(Schema):
    x: list[float]
    y: list[float]


class LaidOverOut(Schema):
    name: str
    lines: list[LaidLine]
    x: list[float]
    difference: list[float | None]
    scatter: list[float | None]
    mean: float | None
    within: float | None
    sentence: str


class CloudOut(Schema):
    time_s: list[float]
    x: list[float]
    y: list[float]
    ink: list[float]


class DrivenOut(Schema):
    x_edges: list[float]
    y_edges: list[float]
    seconds: list[list[float]]
    mean: list[list[float | None]] | None


@router.get("/logs/{log_id}/between", response=list[BetweenOut])
def between_moments(request: HttpRequest, log_id: int, start: float, stop: float, channels: str) -> Any:
    """Least, mean, most and scatter of channels from one moment to another."""
    row = store.log_by(log_id, person(request))
    names = [name for name in channels.split(",") if name][:60]
    columns = store.columns_of(row, names)
    time_s = columns.pop(TIME).astype(float)
    in_order = {name: columns[name] for name in names if name in columns}
    return [vars(one) for one in between(time_s, in_order, start, stop)]


@router.get("/logs/{log_id}/stretches", response=list[StretchOut])
def stretches(request: HttpRequest, log_id: int) -> Any:
    """The pulls of this log and of the other logs of its job, the newest log first."""
    user = person(request)
    row = store.log_by(log_id, user)
    return [found for other in _beside(row, user) for found in _pulls(other, other.pk == row.pk)]


@router.get("/logs/{log_id}/next-drive", response=NextDriveOut)
def next_drive(request: HttpRequest, log_id: int) -> Any:
    """What this log lacks, as a drive."""
    return next_drives.of_log(store.log_by(log_id, person(request)))


@router.get("/jobs/{number}/trend", response=TrendOut)
def vehicle_trend(request: HttpRequest, number: str) -> Any:
    """How this vehicle fared from log to log, over all its jobs."""
    person(request)
    return trends.trend(job_by(number))


@router.get("/laid-over", response=list[LaidOverOut])
def overlay(request: HttpRequest, stretches: str, channels: str, along: Along = "rpm") -> Any:
    """Channels of stretches over engine speed, time or distance: before against after, with their scatter."""
    user = person(request)
    parts = parts_of(stretches)
    if len(parts) > MOST_STRETCHES:
        raise LogError(
            f"At most {MOST_STRETCHES} stretches lie over each other: take some away.", "stretches"
        )
    names = [name for name in channels.split(",") if name][:12]
    logs = {log_id: store.log_by(log_id, user) for log_id in {part[0] for part in parts}}
    columns = {log_id: store.columns_of(log, [*names, "rpm", "speed"]) for log_id, log in logs.items()}
    cut = [_cut(columns[log_id], side, start, stop) for log_id, start, stop, side in parts]
    return [_overlay_out(name, cut, along) for name in names]


@router.get("/logs/{log_id}/cloud", response=CloudOut)
def over_another(
    request: HttpRequest, log_id: int, x: str, y: str, start: float, stop: float, ink: str = ""
) -> Any:
    """One channel over another in the order driven, a third as depth of ink."""
    log = _part(store.log_by(log_id, person(request)), [x, y, *filter(None, [ink])], start, stop)
    time_s, values = cloud(log, [x, y, *filter(None, [ink])])
    step = max(1, -(-len(time_s) // CLOUD))
    kept = values[:, ::step]
    return {
        "time_s": _plain(time_s[::step]),
        "x": _plain(kept[0]),
        "y": _plain(kept[1]),
        "ink": _plain(kept[2]) if ink else [],
    }


@router.get("/logs/{log_id}/driven", response=DrivenOut)
def where_driven(
    request: HttpRequest, log_id: int, x: str, y: str, start: float, stop: float, of: str = ""
) -> Any:
    """Seconds in each cell of one channel over another, and the mean of a third there."""
    log = _part(store.log_by(log_id, person(request)), [x, y, *filter(None, [of])], start, stop)
    told = driven(log, x, y, of)
    return {
        "x_edges": _plain(told.x_edges),
        "y_edges": _plain(told.y_edges),
        "seconds": [_plain(row) for row in told.seconds],
        "mean": None if told.mean is None else [_blank(row) for row in told.mean],
    }


def _beside(row: LogFile, user: User) -> list[LogFile]:
    """The log and those it may be compared with: its job's, or the person's own looks."""
    if row.job_id is None:
        others = LogFile.objects.filter(job=None, by=user)
    else:
        others = LogFile.objects.filter(job_id=row.job_id)
    return list(others.select_related("map").order_by("-id")[:MOST_STRETCHES])


def _pulls(row: LogFile, this: bool) -> list[dict[str, Any]]:
    pulls = [one for one in row.review.get("windows", []) if one["kind"] == "pull"]
    if not pulls:
        return []
    columns = store.columns_of(row, list(AT_START))
    time_s = columns.pop(TIME)
    return [
        {
            "log_id": row.pk,
            "log": row.name,
            "from_s": one["from_s"],
            "to_s": one["to_s"],
            "side": "before" if row.baseline else "after" if this else "",
            "state": on_what(row.state) or (row.map.version if row.map else ""),
            "at_start": {
                name: round(said, 2)
                for name, values in columns.items()
                if (said := held(time_s, values, one["from_s"])) is not None
            },
        }
        for one in pulls
    ]


def _cut(columns: dict[str, NDArray[np.floating]], side: Any, start: float, stop: float) -> Stretch:
    time_s = columns[TIME].astype(float)
    here = (time_s >= start) & (time_s <= stop)
    if not here.any():
        raise LogError("A stretch lies outside its log.", "stretches")
    own = {name: values[here] for name, values in columns.items() if name != TIME}
    return Stretch(side, time_s[here], own)


def _overlay_out(name: str, cut: list[Stretch], along: Along) -> dict[str, Any]:
    told = laid_over(cut, name, along)
    return {
        "name": name,
        "lines": [_line_out(x, y) for x, y in told.lines],
        "x": _plain(told.x),
        "difference": _blank(told.difference),
        "scatter": _blank(told.scatter),
        "mean": told.mean,
        "within": told.within,
        "sentence": told.sentence,
    }


def _line_out(x: NDArray[np.floating], y: NDArray[np.floating]) -> dict[str, list[float]]:
    if len(x) > DRAWN:
        x, y = np.ascontiguousarray(x), np.ascontiguousarray(y)
        kept = MinMaxLTTBDownsampler().downsample(x, y, n_out=DRAWN)
        x, y = x[kept], y[kept]
    return {"x": _plain(x), "y": _plain(y)}


def _part(row: LogFile, names: list[str], start: float, stop: float) -> Log:
    columns = store.columns_of(row, names)
    missing = [name for name in names if name not in columns]
    if missing:
        label = CHANNELS[missing[0]].label.lower() if missing[0] in CHANNELS else missing[0]
        raise LogError(f"This log has no {label}: choose another channel.", "channels")
    time_s = columns.pop(TIME).astype(float)
    here = (time_s >= start) & (time_s <= stop)
    own = {name: values[here] for name, values in columns.items()}
    return Log(time_s[here], own, columns={}, extras={}, notes=[], breaks=(), name=row.name)


def _plain(values: NDArray[np.floating]) -> list[float]:
    return list(np.round(values.astype(float), 4).tolist())


def _blank(values: NDArray[np.floating]) -> list[float | None]:
    return [None if not np.isfinite(one) else round(float(one), 4) for one in values]
