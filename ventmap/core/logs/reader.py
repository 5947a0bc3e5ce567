"""Reading a datalog, whatever its dialect, and saying what was understood, guessed and ignored."""

from __future__ import annotations

from collections.abc import Mapping

import polars as pl

from ..basics import CLOCK, LogError, LogSource
from .clock import looks_like_time, read_time
from .convert import canonical_channels
from .files import is_epoch, read_file
from .headings import TIME_PATTERN, Heading, match
from .model import Log, Note
from .names import spoken
from .sources import dbc_for, source_of

LARGEST_BYTES = 2_000_000_000


def read_log(
    data: bytes,
    name: str = "",
    hints: LogSource | None = None,
    *,
    sources: Mapping[str, LogSource] | None = None,
    altitude_m: float | None = None,
    nameless: bool = False,
) -> Log:
    """Read a datalog: CSV and its relatives, Parquet, MDF 4, a workbook, or a CAN trace.

    Parameters
    ----------
    data : bytes
        The whole file.
    name : str
        Its name, for messages and to know Parquet.
    hints : LogSource, optional
        What columns are, where a person has said so.
    sources : mapping of key to LogSource, optional
        Loggers that are known: without `hints`, the one with just these headings is taken.
    altitude_m : float, optional
        Of the place, for gauge pressures in a log without a barometer [m].

    nameless : bool
        Whether a log of which no column is known is handed back all the same, every column asked.

    Returns
    -------
    Log
        In canonical names and units, with notes of everything that was guessed or ignored.

    Raises
    ------
    LogError
        If the file is empty, is no log, or has no time.
    """
    if not data[:4096].strip() and not data.strip():
        raise LogError("The file is empty. Export the log again.", "file")
    if len(data) > LARGEST_BYTES:
        raise LogError(
            f"The file is larger than {LARGEST_BYTES // 10**6} MB. Split it and drop the parts.", "file"
        )
    known = sources or {}
    table = read_file(data, name, (hints.dbc if hints else "") or dbc_for(data, name, known))
    frame, heads, notes = table.frame, table.heads, table.notes
    source = source_of(heads, known) if hints is None else ""
    if source:
        hints = known[source]
        notes.append(Note("understood", f"a source that is known: {source}"))
    if frame.height < 2:
        raise LogError("The file has a heading but fewer than two rows of samples.", "file")
    time_column = table.clock or _time_column(frame, heads, hints)
    time_s, keep, breaks, time_notes = read_time(frame[time_column], heads[time_column])
    notes += time_notes
    if keep is not None:
        frame = frame.filter(pl.Series(keep))
    others = {column: head for column, head in heads.items() if column != time_column}
    found = canonical_channels(frame, others, hints, altitude_m)
    if not found.channels and not nameless:
        raise LogError(
            "None of the columns is a channel of an engine log. Check that this is the right file.", "file"
        )
    return Log(
        time_s,
        found.channels,
        columns=found.columns,
        extras=found.extras,
        notes=notes + found.notes,
        reads=found.reads,
        clock=time_column,
        source=source,
        breaks=breaks,
        name=name,
    )


def _time_column(frame: pl.DataFrame, heads: Mapping[str, Heading], hints: LogSource | None) -> str:
    """The column of time: said, named, seconds since 1970, a clock; else a first column that only rises."""
    said = next((hint.column for hint in hints.columns if hint.channel == CLOCK), None) if hints else None
    if said in heads:
        return str(said)
    for column, head in heads.items():
        if TIME_PATTERN.fullmatch(head.words):
            return column
    for column in frame.columns:
        values = frame[column]
        if values.dtype == pl.Float64 and len(values) and is_epoch(str(values[0])):
            return column
        if values.dtype == pl.String and len(values) and looks_like_time(str(values[0])):
            return column
    for column, head in heads.items():
        name = spoken(head.bare)
        if name.ideas == {"time"} and not name.before - {"time"} and frame[column].dtype.is_numeric():
            return column
    first = frame.columns[0]
    values, name = frame[first], spoken(heads[first].bare)
    channel = match(heads[first]) or bool(name.ideas - {"time"})
    if values.dtype.is_numeric() and not channel and bool((values.diff().drop_nulls() > 0).all()):
        return first
    raise LogError("No column holds the time. Name one “Time (s)” and drop the file again.", "time")
