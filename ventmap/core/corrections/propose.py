"""From a log to the next map: scalars first, then cells, each only where there is evidence."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..basics import Call, Evidence, Floats, NotEnough, Table2D, Verdict
from ..fuel import SplitFuelError, cylinder_air, split_fuel_error
from ..logs import Log
from ..maps import Calibration
from .cell_evidence import CellEvidence, fill_between, gather
from .proposal import CorrectionRules, Proposal, ScalarChange
from .steady import SteadySamples, steady_samples

SOURCE = (
    "Fuel error = lambda/target − 1 in open loop, trims in closed loop, bilinear over the four cells around"
)
#: Under load a removal of fuel stops this short, so that a cell ends on the rich side of its target.
LOAD_MARGIN = 0.015
#: Smaller errors are the sensor's own: the cell stays.
DEAD_BAND = 0.01
#: Rows from this share of the barometer on count as load.
LOAD_SHARE = 0.8


def propose(log: Log, calibration: Calibration, rules: CorrectionRules | None = None) -> Proposal:
    """What to change in `calibration` after driving it for `log`.

    Parameters
    ----------
    log : Log
        Needs rpm, map, lambda, lambda_target, pulse; better with trims, coolant, pedal, battery.
    calibration : Calibration
        The map that was running while the log was made.
    rules : CorrectionRules, optional

    Raises
    ------
    NotEnough
        If channels are missing or no sample is steady and warm.
    """
    rules = rules or CorrectionRules()
    house = rules.house
    steady = steady_samples(log, calibration, house)
    split, scalars = _scalars(steady, calibration, rules)
    error = steady.error
    if scalars and split is not None:
        predicted = split.flow_error + split.dead_time_error_ms / steady.effective_pulse_ms
        error = (1.0 + error) / (1.0 + predicted) - 1.0
    table = calibration.tables["ve"]
    cells = gather(table, steady.rpm, steady.map_kpa, error)
    enough = (cells.samples >= house["correct.samples"]) & (cells.spread <= house["correct.spread"] / 100)
    filled_error, filled = fill_between(cells.error, enough)
    load = np.broadcast_to((table.y >= LOAD_SHARE * rules.barometer_kpa)[:, None], table.values.shape)
    boost = np.broadcast_to((table.y > rules.barometer_kpa + 5.0)[:, None], table.values.shape)
    # Every limit below is one on fuel: what the scalars move and what the cell moves, together.
    moved = _moved_by_scalars(split if scalars else None, steady, table)
    change = np.where(enough, cells.error, 0.0)
    change = np.where(filled, filled_error, change)
    removes = load & (_fuel(moved, change) < 0)
    change = np.where(removes, _cell(moved, np.minimum(_fuel(moved, change) + LOAD_MARGIN, 0.0)), change)
    # Nobody measured a filled cell, nor one without evidence: under load they may gain fuel, never lose it.
    change = np.where(load & ~enough, np.maximum(change, _cell(moved, 0.0)), change)
    change = np.where(np.abs(change) < DEAD_BAND, 0.0, change)
    step = house["correct.step"] / 100
    # Where a scalar takes fuel away from a cell that needs it, the cell gives it back, however much that is.
    change = np.clip(change, np.minimum(-step, _cell(moved, -step)), np.maximum(step, _cell(moved, step)))
    if not rules.on_drum:
        least = _cell(moved, -house["correct.lean_boost"] / 100)
        change = np.where(boost, np.maximum(change, least), change)
    change = np.clip(change, *rules.bounds)
    kept = load & ~enough & ~filled & (change > 0)
    new = np.round(table.values * (1.0 + change), 2)
    within = house["correct.within"] / 100
    weight = np.where(np.isfinite(cells.error), cells.time_share, 0.0)
    share = float(weight[np.abs(cells.error) <= within].sum() / weight.sum()) if weight.sum() > 0 else 0.0
    return Proposal(
        scalars,
        split,
        error=cells.error,
        samples=cells.samples,
        spread=cells.spread,
        ticks=cells.ticks,
        old=table.values,
        new=new,
        measured=enough & (np.abs(change) > 0),
        filled=filled | kept,
        within=share,
        used=len(steady.rpm),
        delay_s=steady.delay_s,
        calls=_calls(calibration, cells, enough, share, rules),
    )


def _moved_by_scalars(split: SplitFuelError | None, steady: SteadySamples, table: Table2D) -> Floats:
    """Fuel that the scalars add to each cell (fraction), by the pulse that its filling and pressure ask
    for.
    """
    if split is None:
        return np.zeros(table.values.shape)
    # The same equation gives the pulse of every cell, but for one factor: that is taken from what was driven.
    asked = cylinder_air(table.at(steady.rpm, steady.map_kpa), steady.map_kpa, 1.0, 1.0)
    factor = float(np.median(steady.effective_pulse_ms / asked))
    pulse = factor * cylinder_air(table.values, table.y[:, None], 1.0, 1.0)
    return np.asarray(np.clip(split.flow_error + split.dead_time_error_ms / pulse, -0.5, 1.0))


def _fuel(moved: Floats, change: Floats) -> Floats:
    """Fuel added by scalars and cell together (fraction)."""
    return (1.0 + moved) * (1.0 + change) - 1.0


def _cell(moved: Floats, fuel: Floats | float) -> Floats:
    """The cell's own part of a change of fuel."""
    return (1.0 + fuel) / (1.0 + moved) - 1.0


def _scalars(
    steady: SteadySamples, calibration: Calibration, rules: CorrectionRules
) -> tuple[SplitFuelError | None, tuple[ScalarChange, ...]]:
    try:
        split = split_fuel_error(steady.effective_pulse_ms, steady.error, steady.weight)
    except NotEnough:
        return None, ()
    if not rules.take_scalars or split.explained < rules.house["correct.explains"] / 100:
        return split, ()
    changes = []
    within = rules.house["correct.within"] / 100
    # Scalars that would move nothing by more than the rest's own scatter are left alone.
    moves = np.abs(split.flow_error + split.dead_time_error_ms / steady.effective_pulse_ms)
    if float(np.average(moves, weights=steady.weight)) < within / 2:
        return split, ()
    flow = calibration.scalars["injector_flow"]
    low, high = split.flow_error_interval
    changes.append(
        ScalarChange(
            "injector_flow",
            flow,
            new=round(flow / (1.0 + split.flow_error), 1),
            unit="cm³/min",
            interval=(flow / (1.0 + high), flow / (1.0 + low)),
        )
    )
    changes.append(
        ScalarChange(
            "dead_time",
            0.0,
            new=round(split.dead_time_error_ms, 3),
            unit="ms",
            interval=split.dead_time_error_interval_ms,
        )
    )
    return split, tuple(changes)


def _calls(
    calibration: Calibration,
    cells: CellEvidence,
    enough: NDArray[np.bool_],
    share: float,
    rules: CorrectionRules,
) -> tuple[Call, ...]:
    done = rules.house["correct.done"] / 100
    calls = [
        Call(
            "correct.within",
            verdict=Verdict.go if share >= done else Verdict.hold,
            because=(
                Evidence(
                    f"driven cells within {rules.house['correct.within']:g} %",
                    round(100 * share, 1),
                    round(100 * done, 1),
                    unit="%",
                ),
            ),
            do_next=(
                "The targets hold; prove it."
                if share >= done
                else "Make the next map, load it and log again."
            ),
            source=SOURCE,
            title="Mixture holds its target" if share >= done else "Mixture is not there yet",
        )
    ]
    y = calibration.tables["ve"].y
    seen = y[np.any(enough, axis=1)]
    if len(seen) and seen.max() < rules.barometer_kpa * 0.9 and seen.max() < y.max():
        calls.append(
            Call(
                "correct.no_load",
                verdict=Verdict.hold,
                because=(
                    Evidence(
                        "highest row with evidence",
                        float(seen.max()),
                        round(rules.barometer_kpa, 1),
                        unit="kPa",
                    ),
                ),
                do_next="Cells above stay. Prove them on the drum, not on the road.",
                source=SOURCE,
                title=f"No evidence above {seen.max():g} kPa",
            )
        )
    wide = int(((cells.samples >= rules.house["correct.samples"]) & ~enough).sum())
    if wide:
        calls.append(
            Call(
                "correct.spread",
                verdict=Verdict.hold,
                because=(Evidence("cells whose samples disagree", wide, 0),),
                do_next="These cells stay. Log them steadier: hold speed and load.",
                source=SOURCE,
                title="Some cells are scattered",
            )
        )
    return tuple(calls)
