"""What a change of a map does to fuel, spark or boost, in plain numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..basics import Floats, Table2D
from .calibration import Calibration
from .own import OWN

#: Table → what it moves, unit, and how a cell's new value against its old one says by how much.
_RATIO = ("ve", "ve_throttle", "pulse_ms", "pulse_us", "pulse_factor", "cranking_fuel")
_ADDED = ("fuel_trim", "after_start", "warm_up", "start_addition")
_PLAIN = {
    "spark": ("spark", "°"),
    "spark_trim": ("spark", "°"),
    "boost_target": ("boost", "kPa"),
    "added_boost": ("boost", "kPa"),
    "wastegate_duty": ("wastegate duty", "%"),
    "idle_air": ("idle air", "%"),
    "dead_time": ("pulse", "ms"),
}


@dataclass(frozen=True)
class Effect:
    """What a table's change does: what it moves, most and least with where, how many cells."""

    table: str
    moves: str
    unit: str
    cells: int
    sentence: str


def moved(name: str, old: Floats, new: Floats) -> tuple[str, str, Floats]:
    """What a table moves, its unit, and by how much in each cell."""
    stem = name.partition(".")[0]
    if stem in _RATIO:
        safe = np.where(old == 0, np.nan, old)
        return "fuel", "%", np.nan_to_num(100 * (new / safe - 1.0))
    if stem == "lambda_target":
        return "fuel", "%", np.asarray(100 * (old / new - 1.0))
    if stem in _ADDED:
        return "fuel", "%", np.asarray(100 * ((100 + new) / (100 + old) - 1.0))
    what, unit = _PLAIN.get(stem, (stem.replace("_", " "), ""))
    return what, unit, np.asarray(new - old)


def effects(before: Calibration, after: Calibration) -> list[Effect]:
    """Each changed table in a sentence: “+3.1 % fuel at 4200 rpm, 80 kPa”, the largest first."""
    found = []
    for name, table in after.tables.items():
        old = before.tables.get(name)
        if old is None or old.values.shape != table.values.shape:
            continue
        changed = np.abs(table.values - old.values) > 1e-9
        if not changed.any():
            continue
        what, unit, by = moved(name, old.values, table.values)
        if name.startswith(f"{OWN}."):
            kind = after.table_kind(name)
            what, unit = after.title_of(name), kind.unit if kind else ""
        found.append(Effect(name, what, unit, int(changed.sum()), _told(after, name, table, what, unit, by)))
    return found


def _told(of: Calibration, name: str, table: Table2D, what: str, unit: str, by: Floats) -> str:
    most = np.unravel_index(int(np.argmax(by)), by.shape)
    least = np.unravel_index(int(np.argmin(by)), by.shape)
    said: list[str] = []
    for row, column in dict.fromkeys((int(i), int(j)) for i, j in (most, least)):
        value = float(by[row, column])
        if abs(value) < 5e-4:
            continue
        said.append(
            f"{value:+.{3 if unit == 'ms' else 1}f} {unit} {what} at {place(of, name, table, row, column)}"
        )
    return "; ".join(said) or f"{what} moves by less than can be told"


def place(of: Calibration, name: str, table: Table2D, row: int, column: int) -> str:
    """A cell by its axes: “4200 rpm, 80 kPa”."""
    kind = of.table_kind(name)
    if kind is None:
        return f"{table.x[column]:g}, {table.y[row]:g}"
    across = f"{table.x[column]:g} {kind.columns.unit}".strip()
    if kind.rows is None:
        return across
    down = f"{table.y[row]:g} {kind.rows.unit}" if kind.rows.unit else f"{kind.rows.text} {table.y[row]:g}"
    return f"{across}, {down}"
