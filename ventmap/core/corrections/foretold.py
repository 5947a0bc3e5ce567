"""What one log foretold of the next map, held against the log of that map."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..basics import Call, Evidence, Floats, HouseRules, Table2D, Verdict
from ..forms import Calibration
from ..logs import Log
from .cell_evidence import gather, weighted_quantiles
from .estimate import BLOCK_S, LEAST_APART, MIXTURE_SD, Z95
from .proposal import CorrectionRules
from .steady import SteadySamples, steady_samples

#: What another map may say otherwise while the log of the one before still foretells its mixture: filling,
#: flow and dead time, which are reckoned with, and what gives a warm, running engine no fuel. Whatever else
#: was changed, known or not, is taken to give some.
RECKONED = frozenset({"injector_flow", "ve", "dead_time"})
NO_FUEL = frozenset(
    {
        "after_start",
        "after_start_s",
        "boost_target",
        "cranking_fuel",
        "fan_off",
        "fan_on",
        "idle_air",
        "idle_target",
        "lambda_target",
        "overrun_off_rpm",
        "overrun_on_rpm",
        "pedal_response",
        "rev_limit",
        "spark",
        "speed_limit",
        "tyre_mm",
        "warm_up",
        "wastegate_duty",
    }
)
#: Where dead time is looked up for both maps [V].
RUNNING_V = 14.0
#: Cells driven in both logs from which a prediction is judged; share of their time that may lie outside: one
#: in twenty does by chance.
FEWEST_CELLS, OUTSIDE = 4, 0.25
#: Moved everywhere: the scatter of the moves between cells is less than this share of them.
ALIKE = 0.5


@dataclass(frozen=True)
class _Cells:
    """Fuel that each cell asks for by a log (logarithm), how unsure that is, its time, and whether it is
    enough.
    """

    asks: Floats
    sd: Floats
    time: Floats
    enough: NDArray[np.bool_]


def foretold(steady: SteadySamples, old: Calibration, new: Calibration) -> SteadySamples | None:
    """Samples of a log as they would err had `new` run in it and not `old`; None where that cannot be told.

    Of the same air the new map asks for another pulse, by its filling and flow; what flows of it is judged by
    the newer dead time.
    """
    if _other_fuel(old, new):
        return None
    before, after = (one.tables["ve"].at(steady.rpm, steady.load) for one in (old, new))
    asked = after / before * old.scalars["injector_flow"] / new.scalars["injector_flow"]
    kpa = old.scalars["fuel_pressure_kpa"]
    dead = [float(np.ravel(one.tables["dead_time"].at(kpa, RUNNING_V))[0]) for one in (old, new)]
    flowed = steady.effective_pulse_ms + dead[0] - dead[1]
    given = asked * steady.effective_pulse_ms / np.maximum(flowed, 0.05)
    return replace(steady, error=(1.0 + steady.error) / given - 1.0)


def _other_fuel(old: Calibration, new: Calibration) -> bool:
    """Whether they differ in anything that may give fuel by another way than filling, flow and dead time."""
    units = [(kind.rows.unit if (kind := one.table_kind("ve")) and kind.rows else "") for one in (old, new)]
    if old.form != new.form or units[0] != units[1]:
        return True
    scalars = {
        name for name in {*old.scalars, *new.scalars} if old.scalars.get(name) != new.scalars.get(name)
    }
    tables = {
        name
        for name in {*old.tables, *new.tables}
        if name not in old.tables or name not in new.tables or not _same(old.tables[name], new.tables[name])
    }
    return bool((scalars | tables) - RECKONED - NO_FUEL)


def _same(one: Table2D, other: Table2D) -> bool:
    return all(np.array_equal(getattr(one, part), getattr(other, part)) for part in ("x", "y", "values"))


def prediction_call(
    earlier: Log, old: Calibration, log: Log, new: Calibration, rules: CorrectionRules | None = None
) -> Call | None:
    """A hold where the log of a map shows another mixture than the log before foretold; None where it came as
    it was foretold, or too few cells were driven in both.

    Parameters
    ----------
    earlier, log : Log
        Of the map before, and of the one that was made from it.
    old, new : Calibration
        The maps that ran in them.

    Raises
    ------
    NotEnough
        Where one of them has no steady, warm samples.
    """
    rules = rules or CorrectionRules()
    house, table = rules.house, new.tables["ve"]
    was = steady_samples(rules.readable(earlier), old, house)
    moved = foretold(was, old, new)
    if moved is None:
        return None
    said = _cells(table, moved, house)
    seen = _cells(table, steady_samples(rules.readable(log), new, house), house)
    both = np.where(said.enough & seen.enough, np.minimum(said.time, seen.time), 0.0)
    if int((both > 0).sum()) < FEWEST_CELLS:
        return None
    limit = house["correct.within"] / 100
    outside = _outside(said, seen, both, limit)
    if outside <= OUTSIDE:
        return None
    as_before = _outside(_cells(table, was, house), seen, both, limit) <= OUTSIDE
    return _call(table, said, seen, both, outside, limit, as_before)


def _cells(table: Table2D, steady: SteadySamples, house: HouseRules) -> _Cells:
    """Samples by cell; those of one stay err together, and two visits are never nearer than a probe is."""
    found = gather(table, steady.rpm, steady.load, steady.error)
    step = float(np.median(np.diff(steady.time))) if len(steady.time) > 1 else 1.0
    stays = np.maximum(found.samples * max(step, 1e-3) / BLOCK_S, 1.0)
    return _Cells(
        np.log1p(found.error),
        np.sqrt(found.spread**2 / stays + LEAST_APART**2 + MIXTURE_SD**2),
        found.time_share,
        (found.samples >= house["correct.samples"]) & (found.spread <= house["correct.spread"] / 100),
    )


def _outside(said: _Cells, seen: _Cells, both: Floats, limit: float) -> float:
    """Share of the time in which it lies further off than both logs leave unsure, and than counts."""
    cells = both > 0
    far = np.abs(seen.asks - said.asks)[cells] > np.maximum(Z95 * np.hypot(seen.sd, said.sd)[cells], limit)
    return float(both[cells][far].sum() / both[cells].sum())


def _call(
    table: Table2D, said: _Cells, seen: _Cells, both: Floats, outside: float, limit: float, as_before: bool
) -> Call:
    cells = both > 0
    off = seen.asks - said.asks
    low, middle, high = weighted_quantiles(off[cells], both[cells], (0.16, 0.5, 0.84))
    advice = []
    if as_before:
        advice.append("Read back what is in the computer first: it ran as with the map before.")
    if abs(middle) > limit and (high - low) / 2 < ALIKE * abs(middle):
        advice.append(
            "It moved everywhere alike, and no table does that: look at fuel pressure, the tank, the sensor"
            " and injector figures that were typed."
        )
    if not advice:
        advice.append(
            "Look at the samples of these cells in both logs; correct only what two logs agree on, driven"
            " steady and warm."
        )
    row, column = np.unravel_index(int(np.argmax(np.where(cells, np.abs(off), 0.0))), off.shape)
    percent = lambda value: round(100 * float(np.expm1(value)), 1)  # noqa: E731
    place = f"{table.x[column]:g} rpm, row {table.y[row]:g}"
    return Call(
        "correct.foretold",
        verdict=Verdict.hold,
        because=(
            Evidence(
                "time in cells that came otherwise", round(100 * outside), round(100 * OUTSIDE), unit="%"
            ),
            Evidence("fuel asked for beyond what was foretold, middle", percent(middle), unit="%"),
            Evidence(f"foretold at {place}", percent(said.asks[row, column]), unit="%"),
            Evidence(f"measured at {place}", percent(seen.asks[row, column]), unit="%"),
        ),
        do_next=" ".join(advice),
        source="The log before, put through the new map's fuel equation, with how sure both logs are",
        title="The log did not come as foretold",
    )
