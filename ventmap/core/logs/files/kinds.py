"""Which kind of file it is, by its first bytes and its name."""

from __future__ import annotations

from .dialect import refuse_packed
from .mdf import read_mdf
from .parquet import read_parquet
from .table import Table
from .text import read_text
from .trace import TRACES, is_candump, read_trace
from .workbook import is_workbook, read_workbook


def is_trace(data: bytes, name: str) -> bool:
    """Whether a file is a trace of CAN frames."""
    ending = ending_of(name)
    return data[:4] == b"LOGG" or ending in TRACES[:-1] or (ending == ".log" and is_candump(data))


def ending_of(name: str) -> str:
    """A file's ending, with its point, in lower case."""
    return f".{name.rsplit('.', 1)[-1].lower()}" if "." in name else ""


def read_file(data: bytes, name: str, dbc: str = "") -> Table:
    """The columns of a file, whatever its kind.

    Parameters
    ----------
    data : bytes
    name : str
        Its ending tells CAN traces from text.
    dbc : str
        Text of the DBC file that names the signals of a CAN trace.

    Raises
    ------
    LogError
        If it is no log, or cannot be read; without a DBC for a trace, on the field ``dbc``.
    """
    if is_workbook(data):
        return read_workbook(data)
    if data[:8].rstrip() == b"MDF":
        return read_mdf(data)
    if is_trace(data, name):
        return read_trace(data, ending_of(name), dbc)
    refuse_packed(data)
    if data[:4] == b"PAR1":
        return read_parquet(data)
    return read_text(data)
