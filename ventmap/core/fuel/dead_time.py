"""Dead time: how long an injector takes to open, over voltage and pressure, and how typing it goes wrong."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..basics import Call, Evidence, Floats, Injector, Table2D, Verdict
from .flow import flow_at_pressure

SHORTEST_MS, LONGEST_MS = 0.2, 3.0
#: Below this battery large injectors open late [V], [ms].
WEAK_V, LONGEST_WEAK_MS = 11.0, 6.0
STEP_RATIO = 3.0
#: Steps smaller than this are noise of the maker's own rounding and are not held against their neighbours.
LEVEL_MS = 0.02
#: Battery of a charging engine [V].
CHARGING_V = 14.0
SOURCE = "SAE J1832: opening delay falls with voltage and rises with pressure"


@dataclass(frozen=True)
class DeadTimeTable:
    """Opening delay of an injector.

    Parameters
    ----------
    voltages : array_like, shape (n,)
        Rising [V].
    pressures_kpa : array_like, shape (m,)
        Pressure across the injector, rising [kPa].
    ms : array_like, shape (n, m)
        ``ms[i, j]`` at ``voltages[i]``, ``pressures_kpa[j]``.
    """

    voltages: Floats
    pressures_kpa: Floats
    ms: Floats

    def __init__(self, voltages: ArrayLike, pressures_kpa: ArrayLike, ms: ArrayLike) -> None:
        table = Table2D(pressures_kpa, voltages, ms)
        object.__setattr__(self, "voltages", table.y)
        object.__setattr__(self, "pressures_kpa", table.x)
        object.__setattr__(self, "ms", table.values)

    @property
    def table(self) -> Table2D:
        """Rows by voltage, columns by pressure."""
        return Table2D(self.pressures_kpa, self.voltages, self.ms)

    def at(self, voltage: float, kpa: float) -> float:
        """Bilinear between points, held beyond the edges [ms]; see `covers`."""
        return self.table.one(kpa, voltage)

    def covers(self, voltage: float, kpa: float) -> bool:
        """Whether a point lies within the table, rather than beyond its edge."""
        return bool(
            self.voltages[0] <= voltage <= self.voltages[-1]
            and self.pressures_kpa[0] <= kpa <= self.pressures_kpa[-1]
        )

    def problems(self) -> list[Call]:
        """Slips of typing; empty for a sound table.

        Falls as voltage rises; rises or is level with pressure; no step more than 3× its neighbour;
        0.2–3 ms from 11 V up, to 6 ms below. Where one cell, or one column moved by a row, would put all
        right,
        that is said.
        """
        found = _slips(self)
        if found:
            # The plainest explanation first: one cell, then one column; a sound column is never accused.
            why = _one_cell(self) or _row_off(self)
            if why is not None:
                found.insert(0, why)
        return found


def _slip(title: str, *because: Evidence, do_next: str) -> Call:
    return Call(
        "injector.dead_time_entry",
        verdict=Verdict.hold,
        because=because,
        do_next=do_next,
        source=SOURCE,
        title=title,
    )


def _where(table: DeadTimeTable, i: int, j: int) -> str:
    return f"{table.voltages[i]:g} V, {table.pressures_kpa[j]:g} kPa"


def _slips(table: DeadTimeTable) -> list[Call]:
    found = []
    ms = table.ms
    longest = np.where(table.voltages < WEAK_V, LONGEST_WEAK_MS, LONGEST_MS)[:, None]
    for i, j in np.argwhere(~((ms >= SHORTEST_MS) & (ms <= longest))):
        found.append(
            _slip(
                "Dead time out of range",
                Evidence(
                    _where(table, i, j), float(ms[i, j]), f"{SHORTEST_MS}–{float(longest[i, 0]):g}", unit="ms"
                ),
                do_next="Type this cell again; check the unit, milliseconds not microseconds.",
            )
        )
    for i, j in np.argwhere(np.diff(ms, axis=0) >= 0):
        found.append(
            _slip(
                "Dead time does not fall with voltage",
                Evidence(_where(table, i + 1, j), float(ms[i + 1, j]), float(ms[i, j]), unit="ms"),
                do_next=(
                    "Dead time gets shorter as voltage rises. Compare this column with the sheet, row by row."
                ),
            )
        )
    for i, j in np.argwhere(np.diff(ms, axis=1) < -1e-9):
        found.append(
            _slip(
                "Dead time falls with pressure",
                Evidence(_where(table, i, j + 1), float(ms[i, j + 1]), float(ms[i, j]), unit="ms"),
                do_next="Dead time gets longer, or stays level, as pressure rises. Check the column heads.",
            )
        )
    found += _steep(table, axis=0) + _steep(table, axis=1)
    return found


def _steep(table: DeadTimeTable, axis: int) -> list[Call]:
    """Steps more than three times a neighbouring step, per unit of the axis so that uneven points are
    fair.
    """
    points = table.voltages if axis == 0 else table.pressures_kpa
    if len(points) < 3:
        return []
    spacing = np.diff(points)
    shape = (-1, 1) if axis == 0 else (1, -1)
    slope = np.abs(np.diff(table.ms, axis=axis)) / spacing.reshape(shape)
    floor = LEVEL_MS / float(np.median(spacing))
    slope = np.moveaxis(np.maximum(slope, floor), axis, 0)
    found = []
    for k in range(len(slope)):
        neighbours = [slope[n] for n in (k - 1, k + 1) if 0 <= n < len(slope)]
        # A step is steep only where it stands out from every neighbour: real curves bend, slips jump.
        for other in np.flatnonzero(slope[k] > STEP_RATIO * np.max(neighbours, axis=0)):
            i, j = (k + 1, int(other)) if axis == 0 else (int(other), k + 1)
            found.append(
                _slip(
                    "Dead time jumps",
                    Evidence(
                        f"step to {_where(table, i, j)}",
                        round(float(slope[k][other]) * float(spacing[k]), 3),
                        round(STEP_RATIO * float(np.max(neighbours, axis=0)[other]) * float(spacing[k]), 3),
                        unit="ms",
                    ),
                    do_next="The step is more than three times its neighbour. Type this cell again.",
                )
            )
    return found


def _one_cell(table: DeadTimeTable) -> Call | None:
    """The one cell without which the table is sound: mistyped, often by its decimal point."""
    ms = table.ms
    if min(ms.shape) < 1 or len(table.voltages) < 3:
        return None
    suspects = []
    for i, j in np.ndindex(ms.shape):
        others = [k for k in range(len(table.voltages)) if k != i]
        trial = ms.copy()
        trial[i, j] = np.interp(table.voltages[i], table.voltages[others], ms[others, j])
        if i in (0, len(table.voltages) - 1):
            a, b = (others[0], others[1]) if i == 0 else (others[-1], others[-2])
            slope = (ms[a, j] - ms[b, j]) / (table.voltages[a] - table.voltages[b])
            trial[i, j] = ms[a, j] + slope * (table.voltages[i] - table.voltages[a])
        if not _slips(DeadTimeTable(table.voltages, table.pressures_kpa, trial)):
            suspects.append(
                (abs(np.log(abs(ms[i, j]) / trial[i, j] + 1e-12)), int(i), int(j), float(trial[i, j]))
            )
    if not suspects:
        return None
    _, i, j, near = max(suspects)
    return _slip(
        f"The cell at {_where(table, i, j)} looks mistyped",
        Evidence(_where(table, i, j), float(ms[i, j]), round(near, 3), unit="ms"),
        do_next=f"Its neighbours ask for about {near:.2f} ms. Look at its decimal point, and type it again.",
    )


def _row_off(table: DeadTimeTable) -> Call | None:
    """A column that would be sound if moved by one row."""
    if len(table.voltages) < 4:
        return None
    for j, kpa in enumerate(table.pressures_kpa):
        for move, word in ((1, "down"), (-1, "up")):
            # Compare only the rows that both placings fill; the row that fell off the end is unknown.
            column = table.ms[:, j]
            rest = slice(0, -1) if move == 1 else slice(1, None)
            source = slice(1, None) if move == 1 else slice(0, -1)
            trial = table.ms[rest].copy()
            trial[:, j] = column[source]
            if not _slips(DeadTimeTable(table.voltages[rest], table.pressures_kpa, trial)):
                return _slip(
                    f"Column {kpa:g} kPa looks typed one row off",
                    Evidence("rows that fit after moving it back", len(trial), len(trial)),
                    do_next=(
                        f"Its values sit one row too far {word}. Move them one row back and type the open end"
                        " again."
                    ),
                )
    return None


def dead_time_of(injector: Injector) -> DeadTimeTable | None:
    """The table of an injector's sheet; None where it has none."""
    sheet = injector.dead_time
    return DeadTimeTable(sheet.voltages, sheet.pressures_kpa, sheet.ms) if sheet else None


def beyond_call(table: DeadTimeTable, pressure_kpa: float) -> Call | None:
    """A hold where a table does not reach the pressure across the injector [kPa]; None where it does."""
    if table.covers(CHARGING_V, pressure_kpa):
        return None
    span = f"{table.pressures_kpa[0]:g}–{table.pressures_kpa[-1]:g}"
    return Call(
        "injector.dead_time_range",
        verdict=Verdict.hold,
        because=(Evidence("pressure here", pressure_kpa, span, unit="kPa"),),
        do_next=(
            "The table does not reach this vehicle's pressure: its edge would be used. Get the sheet for this"
            " pressure."
        ),
        source="Dead-time table",
        title="Beyond the dead-time table",
    )


def figures_call(flow: float, rated_kpa: float, pressure_kpa: float, table: DeadTimeTable) -> Call:
    """What was set of an injector: flow [cm³/min] as rated and here, dead time while charging."""
    return Call(
        "base-map.figures",
        verdict=Verdict.go,
        because=(
            Evidence("flow rated", flow, unit="cm³/min"),
            Evidence("rated at", rated_kpa, unit="kPa"),
            Evidence("pressure here", pressure_kpa, unit="kPa"),
            Evidence("flow here", round(flow_at_pressure(flow, rated_kpa, pressure_kpa), 1), unit="cm³/min"),
            Evidence("dead time at 14 V", round(table.at(CHARGING_V, pressure_kpa), 3), unit="ms"),
        ),
        do_next="Load this version.",
        source="Q₂ = Q₁·√(Δp₂/Δp₁); SAE J1832",
        title="Injector figures set",
    )
