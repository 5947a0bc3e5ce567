"""What every reader of a file hands on."""

from __future__ import annotations

from dataclasses import dataclass, field

import polars as pl

from ..headings import Heading
from ..model import Note

#: Rows × columns: a day at 100 rows a second of 24 channels is 207 million.
MOST_CELLS = 250_000_000


@dataclass
class Table:
    """A file's columns, what their headings say, and what was noticed. `clock` names the column of time where
    the file itself says which it is.
    """

    frame: pl.DataFrame
    heads: dict[str, Heading]
    notes: list[Note] = field(default_factory=list)
    clock: str = ""
