"""Reading a datalog, whatever its dialect, and saying what was understood, guessed and ignored."""

from __future__ import annotations

import io
from collections.abc import Mapping
from typing import Any

import polars as pl

from ..basics import LogError
from .clock import looks_like_time, read_time
from .convert import canonical_channels
from .dialect import (
    ZLIB,
    Dialect,
    cells_of,
    find_dialect,
    refuse_packed,
    refuse_prose,
    refuse_wide,
    unique_heads,
)
from .headings import TIME_PATTERN, Heading, heading, match
from .model import Log, Note

HEAD_LINES = 60
LARGEST_BYTES = 2_000_000_000
#: Rows × columns: a day at 100 rows a second of 24 channels is 207 million.
MOST_CELLS = 250_000_000


def read_log(
    data: bytes,
    name: str = "",
    *,
    assign: Mapping[str, str] | None = None,
    altitude_m: float | None = None,
) -> Log:
    """Read a datalog: CSV and its relatives, or Parquet.

    Parameters
    ----------
    data : bytes
        The whole file.
    name : str
        Its name, for messages and to know Parquet.
    assign : mapping, optional
        File column to canonical channel, where a person has said so.
    altitude_m : float, optional
        Of the place, for gauge pressures in a log without a barometer [m].

    Returns
    -------
    Log
        In canonical names and units, with notes of everything that was guessed or ignored.

    Raises
    ------
    LogError
        If the file is empty, is no log, or has no time.
    """
    if not data.strip():
        raise LogError("The file is empty. Export the log again.", "file")
    if len(data) > LARGEST_BYTES:
        raise LogError(
            f"The file is larger than {LARGEST_BYTES // 10**6} MB. Split it and drop the parts.", "file"
        )
    refuse_packed(data)
    if data[:4] == b"PAR1":
        frame, heads, notes = _read_parquet(data)
    else:
        frame, heads, notes = _read_text(data)
    if frame.height < 2:
        raise LogError("The file has a heading but fewer than two rows of samples.", "file")
    time_column = _time_column(frame, heads)
    time_s, keep, breaks, time_notes = read_time(frame[time_column], heads[time_column])
    notes += time_notes
    if keep is not None:
        frame = frame.filter(pl.Series(keep))
    others = {column: head for column, head in heads.items() if column != time_column}
    channels, columns, extras, more = canonical_channels(frame, others, dict(assign or {}), altitude_m)
    if not channels:
        raise LogError(
            "None of the columns is a channel of an engine log. Check that this is the right file.", "file"
        )
    return Log(time_s, channels, columns=columns, extras=extras, notes=notes + more, breaks=breaks, name=name)


def _read_parquet(data: bytes) -> tuple[pl.DataFrame, dict[str, Heading], list[Note]]:
    cut = LogError("The file begins like Parquet but cannot be read; it may be cut. Export it again.", "file")
    try:
        # Asked before it is read: a few bytes may say a thousand million rows.
        schema = pl.read_parquet_schema(io.BytesIO(data))
        rows = int(pl.scan_parquet(io.BytesIO(data)).select(pl.len()).collect().item())
    except Exception as error:
        raise cut from error
    nested = [name for name, kind in schema.items() if kind.is_nested()]
    plain = [name for name in schema if name not in nested]
    refuse_wide(len(plain))
    if rows * len(plain) > MOST_CELLS:
        raise LogError(
            f"The file holds {rows} rows of {len(plain)} columns: more than {MOST_CELLS // 10**6} million"
            " cells. Export fewer columns, or split it.",
            "file",
        )
    if not plain:
        raise LogError("The file holds no plain columns. Export the log as plain columns.", "file")
    try:
        frame = pl.read_parquet(io.BytesIO(data), columns=plain)
    except Exception as error:
        raise cut from error
    notes = [Note("understood", "Parquet"), *(Note("ignored", "a column of lists", n) for n in nested)]
    return frame, {column: heading(column) for column in frame.columns}, notes


def _read_text(data: bytes) -> tuple[pl.DataFrame, dict[str, Heading], list[Note]]:
    notes = []
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        data = data.decode("utf-16", errors="replace").encode()
        notes.append(Note("understood", "UTF-16 text"))
    if data[:3] == b"\xef\xbb\xbf":
        data = data[3:]
    if b"\x00" in data[:4096]:
        raise LogError("This file is not a text log. Export the log as CSV and drop that.", "file")
    head, encoding = _decode_head(data)
    if encoding != "utf-8":
        notes.append(Note("guessed", f"text read as {encoding}"))
    dialect = find_dialect(head)
    notes += dialect.notes
    refuse_wide(len(dialect.names))
    heads = unique_heads(dialect)
    # The samples are ASCII; only heading and units may hold other letters, and those are read already.
    body = _after_lines(data, dialect.first_row)
    # A reader of text would unpack what begins like a packed file, whatever its size.
    refuse_packed(body)
    if body[:2] in ZLIB:
        raise LogError("Below the heading lies packed data, not text. Export the log as CSV.", "file")
    frame, more = _parse_body(body, dialect, list(heads))
    return frame, heads, notes + more


def _decode_head(data: bytes) -> tuple[list[str], str]:
    sample = data[: 256 * 1024]
    if len(data) > len(sample):
        sample = sample[: sample.rfind(b"\n") + 1] or sample
    try:
        text, encoding = sample.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        text, encoding = sample.decode("latin-1"), "Latin-1"
    return text.splitlines()[:HEAD_LINES], encoding


def _after_lines(data: bytes, count: int) -> bytes:
    at = 0
    for _ in range(count):
        at = data.find(b"\n", at) + 1
        if at == 0:
            return b""
    return data[at:]


def _parse_body(body: bytes, dialect: Dialect, columns: list[str]) -> tuple[pl.DataFrame, list[Note]]:
    """All numbers at once where the file allows it; cell by cell where it does not."""
    body = body.lstrip(b"\r\n")
    if not body.strip():
        return pl.DataFrame({column: [] for column in columns}), []
    first = cells_of(body[: body.find(b"\n") if b"\n" in body else None].decode("latin-1"), dialect.separator)
    clocks = {c for c, cell in zip(columns, first, strict=False) if looks_like_time(cell)}
    # Seconds since 1970 need all their digits, in whatever column they stand.
    timelike = set(columns[:2]) | {c for c, cell in zip(columns, first, strict=False) if _is_epoch(cell)}
    schema = {
        column: pl.String if column in clocks else pl.Float64 if column in timelike else pl.Float32
        for column in columns
    }
    options: dict[str, Any] = {
        "has_header": False,
        "separator": dialect.separator,
        "decimal_comma": dialect.decimal_comma,
        "encoding": "utf8-lossy",
        "truncate_ragged_lines": True,
        "null_values": [""],
    }
    try:
        return pl.read_csv(body, schema=schema, **options), []
    except pl.exceptions.PolarsError:
        pass
    refuse_prose(body, dialect.separator)
    options["decimal_comma"] = False
    text = None
    # Quotes as CSV has them; where one is never closed they are letters like others.
    for quote in ('"', None):
        try:
            text = pl.read_csv(body, schema=dict.fromkeys(columns, pl.String), quote_char=quote, **options)
            break
        except pl.exceptions.PolarsError:
            continue
    if text is None:
        raise LogError(
            "The rows below the heading cannot be told apart into columns. Export the log as CSV.", "file"
        )
    return _cells_to_numbers(text, dialect, columns, clocks)


def _is_epoch(cell: str) -> bool:
    """Seconds, milliseconds or microseconds since 1970, of a day between 2001 and 2065."""
    try:
        value = float(cell.strip().strip('"').replace(",", "."))
    except ValueError:
        return False
    return any(1e9 <= value / scale < 3e9 for scale in (1.0, 1e3, 1e6))


def _cells_to_numbers(
    text: pl.DataFrame, dialect: Dialect, columns: list[str], clocks: set[str]
) -> tuple[pl.DataFrame, list[Note]]:
    notes = []
    # A heading that a logger wrote again each time it was restarted.
    repeated = pl.all_horizontal(
        [pl.col(c).str.strip_chars(' "').eq(n) for c, n in zip(columns[:3], dialect.names[:3], strict=False)]
    )
    again = int(text.select(repeated.fill_null(False).sum()).item())
    if again:
        text = text.filter(~repeated.fill_null(False))
        notes.append(
            Note("ignored", f"heading repeated {again} time{'s' if again > 1 else ''} within the file")
        )
    series = []
    for column in columns:
        cells = text[column].str.strip_chars(' "\r')
        if column in clocks:
            series.append(cells)
            continue
        plain = _points(cells, dialect)
        numbers = plain.str.strip_suffix("%").cast(pl.Float64, strict=False)
        lost = int((numbers.is_null() & cells.is_not_null() & (cells != "")).sum())
        if lost:
            notes.append(Note("ignored", f"{lost} cells that are not numbers", column))
        series.append(numbers.alias(column))
    return pl.DataFrame(series), notes


def _points(cells: pl.Series, dialect: Dialect) -> pl.Series:
    """Numbers with a decimal point, whatever the commas in them mean."""
    if dialect.decimal_comma:
        return cells.str.replace(",", ".", literal=True)
    commas = cells.filter(cells.str.contains(",", literal=True).fill_null(False))
    if not len(commas):
        return cells
    # Quoted cells of a comma file: groups of three are thousands; one that is no such group makes it a
    # decimal comma.
    if commas.str.contains(r"^[-+]?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$").all():
        return cells.str.replace_all(",", "", literal=True)
    return cells.str.replace(",", ".", literal=True)


def _time_column(frame: pl.DataFrame, heads: Mapping[str, Heading]) -> str:
    for column, head in heads.items():
        if TIME_PATTERN.fullmatch(head.words):
            return column
    first = frame.columns[0]
    values = frame[first]
    if values.dtype == pl.String and looks_like_time(str(values[0])):
        return first
    if (
        values.dtype.is_numeric()
        and match(heads[first]) is None
        and bool((values.diff().drop_nulls() > 0).all())
    ):
        return first
    for column in frame.columns:
        values = frame[column]
        if values.dtype == pl.Float64 and len(values) and _is_epoch(str(values[0])):
            return column
    raise LogError("No column holds the time. Name one “Time (s)” and drop the file again.", "time")
