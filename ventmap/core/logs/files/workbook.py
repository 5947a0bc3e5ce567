"""Logs as workbooks: the first sheet that has a heading with samples below it."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from typing import Any

import polars as pl

from ...basics import LogError
from ..model import Note
from .table import Table
from .text import read_text

#: Unpacked, a workbook of a million cells takes about 60 MB.
MOST_UNPACKED = 1_000_000_000
MOST_ROWS = 1_100_000


def is_workbook(data: bytes) -> bool:
    """Whether a packed file is a workbook."""
    if data[:4] != b"PK\x03\x04":
        return False
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            return "xl/workbook.xml" in packed.namelist()
    except (zipfile.BadZipFile, ValueError):
        return False


def read_workbook(data: bytes) -> Table:
    """The first sheet that is a log.

    Raises
    ------
    LogError
        If it is damaged, unpacks to too much, or no sheet is a log.
    """
    import openpyxl

    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        unpacked = sum(item.file_size for item in packed.infolist())
    if unpacked > MOST_UNPACKED:
        raise LogError(
            f"The workbook unpacks to {unpacked // 10**6} MB, more than {MOST_UNPACKED // 10**6} MB. Export"
            " the log as CSV.",
            "file",
        )
    cut = LogError("The workbook cannot be read; it may be damaged. Export the log as CSV.", "file")
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheets = [(sheet.title, "\n".join(_lines(sheet))) for sheet in book.worksheets]
    except LogError:
        raise
    except Exception as error:
        raise cut from error
    why: LogError | None = None
    for title, text in sheets:
        if not text.strip():
            continue
        try:
            table = read_text(text.encode())
        except LogError as error:
            why = why or error
            continue
        table.notes.insert(0, Note("understood", f"sheet “{title}” of a workbook"))
        table.notes += [Note("ignored", f"sheet “{other}”") for other, _ in sheets if other != title]
        return table
    raise why or LogError("No sheet of the workbook holds a log.", "file")


def _lines(sheet: Any) -> Iterator[str]:
    for number, row in enumerate(sheet.iter_rows(values_only=True)):
        if number > MOST_ROWS:
            raise LogError(f"The sheet has more than {MOST_ROWS} rows. Split it.", "file")
        cells = [_cell(value) for value in row]
        # Cells right of the last that is filled are the sheet's, not the log's.
        if any(cells):
            yield "\t".join(cells)


def _cell(value: Any) -> str:
    if value is None:
        return ""
    # Dates and times as the workbook's reader makes them; this room reads no clock of its own.
    if hasattr(value, "total_seconds"):
        seconds = float(value.total_seconds())
        return f"{int(seconds // 3600):02d}:{int(seconds % 3600 // 60):02d}:{seconds % 60:06.3f}"
    if hasattr(value, "isoformat"):
        return str(value.isoformat()).replace("T", " ")
    return " ".join(str(value).split())


def as_workbook(frame: pl.DataFrame, title: str) -> bytes:
    """A table as a workbook of one sheet, its first row the headings.

    Raises
    ------
    LogError
        If it has more rows than a sheet can hold.
    """
    import openpyxl

    if frame.height >= 1_048_576:
        raise LogError("A sheet holds 1 048 575 rows; this log has more. Take it as CSV or Parquet.", "form")
    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet(re.sub(r"[\\/*?:\[\]]", " ", title)[:30] or "log")
    sheet.append(frame.columns)
    for row in frame.iter_rows():
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
