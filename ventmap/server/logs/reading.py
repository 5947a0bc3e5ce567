"""Reading a log in a process of its own: read, judged, and its packed columns left in a file beside it."""

from __future__ import annotations

import hashlib
import io
import pickle
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from numpy.typing import NDArray

from ventmap.core.basics import LogSource
from ventmap.core.findings import Review, ReviewContext, review
from ventmap.core.logs import ColumnRead, Log, Note, read_log

from ..shop import apart

TIME = "time"


@dataclass(frozen=True)
class Naming:
    """What is known of a log's columns before it is read."""

    told: LogSource | None = None
    sources: dict[str, LogSource] = field(default_factory=dict)


@dataclass(frozen=True)
class Column:
    """A column as it is kept: `samples` are a compressed Arrow IPC column."""

    name: str
    column: str
    canonical: bool
    low: float | None
    high: float | None
    samples: bytes


@dataclass(frozen=True)
class Told:
    """What is told of a whole log before its columns."""

    sha256: str
    size: int
    rows: int
    duration_s: float
    rate_hz: float
    notes: tuple[Note, ...]
    reads: tuple[ColumnRead, ...]
    clock: str
    source: str
    review: Review


def pack(values: NDArray[np.floating]) -> bytes:
    """Samples as a compressed Arrow IPC column."""
    buffer = io.BytesIO()
    pl.DataFrame({"v": values}).write_ipc(buffer, compression="lz4")
    return buffer.getvalue()


def unpack(data: bytes) -> NDArray[np.floating]:
    return pl.read_ipc(io.BytesIO(data))["v"].to_numpy()


def columns_of(log: Log) -> Iterator[Column]:
    """The columns of a log, time first, one at a time."""
    yield Column(TIME, TIME, False, None, None, pack(log.time_s))
    for name, values in log.channels.items():
        yield _column(name, log.columns.get(name, name), values, True)
    for column, values in log.extras.items():
        yield _column(f"other: {column}"[:120], column, values, False)


def _column(name: str, column: str, values: NDArray[np.floating], canonical: bool) -> Column:
    finite = bool(np.isfinite(values).any())
    low, high = (float(np.nanmin(values)), float(np.nanmax(values))) if finite else (None, None)
    samples = pack(values.astype(np.float32, copy=False))
    return Column(name, column[:160], canonical, low, high, samples)


def told_of(log: Log, sha256: str, size: int, context: ReviewContext) -> Told:
    return Told(
        sha256,
        size,
        len(log),
        log.duration_s,
        log.rate_hz,
        notes=tuple(log.notes),
        reads=tuple(log.reads),
        clock=log.clock,
        source=log.source,
        review=review(log, context),
    )


def _read(
    path: Path, name: str, context: ReviewContext, naming: Naming, out: Path, tell: Callable[[str], None]
) -> None:
    tell("reading")
    data = path.read_bytes()
    digest, size = hashlib.sha256(data).hexdigest(), len(data)
    log = read_log(
        data,
        name,
        naming.told,
        sources=naming.sources,
        altitude_m=context.altitude_m,
        nameless=True,
    )
    del data
    tell("judging")
    with out.open("wb") as kept:
        pickle.dump(told_of(log, digest, size, context), kept)
        tell("keeping")
        for column in columns_of(log):
            pickle.dump(column, kept)


def read_here(path: Path, name: str, context: ReviewContext, naming: Naming) -> Path:
    """As `read_apart`, in this process: for files of our own, which neither hang nor eat the memory."""
    out = path.with_suffix(".read")
    _read(path, name, context, naming, out, lambda phase: None)
    return out


def read_apart(
    path: Path,
    name: str,
    context: ReviewContext,
    tell: Callable[[str], None] = lambda phase: None,
    stopped: Callable[[], bool] = lambda: False,
    longest_s: float | None = None,
    naming: Naming | None = None,
    viewer: bool = False,
) -> Path:
    """Read and judge a log in a process of its own.

    Parameters
    ----------
    path : Path
        The file as it came.
    tell : callable
        Told of each phase: ``"waiting"``, ``"reading"``, ``"judging"``, ``"keeping"``.
    naming : Naming, optional
        What a person said of its columns, and the sources that are known.

    Returns
    -------
    Path
        A file for `kept_in`, beside the log; the caller removes it.

    Raises
    ------
    LogError
        Where it is no log, takes too much memory or time, or was stopped.
    """
    out = path.with_suffix(".read")
    given = (path, name, context, naming or Naming(), out)
    try:
        apart.read_apart(
            _read,
            *given,
            size=path.stat().st_size,
            tell=tell,
            stopped=stopped,
            longest_s=longest_s,
            viewer=viewer,
            told=True,
        )
    except BaseException:
        out.unlink(missing_ok=True)
        raise
    return out


def read_short(data: bytes, name: str, altitude_m: float) -> Log:
    """A log of half a minute, as it is."""
    return read_log(data, name, altitude_m=altitude_m)


def kept_in(file: Path) -> Iterator[Any]:
    """`Told`, then each `Column`, of a file that `read_apart` left."""
    with file.open("rb") as kept:
        while True:
            try:
                yield pickle.load(kept)  # our own child wrote it
            except EOFError:
                return
