"""Flow and dead time from a log: what of them is proposed, and why nothing is."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..basics import Call, Evidence, NotEnough, Verdict
from ..forms import Calibration
from ..fuel import SplitFuelError, split_correction
from .estimate import FuelEstimate
from .proposal import CorrectionRules, ScalarChange
from .steady import SteadySamples


@dataclass(frozen=True)
class FoundScalars:
    """The split of a log, and what of it is proposed this round.

    Parameters
    ----------
    split : SplitFuelError or None
        None where the pulses span too little.
    changes : tuple of ScalarChange
    asked : float
        Fuel that the whole of it would move (fraction).
    part : SplitFuelError or None
        So much of it as this round moves.
    why : str
        Why nothing is proposed; empty where something is.
    """

    split: SplitFuelError | None = None
    changes: tuple[ScalarChange, ...] = ()
    asked: float = 0.0
    part: SplitFuelError | None = None
    why: str = ""


def find_scalars(
    steady: SteadySamples,
    calibration: Calibration,
    rules: CorrectionRules,
    step: float,
    known: FuelEstimate,
) -> FoundScalars:
    """What a log says of flow and dead time; nothing is proposed that it cannot tell.

    Parameters
    ----------
    step : float
        Most fuel that one round may move (fraction).
    known : FuelEstimate
        Filling, flow and dead time of this log together: their figures and how sure they are.
    """
    try:
        line = split_correction(steady.effective_pulse_ms, steady.error, steady.weight, steady.place)
    except NotEnough:
        return FoundScalars(why="Pulses span too little to split flow from dead time: log idle and a pull.")
    # How much a line over the pulse explains says whether a figure of the injector is to blame at all; how
    # large it is, and how sure, only the whole problem says.
    split = replace(
        line,
        flow_error=known.flow,
        dead_time_error_ms=known.dead_time_ms,
        flow_error_interval=known.flow_interval,
        dead_time_error_interval_ms=known.dead_time_interval,
    )
    if why := _kept(split, steady, rules):
        return FoundScalars(split, why=why)
    asked = float(np.percentile(np.abs(split.at(steady.effective_pulse_ms)), 99))
    share = min(1.0, step / asked) if asked > step else 1.0
    part = replace(
        split, flow_error=split.flow_error * share, dead_time_error_ms=split.dead_time_error_ms * share
    )
    flow = calibration.scalars["injector_flow"]
    low, high = split.flow_error_interval
    changes = (
        ScalarChange(
            "injector_flow",
            flow,
            round(flow / (1.0 + part.flow_error), 1),
            unit="cm³/min",
            interval=(flow / (1.0 + high), flow / (1.0 + low)),
        ),
        ScalarChange(
            "dead_time",
            0.0,
            round(part.dead_time_error_ms, 3),
            unit="ms",
            interval=split.dead_time_error_interval_ms,
        ),
    )
    return FoundScalars(split, changes, asked, part)


def _kept(split: SplitFuelError, steady: SteadySamples, rules: CorrectionRules) -> str:
    """Why flow and dead time stay; empty where they are proposed."""
    house = rules.house
    if not rules.take_scalars:
        return "Left as they are, as you chose: the cells carry it."
    if split.explained < house["correct.explains"] / 100:
        return "Flow and dead time explain too little of the error: the cells carry it."
    if split.between_cells > house["correct.apart"] / 100:
        return "Flow and dead time cannot be told from a wrong filling table here: the cells carry it."
    moves = np.abs(split.at(steady.effective_pulse_ms))
    if float(np.average(moves, weights=steady.weight)) < house["correct.within"] / 200:
        return "Flow and dead time would move less than the scatter: the cells carry it."
    return ""


def scalar_calls(found: FoundScalars, rules: CorrectionRules, step: float) -> tuple[Call, ...]:
    """A figure that is off by more than a round may move is looked up first; one that cannot be told is
    said so.
    """
    split, scalars, asked, calls = found.split, found.changes, found.asked, []
    explains, apart = rules.house["correct.explains"] / 100, rules.house["correct.apart"] / 100
    if scalars and asked > step:
        calls.append(
            Call(
                "correct.scalar",
                verdict=Verdict.hold,
                because=(
                    Evidence(
                        "fuel that flow and dead time would move", round(100 * asked, 1), 100 * step, unit="%"
                    ),
                    *(
                        Evidence(f"{s.name.replace('_', ' ')}, this round", s.new, unit=s.unit)
                        for s in scalars
                    ),
                ),
                do_next=(
                    "Look at the injector's sheet first: fluid, pressure and part number. This round moves"
                    " only as much as one round may."
                ),
                source="At most so much fuel a round, scalars and cells together",
                title="An injector figure is far off",
            )
        )
    if split is not None and split.between_cells > apart and split.explained >= explains:
        calls.append(
            Call(
                "correct.split",
                verdict=Verdict.hold,
                because=(
                    Evidence(
                        "left between cells of alike pulse",
                        round(100 * split.between_cells, 1),
                        round(100 * apart, 1),
                        unit="%",
                    ),
                ),
                do_next=(
                    "Flow and dead time cannot be told from a wrong filling table in this log: they stay, and"
                    " the cells move. A log at another battery voltage tells dead time."
                ),
                source="A wrong filling table looks like dead time",
                title="Flow and dead time cannot be told apart",
            )
        )
    return tuple(calls)
