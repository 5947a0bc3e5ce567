"""Lists: what a shop keeps in files, row by row into what it would make, change or refuse. Uses basics."""

from .kinds import LISTS, ListField, ListKind, list_by
from .rows import Change, Mapped, Outcome, Row, dry_run, guess_columns
from .sheet import Sheet, read_sheet, write_csv, write_workbook

__all__ = [
    "LISTS",
    "Change",
    "ListField",
    "ListKind",
    "Mapped",
    "Outcome",
    "Row",
    "Sheet",
    "dry_run",
    "guess_columns",
    "list_by",
    "read_sheet",
    "write_csv",
    "write_workbook",
]
