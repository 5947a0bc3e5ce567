"""Which cells of a table the next drive should fill, said to the driver."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import Table2D
from ..vehicle import Gearing

#: Held so long a cell has its samples at ten a second, with a second lost at each end [s].
CELL_S = 8.0
#: So many sweeps are a drive.
SWEEPS = 4
#: Where one is driven that loads the engine or is fast, and where any other.
APART, EASY = "a drum or a closed course", "where the law and the traffic let you"


@dataclass(frozen=True)
class Sweep:
    """A row of cells without enough evidence: at one load, from one engine speed to another [rpm]."""

    load: float
    from_rpm: float
    to_rpm: float
    cells: int

    @property
    def seconds(self) -> float:
        return self.cells * CELL_S

    def in_words(self, unit: str) -> str:
        """What the driver does; `unit` of the load, kPa or %."""
        near = f"{self.load:g} {unit}"
        if self.cells == 1:
            return f"Hold {self.from_rpm:,.0f} rpm near {near} for {CELL_S:.0f} s.".replace(",", "\u202f")
        speeds = f"{self.from_rpm:,.0f} to {self.to_rpm:,.0f} rpm".replace(",", "\u202f")
        return f"Near {near}, slowly from {speeds}: {self.seconds:.0f} s or more."


def driven_so(
    sweep: Sweep, unit: str, loaded: bool, gearing: Gearing | None, most_kmh: float
) -> tuple[str, str]:
    """What the driver does, in which gear and how fast where gears are known; and where that may be driven.

    Parameters
    ----------
    unit : str
        Of the load, kPa or %.
    loaded : bool
        Whether the engine works hard there.
    most_kmh : float
        Fastest that is driven on the road [km/h].
    """
    if gearing is None:
        return sweep.in_words(unit), APART if loaded else EASY
    gear = gearing.steady(sweep.from_rpm, sweep.to_rpm, most_kmh)
    fast = gearing.kmh(gear, sweep.to_rpm) > most_kmh
    told = f"{gearing.told(gear, sweep.from_rpm, sweep.to_rpm)}: {sweep.in_words(unit)}"
    return told, APART if loaded or fast else EASY


def sweeps(table: Table2D, ticks: NDArray[np.integer], most: int = SWEEPS) -> tuple[Sweep, ...]:
    """Rows of cells that were driven past without being filled, the longest first.

    Parameters
    ----------
    table : Table2D
        Speed [rpm] along, load up.
    ticks : array of the table's shape
        Evidence of a cell, 0 to 4.

    Notes
    -----
    Asked for is what lies between cells that have evidence, in its row or in its column: the engine gets
    there. Nobody is sent where it was not yet, or where fuel is cut.

    Examples
    --------
    >>> grid = Table2D(np.array([1000.0, 2000, 3000, 4000]), np.array([40.0, 60, 80]), np.ones((3, 4)))
    >>> ticks = np.array([[4, 4, 0, 0], [0, 2, 0, 0], [4, 0, 0, 3]])
    >>> [(one.load, one.from_rpm, one.to_rpm) for one in sweeps(grid, ticks)]
    [(80.0, 2000.0, 3000.0), (60.0, 1000.0, 1000.0)]
    """
    filled = ticks > 0
    wanted = ~filled & (_between(filled, 0) | _between(filled, 1))
    found = []
    for row, lacking in enumerate(wanted):
        edges = np.flatnonzero(np.diff(np.concatenate([[0], lacking.astype(np.int8), [0]])))
        for start, stop in zip(edges[::2], edges[1::2], strict=True):
            speeds = table.x[start:stop]
            found.append(Sweep(float(table.y[row]), float(speeds[0]), float(speeds[-1]), int(stop - start)))
    found.sort(key=lambda one: (-one.cells, one.load))
    return tuple(found[:most])


def _between(filled: NDArray[np.bool_], axis: int) -> NDArray[np.bool_]:
    """Whether something is filled on both sides of a cell along an axis."""
    before = np.logical_or.accumulate(filled, axis=axis)
    after = np.flip(np.logical_or.accumulate(np.flip(filled, axis), axis=axis), axis)
    return np.asarray(before & after)
