"""Files that logs come in: text, Parquet, MDF 4, workbooks, CAN traces. Handed on by `logs`."""

from .kinds import read_file
from .table import Table
from .text import is_epoch

__all__ = ["Table", "is_epoch", "read_file"]
