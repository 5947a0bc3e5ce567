"""Series with clocks of their own, brought to one: blank where a series has no value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl
from numpy.typing import NDArray

from ...basics import LogError
from ..headings import Heading, heading
from .dialect import refuse_wide
from .table import MOST_CELLS, Table

CLOCK = "Time (s)"


@dataclass(frozen=True)
class Series:
    """A channel on its own clock [s]."""

    name: str
    unit: str
    time_s: NDArray[np.floating]
    values: NDArray[np.floating]


def joined(series: Sequence[Series]) -> Table:
    """A row for each moment of any series.

    Raises
    ------
    LogError
        If that is more than is read.
    """
    refuse_wide(len(series))
    # Moments that differ by less than a tenth of a millisecond are one.
    clocks = {id(one.time_s): np.round(one.time_s, 4) for one in series}
    moments = np.unique(np.concatenate(list(clocks.values())))
    if len(moments) * len(series) > MOST_CELLS:
        raise LogError(
            f"The file holds more than {MOST_CELLS // 10**6} million cells. Export fewer channels.", "file"
        )
    rows = {key: np.searchsorted(moments, clock) for key, clock in clocks.items()}
    columns: dict[str, NDArray[np.floating]] = {CLOCK: moments - moments[0]}
    heads: dict[str, Heading] = {CLOCK: heading(CLOCK)}
    for one in series:
        key, count = one.name, 1
        while key in columns:
            count += 1
            key = f"{one.name} ({count})"
        whole = np.full(len(moments), np.nan, np.float32)
        whole[rows[id(one.time_s)]] = one.values
        columns[key], heads[key] = whole, heading(one.name, one.unit)
    return Table(pl.DataFrame(columns), heads, clock=CLOCK)
