"""How a text log is laid out, found from its first lines; and what is no text log at all."""

from __future__ import annotations

import csv
import re
from collections import Counter
from dataclasses import dataclass, field

from ...basics import LogError
from ..clock import looks_like_time
from ..file_units import UNITS, clean_unit
from ..headings import TIME_PATTERN, Heading, heading
from ..model import Note

#: More than any logger writes; a heading that is wider is no heading.
MOST_COLUMNS = 2_000
#: First bytes of files that hold another file; what lies in them may be any size.
_PACKED = {
    b"\x1f\x8b": "gzip",
    b"PK\x03\x04": "zip",
    b"\x28\xb5\x2f\xfd": "zstd",
    b"BZh": "bzip2",
    b"\xfd7zXZ": "xz",
}
ZLIB = (b"x\x01", b"x\x9c", b"x\xda")
_NUMBER = re.compile(
    r"[-+]?(?:\d{1,3}(?:[ '’.,\xa0\u202f]\d{3})+(?:[.,]\d*)?|\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?%?"
)
_COMMA = re.compile(r"[-+]?(?:\d{1,3}(?:[ '’.\xa0\u202f]\d{3})+|\d+),\d+")
_POINTS = re.compile(r"[-+]?\d{1,3}(?:\.\d{3})+(?:,\d*)?")
#: Lines that a logger wrote for people.
_COMMENT = ("#", "//", ";;", "%")


@dataclass
class Dialect:
    """How a file is laid out, found from its first lines."""

    separator: str
    names: list[str]
    units: list[str]
    first_row: int  # line on which the samples begin
    decimal_comma: bool
    grouped: bool = False  # thousands are parted by points
    groups: list[str] = field(default_factory=list)
    notes: list[Note] = field(default_factory=list)


def cells_of(line: str, separator: str) -> list[str]:
    """Cells of one line; a separator within quotes parts nothing."""
    # A separator within quotes parts nothing: “Mixture, bank 2”.
    parts = next(csv.reader([line], delimiter=separator), []) if '"' in line else line.split(separator)
    return [cell.strip().strip('"') for cell in parts]


def _is_value(cell: str) -> bool:
    return not cell or bool(_NUMBER.fullmatch(cell)) or looks_like_time(cell)


def find_dialect(lines: list[str]) -> Dialect:
    """Separator, heading, unit row and decimal sign from the first lines of a text file."""
    best: tuple[int, str, int] | None = None
    for separator in (",", ";", "\t", "|"):
        for row, line in enumerate(lines[:-1]):
            if line.lstrip().startswith(_COMMENT):
                continue
            cells = cells_of(line, separator)
            named = sum(1 for cell in cells if re.search(r"[^\W\d_]", cell) and not looks_like_time(cell))
            if len(cells) < 2 or named < max(2, 0.7 * len(cells)):
                continue
            # Samples follow at once, or below one row of units; else this is a preamble that only looks like
            # names.
            below = [cells_of(text, separator) for text in lines[row + 1 : row + 9] if text.strip()][:2]
            samples = [c for c in below if _as_wide(c, cells) and sum(map(_is_value, c)) >= 0.6 * len(c)]
            if (
                samples
                and any(any(cell for cell in c) for c in samples)
                and (best is None or len(cells) > best[0])
            ):
                best = (len(cells), separator, row)
            if samples:
                break
    if best is None:
        raise LogError(
            "This is no datalog: no row of column names with numbers below it. Export the log as CSV.", "file"
        )
    _, separator, row = best
    names, units, first = cells_of(lines[row], separator), [""] * best[0], row + 1
    notes = [Note("understood", f"columns parted by {_spoken(separator)}")]
    groups = _groups_above(lines, row, separator, names)
    following = next((at for at in range(row + 1, len(lines)) if lines[at].strip()), row + 1)
    second = cells_of(lines[following], separator)
    if not groups and _second_heading(names, second):
        groups, names, first = names, second, following + 1
        following = next((at for at in range(first, len(lines)) if lines[at].strip()), first)
        second = cells_of(lines[following], separator) if following < len(lines) else []
    if groups:
        notes.append(Note("understood", "two rows of headings: a group, and a name in it"))
    if len(second) == len(names) and sum(map(_is_value, second)) < 0.5 * len(second):
        units, first = second, following + 1
        notes.append(Note("understood", "units in a row of their own"))
    if row:
        notes.append(Note("ignored", f"{row} line{'s' if row > 1 else ''} above the heading"))
    sample = [cell for line in lines[first : first + 30] for cell in cells_of(line, separator)]
    commas = sum(1 for cell in sample if _COMMA.fullmatch(cell))
    decimal_comma = (
        separator != ","
        and commas > 0
        and commas > sum(1 for c in sample if re.fullmatch(r"[-+]?\d+\.\d+", c))
    )
    if decimal_comma:
        notes.append(Note("understood", "decimal comma"))
    grouped = decimal_comma and any(_POINTS.fullmatch(cell) for cell in sample)
    return Dialect(
        separator,
        names,
        units,
        first_row=first,
        decimal_comma=decimal_comma,
        grouped=grouped,
        groups=groups,
        notes=notes,
    )


def _groups_above(lines: list[str], row: int, separator: str, names: list[str]) -> list[str]:
    """Groups in the line above the heading: as wide, names only, each over more than one column."""
    above = cells_of(lines[row - 1], separator) if row and not lines[row - 1].startswith(_COMMENT) else []
    filled = [cell for cell in above if cell]
    if len(names) < 3 or len(above) != len(names) or len(filled) < 2 or any(map(_is_value, filled)):
        return []
    return above if len(set(filled)) < len(above) else []


def _second_heading(names: list[str], second: list[str]) -> bool:
    """Whether the row below is names again, and the first were groups: its words are no units."""
    filled = [cell for cell in second if cell]
    if len(second) != len(names) or not filled or sum(map(_is_value, filled)) > 0.2 * len(filled):
        return False
    units = sum(1 for cell in filled if clean_unit(cell) in UNITS or len(cell) <= 2)
    return units < 0.5 * len(filled) and len(set(filled)) > 0.6 * len(filled)


def _as_wide(one: list[str], other: list[str]) -> bool:
    """As many cells; or one more that a separator at the line's end leaves empty."""
    longer = one if len(one) > len(other) else other
    return len(one) == len(other) or (abs(len(one) - len(other)) == 1 and not longer[-1])


def _spoken(separator: str) -> str:
    return {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}[separator]


def unique_heads(dialect: Dialect) -> dict[str, Heading]:
    """Column → its heading; columns of one name are numbered."""
    heads: dict[str, Heading] = {}
    seen: Counter[str] = Counter()
    group = ""
    for position, (name, unit) in enumerate(zip(dialect.names, dialect.units, strict=True)):
        # A group stands over all columns up to the next.
        group = (dialect.groups[position] or group) if dialect.groups else ""
        if group and name and not TIME_PATTERN.fullmatch(heading(name).words):
            name = f"{group.replace(' ', '_')}.{name.replace(' ', '_')}"
        key = name or f"column {position + 1}"
        seen[key] += 1
        if seen[key] > 1:
            key = f"{key} ({seen[key]})"
        while key in heads:
            key += "′"
        heads[key] = heading(name or key, unit)
    return heads


def upright(lines: list[str]) -> str | None:
    """A small file whose rows are channels, turned; None where it is no such file.

    Each line is a name, perhaps a unit, then samples; the first, or one of them, is the time.
    """
    for separator in (",", ";", "\t", "|"):
        rows = [cells_of(line, separator) for line in lines if line.strip()]
        rows = [row for row in rows if len(row) > 3]
        if not 2 <= len(rows) <= 200 or len({len(row) for row in rows}) > 2:
            continue
        width = min(len(row) for row in rows)
        lead = 2 if all(not _is_value(row[1]) for row in rows) else 1
        named = all(row[0] and not _is_value(row[0]) for row in rows)
        values = sum(_is_value(cell) for row in rows for cell in row[lead:width])
        if named and width - lead >= 2 and values >= 0.9 * len(rows) * (width - lead):
            turned = zip(*(row[:width] for row in rows), strict=True)
            return "\n".join("\t".join(cells) for cells in turned)
    return None


def refuse_packed(data: bytes) -> None:
    """Refuse a file that holds another file: what lies in it may be any size.

    Raises
    ------
    LogError
    """
    kind = next((name for magic, name in _PACKED.items() if data.startswith(magic)), "")
    if kind:
        raise LogError(f"This is a {kind} file. Unpack it and drop the log itself.", "file")


def refuse_wide(columns: int) -> None:
    """Refuse more columns than any logger writes.

    Raises
    ------
    LogError
    """
    if columns > MOST_COLUMNS:
        raise LogError(
            f"The heading names {columns} columns; a log has {MOST_COLUMNS} at most. Export the channels you"
            " need.",
            "file",
        )


def refuse_prose(body: bytes, separator: str) -> None:
    """Text below a heading is no log: looked at in eight places before all of it is read."""
    values = cells = 0
    for at in range(0, len(body), max(1, len(body) // 8)):
        lines = body[at : at + 32_768].decode("latin-1").splitlines()[1:-1]
        for line in lines:
            found = [cell for cell in cells_of(line, separator) if cell]
            cells += len(found)
            values += sum(map(_is_value, found))
    if cells > 200 and values < 0.02 * cells:
        raise LogError("Below the heading are words, not numbers. Export the log as CSV.", "file")
