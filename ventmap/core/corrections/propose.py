"""From a log to the next map: scalars first, then cells, each only where there is evidence."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..basics import Call, Evidence, Floats, Table2D, Verdict, in_boost, under_load
from ..forms import Calibration
from ..fuel import SplitFuelError, cylinder_air
from ..logs import Log
from .cell_evidence import CellEvidence, between, gather
from .estimate import FuelEstimate, estimate
from .forced import rounds_forced
from .proposal import CorrectionRules, Proposal
from .scalars import find_scalars, scalar_calls
from .steady import SteadySamples, steady_samples

SOURCE = (
    "Fuel error = lambda/target − 1 in open loop, trims in closed loop, bilinear over the four cells around"
)
#: Under load a removal of fuel stops this short, so that a cell ends on the rich side of its target.
LOAD_MARGIN = 0.015
#: Smaller errors are the sensor's own: the cell stays.
DEAD_BAND = 0.01


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
    log = rules.readable(log)
    steady = steady_samples(log, calibration, house)
    step = house["correct.step"] / 100
    table = calibration.tables["ve"]
    found = find_scalars(steady, calibration, rules, step, estimate(steady, table))
    taken = found.part
    error = steady.error
    if taken is not None:
        error = (1.0 + error) / (1.0 + taken.at(steady.effective_pulse_ms)) - 1.0
    cells = gather(table, steady.rpm, steady.load, error)
    surface = estimate(replace(steady, error=error), table, scalars=False)
    enough = (cells.samples >= house["correct.samples"]) & (cells.spread <= house["correct.spread"] / 100)
    filled = between(enough) & (surface.cells_sd <= house["correct.sure"] / 100)
    load = np.broadcast_to(under_load(table.y, rules.barometer_kpa)[:, None], table.values.shape)
    boost = np.broadcast_to(in_boost(table.y, rules.barometer_kpa)[:, None], table.values.shape)
    # Every limit below is one on fuel: what the scalars move and what the cell moves, together.
    moved = _moved_by_scalars(taken, steady, table)
    # Under load a cell that was measured lean gets what was measured, whatever its neighbours make likely.
    within = house["correct.within"] / 100
    lean = load & enough & (cells.error > within) & (cells.error > surface.cells + DEAD_BAND)
    asks = np.where(lean, cells.error, surface.cells)
    change = np.where(enough | filled, asks, 0.0)
    removes = load & (_fuel(moved, change) < 0)
    change = np.where(removes, _cell(moved, np.minimum(_fuel(moved, change) + LOAD_MARGIN, 0.0)), change)
    # Nobody measured a filled cell, nor one without evidence: under load they may gain fuel, never lose it.
    change = np.where(load & ~enough, np.maximum(change, _cell(moved, 0.0)), change)
    change = np.where(np.abs(change) < DEAD_BAND, 0.0, change)
    # At most so much fuel a round, scalars and cell together.
    change = np.clip(change, _cell(moved, -step), _cell(moved, step))
    change = np.where(boost, np.maximum(change, _cell(moved, -_lean(rules, step))), change)
    # The device's own bounds hold for the sum of all rounds.
    base = table.values if rules.base is None else rules.base
    low, high = rules.bounds
    bounds = base * (1.0 + low) / table.values - 1.0, base * (1.0 + high) / table.values - 1.0
    change = np.clip(change, *bounds)
    kept = load & ~enough & ~filled & (change > 0)
    new = np.round(table.values * (1.0 + change), 2)
    weight = np.where(np.isfinite(cells.error), cells.time_share, 0.0)
    share = float(weight[np.abs(cells.error) <= within].sum() / weight.sum()) if weight.sum() > 0 else 0.0
    return Proposal(
        found.changes,
        found.split,
        error=cells.error,
        samples=cells.samples,
        spread=cells.spread,
        sure=surface.cells_sd,
        ticks=cells.ticks,
        old=table.values,
        new=new,
        measured=enough & (np.abs(change) > 0),
        filled=filled | kept,
        within=share,
        used=len(steady.rpm),
        next_within=_expected(surface, new / table.values - 1.0, weight, within),
        rounds=rounds_forced(
            _fuel(moved, surface.cells),
            (np.where(boost, -_lean(rules, step), -step), np.full(moved.shape, step)),
            (_fuel(moved, bounds[0]), _fuel(moved, bounds[1])),
            weight,
            within,
            house["correct.done"] / 100,
        ),
        why_no_scalars=found.why,
        delay_s=steady.delay_s,
        calls=(
            *_calls(calibration, cells, enough, share, rules),
            *scalar_calls(found, rules, step),
        ),
    )


def _expected(surface: FuelEstimate, change: Floats, weight: Floats, within: float) -> float:
    """Share of the driven time within the limit after a change of cells, by how sure each is (0–1)."""
    if not weight.sum() > 0:
        return 0.0
    from scipy.special import ndtr

    left = (1.0 + surface.cells) / (1.0 + change) - 1.0
    chance = ndtr((within - left) / surface.cells_sd) - ndtr((-within - left) / surface.cells_sd)
    return float((weight * chance).sum() / weight.sum())


def _lean(rules: CorrectionRules, step: float) -> float:
    """Fuel that one round may take away in boost (fraction): little, unless it was measured on a drum."""
    return step if rules.on_drum else min(step, rules.house["correct.lean_boost"] / 100)


def _moved_by_scalars(split: SplitFuelError | None, steady: SteadySamples, table: Table2D) -> Floats:
    """Fuel that the scalars add to each cell (fraction), by the pulse that its filling and pressure ask
    for.
    """
    if split is None:
        return np.zeros(table.values.shape)
    # The same equation gives the pulse of every cell, but for one factor: that is taken from what was driven.
    asked = cylinder_air(table.at(steady.rpm, steady.load), steady.load, 1.0, 1.0)
    factor = float(np.median(steady.effective_pulse_ms / asked))
    pulse = factor * cylinder_air(table.values, table.y[:, None], 1.0, 1.0)
    # Of the pulse that is asked for now: longer by flow, and by the dead time itself.
    return np.asarray(np.clip(split.flow_error + split.dead_time_error_ms / pulse, -0.5, 1.0))


def _fuel(moved: Floats, change: Floats) -> Floats:
    """Fuel added by scalars and cell together (fraction)."""
    return (1.0 + moved) * (1.0 + change) - 1.0


def _cell(moved: Floats, fuel: Floats | float) -> Floats:
    """The cell's own part of a change of fuel."""
    return (1.0 + fuel) / (1.0 + moved) - 1.0


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
