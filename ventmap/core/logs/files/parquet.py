"""Logs as Parquet: asked before they are read."""

from __future__ import annotations

import io

import polars as pl

from ...basics import LogError
from ..headings import heading
from ..model import Note
from .dialect import refuse_wide
from .table import MOST_CELLS, Table


def read_parquet(data: bytes) -> Table:
    """A Parquet file's plain columns."""
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
    return Table(frame, {column: heading(column) for column in frame.columns}, notes)
