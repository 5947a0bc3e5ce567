"""A file of rows: CSV in any of its ways, or a workbook; and the same out again."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from ..basics import BadInput, as_text, as_was, require_unpacked_within

MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 5_000, 60, 500
#: What a workbook may unpack to [bytes].
MOST_UNPACKED = 60_000_000


@dataclass(frozen=True)
class Sheet:
    """Headings, and rows of text as long as the headings; `first_line` is the line of the first row."""

    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    first_line: int = 2


def read_sheet(data: bytes, name: str) -> Sheet:
    """Read a CSV file or the first filled sheet of a workbook.

    Raises
    ------
    BadInput
        In words: empty, damaged, too long, a heading twice, or cells that are merged.
    """
    if not data.strip():
        raise BadInput("The file is empty.", "file")
    grid = _workbook(data) if data[:4] == b"PK\x03\x04" else _text(data)
    start = next((n for n, row in enumerate(grid) if sum(bool(cell) for cell in row) > 1), None)
    if start is None:
        start = next((n for n, row in enumerate(grid) if any(row)), None)
    if start is None:
        raise BadInput(f"{name}: nothing stands in it.", "file")
    headings = [cell.strip() for cell in grid[start]]
    while headings and not headings[-1]:
        headings.pop()
    if len(headings) > MOST_COLUMNS:
        raise BadInput(f"{name}: more than {MOST_COLUMNS} columns. Leave out what is not needed.", "file")
    empty = next((n for n, heading in enumerate(headings, 1) if not heading), None)
    if empty:
        raise BadInput(f"{name}: column {empty} has no heading. Give each column its name.", "file")
    twice = next((heading for heading in headings if headings.count(heading) > 1), None)
    if twice:
        raise BadInput(f"{name}: “{twice}” heads two columns. Name one of them otherwise.", "file")
    rows = [tuple((row + [""] * len(headings))[: len(headings)]) for row in grid[start + 1 :]]
    if len(rows) > MOST_ROWS:
        raise BadInput(f"{name}: more than {MOST_ROWS} rows. Bring it in parts.", "file")
    return Sheet(tuple(headings), tuple(rows), start + 2)


def _text(data: bytes) -> list[list[str]]:
    if b"\x00" in data[:4096] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise BadInput("This is neither text nor a workbook. Export the list as CSV or .xlsx.", "file")
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        text = data.decode("utf-16", errors="replace")
    else:
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = data.decode("cp1252", errors="replace")
    head = next((line for line in text.splitlines() if line.strip()), "")
    mark = max(";\t,", key=head.count)
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=mark))
    except csv.Error as error:
        raise BadInput(f"The file cannot be read as CSV: {error}.", "file") from error
    return [[_cell(cell) for cell in row] for row in rows[: MOST_ROWS + 50]]


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value):
        value = int(value)
    text = " ".join(str(value).split())[:LONGEST_CELL]
    return as_was(text)


def _workbook(data: bytes) -> list[list[str]]:
    import openpyxl

    require_unpacked_within(data, MOST_UNPACKED, "workbook")
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), data_only=True)
    except BadInput:
        raise
    except Exception as error:
        raise BadInput("The workbook cannot be read; it may be damaged. Export it as CSV.", "file") from error
    for sheet in book.worksheets:
        grid = [
            [_cell(value) for value in row]
            for row in sheet.iter_rows(values_only=True, max_row=min(sheet.max_row, MOST_ROWS + 50))
        ]
        if not any(any(row) for row in grid):
            continue
        merged = sorted(str(area) for area in sheet.merged_cells.ranges)
        if merged:
            raise BadInput(
                f"Sheet “{sheet.title}” has merged cells ({', '.join(merged[:3])}): a merged cell belongs to"
                " one row only. Take the merging off and fill each cell; nothing was read.",
                "file",
            )
        return grid
    raise BadInput("No sheet of the workbook holds anything.", "file")


def write_csv(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A list as CSV, with the mark that spreadsheets know; what would be taken for a formula is quoted."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(headings)
    writer.writerows([[as_text(cell) for cell in row] for row in rows])
    return out.getvalue().encode("utf-8-sig")


def write_workbook(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A list as a workbook, every cell text."""
    import openpyxl

    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(list(headings))
    for row in rows:
        sheet.append([as_text(cell) for cell in row])
        for cell in sheet[sheet.max_row]:
            cell.data_type = "s"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
