"""Files that logs come in: text, Parquet, MDF 4, workbooks, CAN traces. Handed on by `logs`."""

from .kinds import is_trace, read_file
from .mdf import write_mdf
from .table import Table
from .text import is_epoch
from .trace import dbc_covers
from .workbook import as_workbook

__all__ = ["Table", "as_workbook", "dbc_covers", "is_epoch", "is_trace", "read_file", "write_mdf"]
