"""A table of dead times as it is copied off a data sheet: any orientation, decimal mark or unit."""

from __future__ import annotations

import re
from typing import Any

from ..basics import NUMBER, BadInput, Call, one_figure, split_cells
from .dead_time import DeadTimeTable

FIELD = "dead_time"
#: Batteries that a sheet lists [V].
LEAST_V, MOST_V = 5.0, 20.0
#: A pressure below this is in bar, below the next in psi, else in kPa; where a unit is written, it wins.
BAR_BELOW, PSI_BELOW = 20.0, 100.0
KPA = {"kpa": 1.0, "bar": 100.0, "psi": 6.894757}
#: Milliseconds above this are microseconds.
MOST_MS = 30.0


def read_dead_time(text: str, rated_kpa: float) -> tuple[dict[str, Any], list[Call]]:
    """Read a pasted table, and what its own checks say of it.

    Parameters
    ----------
    text : str
        Rows by line; cells by tab, semicolon, or blanks. One axis is battery [V], the other pressure; or two
        rows or columns, battery and milliseconds, all at `rated_kpa`.

    Returns
    -------
    dict
        ``voltages``, ``pressures_kpa``, ``ms``, rising, as `DeadTimeFigures` takes them.
    list of Call
        Slips of typing; empty for a sound table.

    Raises
    ------
    BadInput
        Naming the line and the cell that is no figure, or which axis is missing.
    """
    rows = split_cells(text)
    if len(rows) < 2:
        raise BadInput(
            "Paste the table with both its axes: voltages along one, pressures along the other.", FIELD
        )
    if max(map(len, rows)) == 2 or len(rows) == 2:
        columns = (
            rows
            if len(rows) == 2 and len(rows[0]) > 2
            else [list(c) for c in zip(*_even(rows, 2), strict=True)]
        )
        return _one_pressure(columns, rated_kpa)
    return _two_axes(rows, text)


def _even(rows: list[list[str]], width: int) -> list[list[str]]:
    for number, row in enumerate(rows, 1):
        if len(row) != width:
            raise BadInput(f"Line {number} has {len(row)} cells, the others {width}.", FIELD)
    return rows


def _figure(cell: str, where: str) -> float:
    figure = one_figure(cell)
    if figure is None:
        raise BadInput(f"{where}: “{cell[:20]}” is no figure.", FIELD)
    return figure


def _axis(cells: list[str], what: str) -> list[float]:
    return [_figure(cell, f"{what}, cell {n}") for n, cell in enumerate(cells, 1)]


def _is_battery(values: list[float]) -> bool:
    return all(LEAST_V <= value <= MOST_V for value in values)


def _table(
    voltages: list[float], pressures: list[float], ms: list[list[float]]
) -> tuple[dict[str, Any], list[Call]]:
    if not ms or not all(ms):
        raise BadInput("No milliseconds stand in it: paste them with their axes.", FIELD)
    if len(set(voltages)) != len(voltages) or len(set(pressures)) != len(pressures):
        raise BadInput("A voltage or a pressure stands there twice.", FIELD)
    scale = 0.001 if min(min(row) for row in ms) > MOST_MS else 1.0
    by_v = sorted(range(len(voltages)), key=voltages.__getitem__)
    by_p = sorted(range(len(pressures)), key=pressures.__getitem__)
    figures = {
        "voltages": [voltages[i] for i in by_v],
        "pressures_kpa": [round(pressures[j], 2) for j in by_p],
        "ms": [[round(ms[i][j] * scale, 5) for j in by_p] for i in by_v],
    }
    table = DeadTimeTable(figures["voltages"], figures["pressures_kpa"], figures["ms"])  # type: ignore[arg-type]
    return figures, table.problems()


def _one_pressure(columns: list[list[str]], rated_kpa: float) -> tuple[dict[str, Any], list[Call]]:
    kept = [column[1:] if not NUMBER.search(column[0]) else column for column in columns]
    _even(kept, len(kept[0]))
    first, second = (_axis(column, name) for column, name in zip(kept, ("First", "Second"), strict=True))
    if _is_battery(first):
        return _table(first, [rated_kpa], [[value] for value in second])
    if _is_battery(second):
        return _table(second, [rated_kpa], [[value] for value in first])
    raise BadInput("No voltages from 5 to 20 V stand in it: paste battery beside milliseconds.", FIELD)


def _two_axes(rows: list[list[str]], text: str) -> tuple[dict[str, Any], list[Call]]:
    width = max(map(len, rows))
    head, body = rows[0], rows[1:]
    # A heading may lack its corner cell, or name what it holds there.
    across = head if len(head) == width - 1 else head[1:]
    _even(body, width)
    if len(across) != width - 1:
        raise BadInput(f"The first line has {len(head)} cells, the lines below {width}.", FIELD)
    top = _axis(across, "First line")
    side = _axis([row[0] for row in body], "First column")
    inner = [
        [_figure(cell, f"Line {i}, cell {j}") for j, cell in enumerate(row[1:], 2)]
        for i, row in enumerate(body, 2)
    ]
    if _is_battery(side) and not _is_battery(top):
        return _table(side, _kpa(top, text), inner)
    if _is_battery(top) and not _is_battery(side):
        return _table(top, _kpa(side, text), [list(column) for column in zip(*inner, strict=True)])
    raise BadInput(
        "One axis has to be battery, from 5 to 20 V, and the other pressure: both are not clear.", FIELD
    )


def _kpa(values: list[float], text: str) -> list[float]:
    said = next(
        (factor for name, factor in KPA.items() if re.search(rf"\b{name}\b|\d{name}\b", text.lower())), None
    )
    least = min(values)
    factor = said or (100.0 if least < BAR_BELOW else KPA["psi"] if least < PSI_BELOW else 1.0)
    return [value * factor for value in values]
