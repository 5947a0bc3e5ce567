"""Keeping logs: the file as it came, a compressed column a channel, and quick views of both."""

from __future__ import annotations

import hashlib
import tempfile
import uuid
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from pathlib import Path
from typing import IO, Any

import numpy as np
import polars as pl
from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from numpy.typing import NDArray
from tsdownsample import MinMaxLTTBDownsampler

from ventmap.core.findings import ReviewContext
from ventmap.core.logs import CHANNELS, Channel, Log, Note, as_workbook, write_mdf

from ..jobs import ledger
from ..jobs.models import Job
from ..jobs.rows import NotFound
from ..maps.models import MapVersion
from ..maps.state import state_of
from ..shop import kept_files
from ..shop.access import LEAD, NotAllowed, role
from . import own
from .models import LogChannel, LogFile
from .reading import TIME, Column, Naming, Told, kept_in, read_apart, read_here, told_of, unpack
from .review_shape import review_out


def folder() -> Path:
    path = Path(settings.MEDIA_ROOT) / "logs"
    path.mkdir(parents=True, exist_ok=True)
    return path


@contextmanager
def read(
    path: Path,
    name: str,
    context: ReviewContext,
    tell: Callable[[str], None],
    stopped: Callable[[], bool],
    naming: Naming,
    apart: bool = True,
) -> Iterator[tuple[Told, Iterator[Column]]]:
    """Read a file that lies in the log folder, in a process of its own unless it is ours.

    Raises
    ------
    LogError
        If it cannot be read, or was stopped; the caller removes the file.
    """
    if apart:
        found = read_apart(path, name, context, tell, stopped, naming=naming)
    else:
        found = read_here(path, name, context, naming)
    try:
        items = kept_in(found)
        yield next(items), items
    finally:
        found.unlink(missing_ok=True)


@transaction.atomic
def keep(
    told: Told,
    columns: Iterable[Column],
    path: Path,
    name: str,
    by: User,
    job: Job | None,
    map_version: MapVersion | None,
    source: str,
    baseline: bool = False,
    state: dict[str, Any] | None = None,
) -> LogFile:
    """A log in the database; `state`: what was on the vehicle when it was driven, where that was kept."""
    if state is None:
        state = state_of(job, stock=baseline).plain() if job is not None else {}
    row = LogFile(
        job=job,
        map=map_version,
        baseline=baseline,
        name=name[:200],
        source=source,
        path=str(path.relative_to(settings.MEDIA_ROOT)),
        state=state,
        by=by,
    )
    _fill(row, told, columns)
    return row


def _fill(row: LogFile, told: Told, columns: Iterable[Column]) -> None:
    """What was read of a file into its row, and its columns beside it."""
    row.sha256, row.size, row.rows = told.sha256, told.size, told.rows
    row.duration_s, row.rate_hz = told.duration_s, told.rate_hz
    row.notes = [asdict(n) for n in told.notes]
    row.reads, row.clock = [asdict(read) for read in told.reads], told.clock[:160]
    row.known = row.known or told.source
    row.review = review_out(told.review)
    row.save()
    for column in columns:
        LogChannel.objects.create(log=row, **vars(column))


def read_again(
    row: LogFile,
    context: ReviewContext,
    naming: Naming,
    tell: Callable[[str], None],
    stopped: Callable[[], bool],
) -> tuple[Told, list[Column]]:
    """Read the file of a log once more, by what was said of it; nothing is kept yet."""
    with read(row.file, row.name, context, tell, stopped, naming) as (told, columns):
        return told, list(columns)


@transaction.atomic
def replace(row: LogFile, told: Told, columns: Iterable[Column]) -> None:
    """What was read again in place of what was read before."""
    row.columns.all().delete()
    _fill(row, told, columns)


def write_capture(log: Log, context: ReviewContext) -> tuple[Path, Told]:
    """A captured log on the disk, as the CSV that any other tool can read, and what is told of it."""
    data = as_csv(log)
    path = folder() / f"{uuid.uuid4().hex}.csv"
    kept_files.put(path, data)
    return path, told_of(log, hashlib.sha256(data).hexdigest(), len(data), context)


def as_csv(log: Log) -> bytes:
    """A log that was captured here, under headings that our own reader takes back."""
    frame = pl.DataFrame(
        {"Time (s)": np.round(log.time_s, 3)} | {heading(n): _rounded(v) for n, v in log.channels.items()}
    )
    return frame.fill_nan(None).write_csv().encode()


def table(row: LogFile, form: str) -> IO[bytes]:
    """What was understood of a log, canonical units, as a file other tools read and our own reader takes
    back; it is gone once it was read.
    """
    out = tempfile.TemporaryFile(dir=settings.DATA)  # noqa: SIM115 - the answer that streams it closes it
    _write_table(row, form, out)
    out.seek(0)
    return out


def _write_table(row: LogFile, form: str, out: IO[bytes]) -> None:
    log = load(row)
    columns: dict[str, NDArray[Any]] = {"Time (s)": np.round(log.time_s, 4)}
    for name, values in log.channels.items():
        unit = CHANNELS[name].unit
        columns[
            (
                heading(name)
                if heading(name) != name
                else f"{CHANNELS[name].label} ({unit})"
                if unit
                else CHANNELS[name].label
            )
        ] = values
    if form == "mdf":
        told = {name: (CHANNELS[name].unit, values) for name, values in log.channels.items()}
        out.write(write_mdf(log.time_s, {heading(name): one for name, one in told.items()}))
        return
    frame = pl.DataFrame(columns).fill_nan(None)
    if form == "workbook":
        out.write(as_workbook(frame, row.name))
    elif form == "parquet":
        frame.write_parquet(out)
    else:
        frame.write_csv(out)


def _rounded(values: NDArray[np.floating]) -> NDArray[np.float64]:
    return np.round(values.astype(float), 4)


def heading(name: str) -> str:
    """A column's heading as our own reader understands it."""
    aliases = {
        "lambda": "Lambda 1",
        "lambda_target": "Target Lambda",
        "map": "Manifold Absolute Pressure (kPa)",
        "baro": "Barometric Pressure (kPa)",
        "iat": "Intake Air Temp (C)",
        "coolant": "Coolant Temp (C)",
        "rpm": "Engine Speed (rpm)",
        "pedal": "Accel Position (%)",
        "throttle": "Throttle Angle (%)",
        "stft_1": "Fuel Trim Short Term B1 (%)",
        "ltft_1": "Fuel Trim Long Term B1 (%)",
        "spark": "Ignition Timing (deg)",
        "knock": "Knock Retard (deg)",
        "pulse": "Injector Pulse Width (ms)",
        "duty": "Injector Duty Cycle (%)",
        "battery": "Battery Voltage (V)",
        "speed": "Vehicle Speed (km/h)",
        "rail": "Fuel Rail Pressure (kPa)",
        "idle_target": "Idle Target (rpm)",
    }
    return aliases.get(name, name)


def log_by(log_id: int, person: User | None = None) -> LogFile:
    """A log by its number; a look without a job is its owner's alone, where a person asks.

    Raises
    ------
    NotFound
    """
    row = LogFile.objects.select_related("job", "map", "by").filter(pk=log_id).first()
    if row is None or (person is not None and row.job_id is None and row.by_id != person.pk):
        raise NotFound("There is no such log.", "log")
    return row


@transaction.atomic
def destroy(row: LogFile, by: User) -> None:
    """Delete a look of one's own, or, as the lead, a log of a job: the ledger keeps that it was there.

    Raises
    ------
    NotAllowed
        Where a log of a job is not the person's to delete.
    """
    if row.job is not None:
        if role(by) != LEAD:
            raise NotAllowed("Only the lead may delete a log of a job.", "person")
        stage = "baseline" if row.baseline else "log"
        told = f"{row.rows} rows, SHA-256 {row.sha256[:16]}"
        ledger.write(row.job, stage, "undo", f"Log deleted: {row.name}", by, told)
    row.delete()


def columns_of(row: LogFile, names: list[str]) -> dict[str, NDArray[np.floating]]:
    """Only the columns asked for are read; own channels are worked out."""
    found = {c.name: unpack(bytes(c.samples)) for c in row.columns.filter(name__in=[TIME, *names])}
    return found | own.columns(row, names)


def load(row: LogFile) -> Log:
    """The whole log, canonical channels only."""
    columns = {c.name: unpack(bytes(c.samples)) for c in row.columns.all() if c.canonical or c.name == TIME}
    time = columns.pop(TIME)
    heads = dict(row.columns.filter(canonical=True).values_list("name", "column"))
    return Log(
        time.astype(float),
        columns,
        columns=heads,
        extras={},
        notes=[Note(**n) for n in row.notes],
        breaks=(),
        name=row.name,
    )


def lanes(row: LogFile, names: list[str], start: float, stop: float, points: int) -> dict[str, Any]:
    """Downsampled lanes over a window: every peak survives (min, max and largest triangles)."""
    columns = columns_of(row, names)
    time = columns.pop(TIME)
    low, high = int(np.searchsorted(time, start)), int(np.searchsorted(time, stop, side="right"))
    window = np.ascontiguousarray(time[low:high])
    found = []
    for name in names:
        if name not in columns:
            continue
        values = np.ascontiguousarray(columns[name][low:high])
        if np.isnan(values).any():
            values = pl.Series(values).fill_nan(None).forward_fill().backward_fill().to_numpy()
            values = np.ascontiguousarray(np.nan_to_num(values))
        if len(values) > points:
            index = MinMaxLTTBDownsampler().downsample(window, values, n_out=points)
            at, value = window[index], values[index]
        else:
            at, value = window, values
        found.append(
            {
                "name": name,
                "time_s": np.round(at, 3).tolist(),
                "values": np.round(value.astype(float), 4).tolist(),
            }
        )
    return {"lanes": found}


def channel(name: str) -> Channel | None:
    return CHANNELS.get(name)
