"""Evidence of a map's cells while a log is captured: the same that Correct will find, so far."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import VentMapError
from ..forms import Calibration
from ..logs import Log
from .cell_evidence import gather
from .propose import CorrectionRules
from .steady import ROWS, steady_samples


@dataclass(frozen=True)
class CellsSoFar:
    """A table as it fills.

    Parameters
    ----------
    ticks : ndarray, shape (rows, columns)
        Evidence of each cell, 0 to 4.
    enough : ndarray, shape (rows, columns)
        Whether a correction would be made of it.
    at : pair of int, optional
        Row and column of the cell that is driven now; None where the engine is in none.
    """

    ticks: NDArray[np.int_]
    enough: NDArray[np.bool_]
    at: tuple[int, int] | None

    @property
    def enough_here(self) -> bool:
        """What is driven now has been driven long enough."""
        return self.at is not None and bool(self.enough[self.at])


def cells_so_far(log: Log, calibration: Calibration, name: str, rules: CorrectionRules) -> CellsSoFar | None:
    """What a log so far says of each cell of a table of fuel; None where its channels can say nothing.

    Parameters
    ----------
    log : Log
        As captured so far.
    name : str
        A table whose cells are fuel, by manifold pressure or throttle.
    """
    table, kind = calibration.tables[name], calibration.table_kind(name)
    try:
        steady = steady_samples(rules.readable(log), calibration, rules.house, name)
    except VentMapError:
        return None
    cells = gather(table, steady.rpm, steady.load, steady.error)
    enough = (cells.samples >= rules.house["correct.samples"]) & (
        cells.spread <= rules.house["correct.spread"] / 100
    )
    load = ROWS.get(kind.rows.unit, "map") if kind and kind.rows else "map"
    return CellsSoFar(cells.ticks, enough, _nearest(log, table.x, table.y, load))


def _nearest(log: Log, x: NDArray[np.float64], y: NDArray[np.float64], load: str) -> tuple[int, int] | None:
    rpm, value = float(log.filled("rpm")[-1]), float(log.filled(load)[-1])
    if not (np.isfinite(rpm) and np.isfinite(value)) or rpm < 500.0:
        return None
    return int(np.argmin(np.abs(y - value))), int(np.argmin(np.abs(x - rpm)))
