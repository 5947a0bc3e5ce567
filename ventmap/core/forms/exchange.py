"""A map out and in: CSV for a table, a workbook for the whole, Intel HEX for the image."""

from __future__ import annotations

import csv
import io
from typing import Any

import numpy as np
from intelhex import IntelHex, IntelHexError

from ..basics import BadInput, CalibrationError, Table2D, require_unpacked_within
from .calibration import Calibration
from .kinds import ColumnKind, TableKind
from .map_file import from_image, from_json, to_json
from .pasted import read_table

#: Sheet of a workbook that holds the document, so that nothing is lost on the way.
WHOLE = "document"
#: Text of a cell is kept below a workbook's own limit.
PIECE = 30_000
#: An image that any computer could hold [bytes], and what a workbook of a map may unpack to.
LARGEST_IMAGE, MOST_UNPACKED = 16_000_000, 60_000_000


def table_csv(calibration: Calibration, name: str) -> str:
    """A table as CSV: its corner says what it is and its unit, columns across, rows down; lossless."""
    table = calibration.tables[name]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([_corner(calibration, name), *map(repr, map(float, table.x))])
    for y, row in zip(table.y, table.values, strict=True):
        writer.writerow([repr(float(y)), *map(repr, map(float, row))])
    return out.getvalue()


def _corner(calibration: Calibration, name: str) -> str:
    kind = calibration.table_kind(name)
    return f"{calibration.title_of(name)} [{kind.unit}]" if kind else name


def table_from_csv(text: str, kind: TableKind) -> Table2D:
    """A table of a CSV file as `table_csv` writes it, or as a spreadsheet saves it again.

    Raises
    ------
    BadInput
        Naming line and cell.
    """
    rows = list(csv.reader(io.StringIO(text.replace(";", ",") if ";" in text and "," not in text else text)))
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if kind.rows is None and len(rows) == 2:
        return Table2D(_numbers(rows[0][1:], 1), [0.0], [_numbers(rows[1][1:], 2)])
    return read_table("\n".join("\t".join(row) for row in rows)).table


def _numbers(cells: list[str], line: int) -> list[float]:
    try:
        return [float(cell) for cell in cells]
    except ValueError as error:
        raise BadInput(f"Line {line} holds a cell that is no figure.", "file") from error


def to_workbook(calibration: Calibration) -> bytes:
    """The whole map as a workbook: a sheet of figures, one for each table and list, and the document."""
    import openpyxl

    book = openpyxl.Workbook()
    front = book.active
    assert front is not None
    front.title = "figures"
    front.append(["name", "value", "unit", "what it is"])
    for name, value in calibration.scalars.items():
        kind = calibration.kind.scalars.get(name)
        front.append([name, float(value), kind.unit if kind else "", kind.text if kind else ""])
    for name, table in calibration.tables.items():
        sheet = book.create_sheet(name[:31])
        sheet.append([_corner(calibration, name), *map(float, table.x)])
        for y, row in zip(table.y, table.values, strict=True):
            sheet.append([float(y), *map(float, row)])
    for name, rows in calibration.lists.items():
        columns = list(dict.fromkeys(key for row in rows for key in row))
        sheet = book.create_sheet(f"list {name}"[:31])
        sheet.append(columns)
        for item in rows:
            sheet.append([item.get(key) for key in columns])
            for cell in sheet[sheet.max_row]:
                if isinstance(cell.value, str):
                    cell.data_type = "s"  # whatever it begins with
    text = to_json(calibration)
    whole = book.create_sheet(WHOLE)
    for at in range(0, len(text), PIECE):
        whole.append([text[at : at + PIECE]])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def from_workbook(data: bytes) -> Calibration:
    """A map of a workbook as `to_workbook` writes it; figures, cells and rows that were changed in it count.

    Raises
    ------
    CalibrationError
        If it is no such workbook, naming the sheet and the cell.
    """
    try:
        require_unpacked_within(data, MOST_UNPACKED, "workbook")
    except BadInput as error:
        raise CalibrationError(error.sentence, error.field) from error
    import openpyxl

    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
    except Exception as error:
        raise CalibrationError("This file is no workbook that can be read.", "file") from error
    if WHOLE not in book.sheetnames:
        raise CalibrationError(
            f"This workbook holds no map: its sheet “{WHOLE}” is missing. Take one out of Vent Map first.",
            "file",
        )
    text = "".join(str(row[0]) for row in book[WHOLE].iter_rows(values_only=True) if row and row[0])
    found = from_json(text)
    for name in found.tables:
        if name[:31] in book.sheetnames:
            found = found.with_table(name, _sheet_table(book[name[:31]], name, found.tables[name]))
    if "figures" in book.sheetnames:
        told = {row[0]: row[1] for row in _rows(book["figures"])[1:] if row and row[0] in found.scalars}
        found = found.with_scalars(**{str(k): _cell(v, "figures", str(k)) for k, v in told.items()})
    for name, kind in found.kind.lists.items():
        if f"list {name}"[:31] in book.sheetnames and name in found.lists:
            rows = _rows(book[f"list {name}"[:31]])
            head = [str(cell) for cell in rows[0]]
            was = {str(row.get(kind.key)): row for row in found.lists[name]}
            found = found.with_list(
                name,
                [
                    {
                        key: _typed(value, kind.columns.get(key))
                        for key, value in zip(head, row, strict=False)
                        if value is not None or _blank(was, head, row, kind.key, key)
                    }
                    for row in rows[1:]
                    if any(cell is not None for cell in row)
                ],
            )
    return found


def _blank(was: dict[str, Any], head: list[str], row: tuple[Any, ...], named: str, key: str) -> bool:
    """An empty cell that was an empty word before: a workbook cannot tell it from nothing."""
    at = row[head.index(named)] if named in head else None
    told = f"{at:.1f}" if isinstance(at, int) and not isinstance(at, bool) else str(at)
    return (was.get(str(at)) or was.get(told) or {}).get(key) == ""


def _typed(value: Any, column: ColumnKind | None) -> Any:
    """A workbook keeps words, figures and yes or no apart, but for words that look like figures."""
    if column is not None and column.form in ("text", "choice") and not isinstance(value, bool):
        return "" if value is None else str(value)
    return value


def _rows(sheet: Any) -> list[tuple[Any, ...]]:
    return list(sheet.iter_rows(values_only=True))


def _sheet_table(sheet: Any, name: str, was: Table2D) -> Table2D:
    rows, columns = was.values.shape
    cells = [row[: columns + 1] for row in _rows(sheet)[: rows + 1]]
    if len(cells) != rows + 1 or any(len(row) != columns + 1 for row in cells):
        raise CalibrationError(f"Sheet {name}: it has not {rows} rows and {columns} columns any more.", name)
    x = [_cell(value, name, f"column {j}") for j, value in enumerate(cells[0][1:], 2)]
    y = [_cell(row[0], name, f"row {i}") for i, row in enumerate(cells[1:], 2)]
    values = [
        [_cell(value, name, f"row {i}, column {j}") for j, value in enumerate(row[1:], 2)]
        for i, row in enumerate(cells[1:], 2)
    ]
    return Table2D(x, y, np.array(values))


def _cell(value: Any, sheet: str, where: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise CalibrationError(f"Sheet {sheet}, {where}: “{value}” is no figure.", sheet)
    return float(value)


def to_hex(calibration: Calibration, size: int | None = None) -> str:
    """The image as Intel HEX."""
    made = IntelHex()
    made.puts(0, calibration.image(size))
    out = io.StringIO()
    made.write_hex_file(out)
    return out.getvalue()


def from_hex(text: str) -> Calibration:
    """A map of an Intel HEX file of its image.

    Raises
    ------
    CalibrationError
        If a record is damaged, or the image is no whole map.
    """
    made = IntelHex()
    try:
        made.loadhex(io.StringIO(text))
    except (IntelHexError, ValueError) as error:
        raise CalibrationError(f"This HEX file is damaged: {error}.", "file") from error
    first, last = made.minaddr(), made.maxaddr()
    if first is None or last is None:
        raise CalibrationError("This HEX file holds nothing.", "file")
    if last - first >= LARGEST_IMAGE:
        # Its records may lie anywhere in 4 GB, and what lies between them would be filled.
        raise CalibrationError(
            f"This HEX file reaches from address {first:#x} to {last:#x}: no computer's image is larger than"
            f" {LARGEST_IMAGE // 10**6} MB.",
            "file",
        )
    return from_image(bytes(made.tobinarray()))


def read_map_file(data: bytes) -> Calibration:
    """A map of a file, by what its first bytes say: Intel HEX, a workbook, or JSON.

    Raises
    ------
    CalibrationError, BadInput
        If it is none of these, or no whole map.
    """
    if data[:1] == b":":
        try:
            return from_hex(data.decode("ascii"))
        except UnicodeDecodeError as error:
            raise CalibrationError("This HEX file is damaged: it holds what is no text.", "file") from error
    return from_workbook(data) if data[:2] == b"PK" else from_json(data)
