"""From a log to one table that lives in another program: the same evidence, the same limits."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import LOAD_THROTTLE, BadInput, Floats, NotEnough, in_boost, under_load
from ..forms import Calibration
from ..logs import Log
from .cell_evidence import gather
from .proposal import CorrectionRules
from .propose import DEAD_BAND, LOAD_MARGIN
from .steady import steady_samples

#: Tables whose cells are fuel, and how a cell takes a share of it.
FUEL = ("ve", "ve_throttle", "pulse_ms", "pulse_us")
TRIMS = ("fuel_trim",)


@dataclass(frozen=True)
class TableProposal:
    """What a log says of a table: new cells, the evidence behind each, the share that holds its target."""

    new: Floats
    error: Floats
    samples: Floats
    ticks: NDArray[np.int_]
    changed: NDArray[np.bool_]
    within: float
    used: int


def propose_table(
    log: Log,
    calibration: Calibration,
    name: str,
    rules: CorrectionRules,
    *,
    target_lambda: float | None = None,
    bounds: tuple[float, float] | None = None,
) -> TableProposal:
    """New cells of one table from steady, warm samples.

    Parameters
    ----------
    name : str
        A table whose cells are fuel, by manifold pressure or throttle.
    target_lambda : float, optional
        Where the log holds no target.
    bounds : pair, optional
        Of the device, as fractions, for trims.

    Raises
    ------
    BadInput
        If the table is none of fuel.
    NotEnough
        If channels are missing, or no cell has enough evidence.
    """
    kind = calibration.table_kind(name)
    stem = name.partition(".")[0]
    if kind is None or stem not in (*FUEL, *TRIMS):
        raise BadInput("A log corrects tables of fuel: filling, pulse, fuel trim. This is another.", "table")
    if target_lambda is None and not log.has("lambda_target"):
        raise NotEnough("The log holds no mixture target: type the lambda that was wanted.", "target")
    house = rules.house
    log = rules.readable(log)
    steady = steady_samples(log, calibration, house, name, target_lambda)
    table = calibration.tables[name]
    cells = gather(table, steady.rpm, steady.load, steady.error)
    enough = (cells.samples >= house["correct.samples"]) & (cells.spread <= house["correct.spread"] / 100)
    if not enough.any():
        raise NotEnough(
            "No cell has enough steady samples: hold speed and load longer, and log again.", "log"
        )
    step = house["correct.step"] / 100
    change = np.where(enough, np.nan_to_num(cells.error), 0.0)
    by_pressure = kind.rows is not None and kind.rows.unit == "kPa"
    load = rows_under_load(table.y, by_pressure, rules.barometer_kpa)[:, None]
    # Under load a removal stops short, so that a cell ends on the rich side of its target.
    change = np.where(load & (change < 0), np.minimum(change + LOAD_MARGIN, 0.0), change)
    change = np.where(np.abs(change) < DEAD_BAND, 0.0, change)
    change = np.clip(change, -step, step)
    if not rules.on_drum:
        boost = in_boost(table.y, rules.barometer_kpa)[:, None] if by_pressure else load
        change = np.where(boost, np.maximum(change, -house["correct.lean_boost"] / 100), change)
    new = _taken(stem, table.values, change)
    if bounds is not None and stem in TRIMS:
        new = np.clip(new, 100 * bounds[0], 100 * bounds[1])
    new = np.clip(np.round(new, kind.decimals), kind.low, kind.high)
    within = house["correct.within"] / 100
    weight = np.where(np.isfinite(cells.error), cells.time_share, 0.0)
    share = float(weight[np.abs(cells.error) <= within].sum() / weight.sum()) if weight.sum() > 0 else 0.0
    return TableProposal(
        new,
        cells.error,
        cells.samples,
        cells.ticks,
        changed=enough & (new != table.values),
        within=share,
        used=len(steady.rpm),
    )


def rows_under_load(rows: Floats, by_pressure: bool, barometer: float) -> NDArray[np.bool_]:
    """Rows that count as load: near the barometer, or beyond three quarters of the throttle."""
    return under_load(rows, barometer) if by_pressure else np.asarray(rows >= LOAD_THROTTLE)


def _taken(stem: str, old: Floats, change: Floats) -> Floats:
    """Cells that give so much more fuel; a trim adds to what is there."""
    if stem in TRIMS:
        return np.asarray((100.0 + old) * (1.0 + change) - 100.0)
    return np.asarray(old * (1.0 + change))


def samples_beside(
    log: Log, calibration: Calibration, name: str, rules: CorrectionRules, at: float, along: str
) -> list[tuple[float, float]]:
    """What a log says beside a slice through a table: points (axis, the value the log asks for).

    Parameters
    ----------
    at : float
        Where the slice lies on the other axis.
    along : str
        ``"row"`` for a slice along speed at a load, ``"column"`` for one along load at a speed.
    """
    table = calibration.tables[name]
    steady = steady_samples(log, calibration, rules.house, name)
    across, other = (steady.load, table.y) if along == "row" else (steady.rpm, table.x)
    reach = float(np.median(np.diff(other))) / 2 if len(other) > 1 else np.inf
    near = np.abs(across - at) <= reach
    value = table.at(steady.rpm, steady.load) * (1.0 + steady.error)
    axis = steady.rpm if along == "row" else steady.load
    return [(float(x), float(y)) for x, y in zip(axis[near], value[near], strict=True)]
