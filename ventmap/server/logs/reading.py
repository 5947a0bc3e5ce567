"""Reading a log in a process of its own: no file that is dropped can take memory or time from the bench.

The child knows neither Django nor the database: it reads, judges, and leaves packed columns in a file
beside the log. The parent watches its memory and its time, and ends it where either runs out or a person
stops it.
"""

from __future__ import annotations

import hashlib
import io
import multiprocessing
import os
import pickle
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from numpy.typing import NDArray

from ventmap.core.basics import LogError, LogSource, VentMapError
from ventmap.core.findings import Review, ReviewContext, review
from ventmap.core.logs import ColumnRead, Log, Note, read_log

TIME = "time"
#: Longest that a file may take [s]: a million rows take about ten.
LONGEST_S = 240.0
#: As many files are read at once; the others wait for their turn.
AT_ONCE = threading.BoundedSemaphore(2)
GIGABYTE = 1 << 30

_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(["ventmap.server.logs.reading"])


def memory_limit(size: int) -> int:
    """Bytes that reading a file of `size` bytes may take: four times the file and 1 GB, 6 GB at most."""
    return min(4 * size + GIGABYTE, 6 * GIGABYTE)


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


def _child(path: str, name: str, context: ReviewContext, naming: Naming, out: str, pipe: Any) -> None:
    try:
        _read(Path(path), name, context, naming, Path(out), pipe.send)
        pipe.send("done")
    except VentMapError as error:
        pipe.send((error.sentence, error.field))
    except MemoryError:
        pipe.send((_too_much(0), "file"))
    finally:
        pipe.close()


def _too_much(limit: int) -> str:
    most = f"{limit / GIGABYTE:.1f} GB" if limit else "what there is"
    return f"Reading this file takes more memory than {most}. Export fewer columns, or split the log."


def _resident(pid: int) -> int:
    """Memory that a process holds now [bytes]; 0 where it has ended."""
    try:
        pages = int(Path(f"/proc/{pid}/statm").read_text().split()[1])
    except (OSError, IndexError, ValueError):
        return 0
    return pages * os.sysconf("SC_PAGE_SIZE")


def read_apart(
    path: Path,
    name: str,
    context: ReviewContext,
    tell: Callable[[str], None] = lambda phase: None,
    stopped: Callable[[], bool] = lambda: False,
    longest_s: float = LONGEST_S,
    naming: Naming | None = None,
) -> Path:
    """Read and judge a log in a process of its own.

    Parameters
    ----------
    path : Path
        The file as it came.
    name : str
    context : ReviewContext
    tell : callable
        Told of each phase: ``"waiting"``, ``"reading"``, ``"judging"``, ``"keeping"``.
    stopped : callable
        Asked ten times a second; where it says so the child is ended.
    naming : Naming, optional
        What a person said of its columns, and the sources that are known.
    longest_s : float
        Of reading, without the wait for its turn [s].

    Returns
    -------
    Path
        A file for `kept_in`, beside the log; the caller removes it.

    Raises
    ------
    LogError
        Where it is no log, takes too much memory or time, or was stopped.
    """
    tell("waiting")
    while not AT_ONCE.acquire(timeout=0.1):
        if stopped():
            raise LogError("Reading was stopped; nothing is kept.", "file")
    out = path.with_suffix(".read")
    mine, theirs = _context.Pipe(duplex=False)
    given = (str(path), name, context, naming or Naming(), str(out), theirs)
    child = _context.Process(target=_child, args=given, daemon=True)
    try:
        child.start()
        theirs.close()
        _watch(child, mine, tell, stopped, memory_limit(path.stat().st_size), longest_s)
    except BaseException:
        out.unlink(missing_ok=True)
        raise
    finally:
        child.kill()
        child.join()
        mine.close()
        AT_ONCE.release()
    return out


def _watch(
    child: Any,
    pipe: Any,
    tell: Callable[[str], None],
    stopped: Callable[[], bool],
    most: int,
    longest_s: float,
) -> None:
    ends = time.monotonic() + longest_s
    while True:
        try:
            said = pipe.recv() if pipe.poll(0.05) else None
        except EOFError:
            raise LogError(
                "The file could not be read: its reader ended. Export the log again.", "file"
            ) from None
        if said == "done":
            return
        if isinstance(said, tuple):
            raise LogError(*said)
        if said is not None:
            tell(said)
        if stopped():
            raise LogError("Reading was stopped; nothing is kept.", "file")
        if _resident(child.pid) > most:
            raise LogError(_too_much(most), "file")
        if time.monotonic() > ends:
            raise LogError(
                f"Reading took longer than {longest_s:.0f} s and was ended. Split the log.", "file"
            )


def kept_in(file: Path) -> Iterator[Any]:
    """`Told`, then each `Column`, of a file that `read_apart` left."""
    with file.open("rb") as kept:
        while True:
            try:
                yield pickle.load(kept)  # our own child wrote it
            except EOFError:
                return
