"""Logs as text: CSV and its relatives, in whatever encoding and with whatever marks."""

from __future__ import annotations

from typing import Any

import polars as pl

from ...basics import LogError
from ..clock import looks_like_time
from ..model import Note
from .dialect import (
    ZLIB,
    Dialect,
    cells_of,
    find_dialect,
    refuse_packed,
    refuse_prose,
    refuse_wide,
    unique_heads,
    upright,
)
from .table import Table

HEAD_LINES = 2_000
#: A file with channels for rows is small: a person made it.
SMALL = 5_000_000
_PARTED = r"^[-+]?\d{1,3}([ \x{a0}\x{202f}'’]\d{3})+([.,]\d*)?$"
_GROUP = r"(\d)[ \x{a0}\x{202f}'’](\d{3})"


def read_text(data: bytes) -> Table:
    """A text log as columns of numbers and clock times."""
    notes = []
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        data = data.decode("utf-16", errors="replace").encode()
        notes.append(Note("understood", "UTF-16 text"))
    if data[:3] == b"\xef\xbb\xbf":
        data = data[3:]
    if data[1:400:2].count(0) > 0.9 * len(data[1:400:2]):
        data = data.decode("utf-16-le", errors="replace").encode()
        notes.append(Note("understood", "UTF-16 text"))
    if b"\x00" in data[:4096]:
        raise LogError("This file is not a text log. Export the log as CSV and drop that.", "file")
    head, encoding = _decode_head(data)
    if encoding != "utf-8":
        notes.append(Note("guessed", f"text read as {encoding}"))
    try:
        dialect = find_dialect(head)
    except LogError:
        turned = (
            upright(data.decode("latin-1" if encoding != "utf-8" else "utf-8").splitlines())
            if len(data) < SMALL
            else None
        )
        if turned is None:
            raise
        data, notes = turned.encode(), [*notes, Note("understood", "rows are channels: turned")]
        dialect = find_dialect(turned.splitlines()[:HEAD_LINES])
    notes += dialect.notes
    refuse_wide(len(dialect.names))
    heads = unique_heads(dialect)
    # The samples are ASCII; only heading and units may hold other letters, and those are read already.
    begins = _after_lines(data, dialect.first_row)
    # A reader of text would unpack what begins like a packed file, whatever its size.
    refuse_packed(data[begins : begins + 16])
    if data[begins : begins + 2] in ZLIB:
        raise LogError("Below the heading lies packed data, not text. Export the log as CSV.", "file")
    frame, more = _parse_body(data, begins, dialect, list(heads))
    return Table(frame, heads, notes + more)


def _decode_head(data: bytes) -> tuple[list[str], str]:
    sample = data[: 256 * 1024]
    if len(data) > len(sample):
        sample = sample[: sample.rfind(b"\n") + 1] or sample
    try:
        text, encoding = sample.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        text, encoding = sample.decode("latin-1"), "Latin-1"
    return text.splitlines()[:HEAD_LINES], encoding


def _after_lines(data: bytes, count: int) -> int:
    """Where the line after so many begins."""
    at = 0
    for _ in range(count):
        at = data.find(b"\n", at) + 1
        if at == 0:
            return len(data)
    return at


def _parse_body(
    data: bytes, begins: int, dialect: Dialect, columns: list[str]
) -> tuple[pl.DataFrame, list[Note]]:
    """All numbers at once where the file allows it; cell by cell where it does not."""
    lines = dialect.first_row
    if data[begins : begins + 1] in (b"\r", b"\n", b""):
        lines, begins, data = 0, 0, data[begins:].lstrip(b"\r\n")
    if not data[begins : begins + 4096].strip() and not data[begins:].strip():
        return pl.DataFrame({column: [] for column in columns}), []
    ends = data.find(b"\n", begins)
    first = cells_of(data[begins : ends if ends > 0 else None].decode("latin-1"), dialect.separator)
    clocks = {c for c, cell in zip(columns, first, strict=False) if looks_like_time(cell)}
    # Seconds since 1970 need all their digits, in whatever column they stand.
    timelike = set(columns[:2]) | {c for c, cell in zip(columns, first, strict=False) if is_epoch(cell)}
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
    if not dialect.grouped:
        try:
            # Numbers alone are ASCII: what is not falls through to the reader of text.
            # The lines above are passed over, not cut off: a copy of a large file costs time and room.
            numbers = options | {"encoding": "utf8", "skip_lines": lines}
            return pl.read_csv(data, schema=schema, **numbers), []
        except pl.exceptions.PolarsError:
            pass
    body = data[begins:]
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


def is_epoch(cell: str) -> bool:
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
    # Thousands parted by a blank or an apostrophe, as in “1 234,5” and “1'234.5”.
    parted = cells.str.contains(_PARTED).fill_null(False)
    if parted.any():
        cells = cells.str.replace_all(_GROUP, "${1}${2}").str.replace_all(_GROUP, "${1}${2}")
    if dialect.decimal_comma:
        grouped = cells.str.contains(r"^[-+]?\d{1,3}(\.\d{3})+(,\d*)?$").fill_null(False)
        if grouped.any():
            plain = cells.str.replace_all(".", "", literal=True)
            cells = pl.select(pl.when(grouped).then(plain).otherwise(cells)).to_series()
        return cells.str.replace(",", ".", literal=True)
    commas = cells.filter(cells.str.contains(",", literal=True).fill_null(False))
    if not len(commas):
        return cells
    # Quoted cells of a comma file: groups of three are thousands; one that is no such group makes it a
    # decimal comma.
    if commas.str.contains(r"^[-+]?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$").all():
        return cells.str.replace_all(",", "", literal=True)
    return cells.str.replace(",", ".", literal=True)
