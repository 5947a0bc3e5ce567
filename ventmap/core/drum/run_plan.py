"""How many runs a side a gain needs to be seen, told before they are made."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from ..basics import Floats
from .apart import SCATTER_ALONE, Apart

#: Runs a side beyond which nobody goes on; and the share of jobs in which a gain is to be seen.
MOST_RUNS, SEES = 10, 0.9
#: Freedom from which other runs tell the scatter of a drum; share of F at which a vehicle scatters otherwise.
SHOP_FREEDOM, OTHERWISE = 6, 0.95
#: Places in the distribution of a scatter over which a chance is averaged.
PLACES = 200


@dataclass(frozen=True)
class Scatter:
    """Of one run against the next, nothing changed between them.

    Parameters
    ----------
    share : float
        Standard deviation of a run's mean power [fraction of power].
    freedom : int
        Degrees of freedom that it rests on.
    source : str
        In words.
    """

    share: float
    freedom: int
    source: str

    @property
    def most(self) -> float:
        """What it may be at most, nine in ten [fraction of power]: few runs leave scatter itself unsure."""
        from scipy.special import chdtri

        # chdtri inverts the upper tail.
        return self.share * sqrt(self.freedom / float(chdtri(self.freedom, 0.9)))


@dataclass(frozen=True)
class SeenBy:
    """What so many runs a side see.

    Parameters
    ----------
    before, after : int
        Runs of each side.
    one_day_kw, other_day_kw : float
        Least mean gain that is claimed in nine jobs of ten, runs of both sides made on one day or not [kW].
    """

    before: int
    after: int
    one_day_kw: float
    other_day_kw: float


def scatter_of(own: Sequence[float], others: Sequence[Sequence[float]]) -> Scatter | None:
    """Scatter from run to run; None where neither this job nor the shop has runs enough.

    Parameters
    ----------
    own : sequence of float
        Mean power of each run of this job made alike [kW].
    others : sequence of sequence of float
        The same of each group of the shop's other runs.

    The vehicle's own runs and the shop's are pooled, unless its own scatter more than the shop's explain.
    """
    from scipy.special import fdtri

    mine, freedom = _squares(own), max(len(own) - 1, 0)
    groups = [group for group in others if len(group) > 1]
    shop, shop_freedom = sum(map(_squares, groups)), sum(len(group) - 1 for group in groups)
    runs = f"{len(own)} runs of this job"
    if shop_freedom >= SHOP_FREEDOM and shop > 0:
        if freedom == 0:
            return Scatter(sqrt(shop / shop_freedom), shop_freedom, "this shop's other runs")
        if mine / freedom <= float(fdtri(freedom, shop_freedom, OTHERWISE)) * shop / shop_freedom:
            both = freedom + shop_freedom
            return Scatter(sqrt((mine + shop) / both), both, f"{runs}, and this shop's others")
    if freedom == 0 or mine == 0:
        return None
    return Scatter(sqrt(mine / freedom), freedom, runs)


def _squares(group: Sequence[float]) -> float:
    """Squares about the mean, as shares of it."""
    if len(group) < 2:
        return 0.0
    mean = sum(group) / len(group)
    return sum((run / mean - 1.0) ** 2 for run in group)


def chance_to_see(
    gain_kw: float,
    level_kw: float,
    scatter: float,
    before: int,
    after: int,
    *,
    confidence: float = 0.98,
    apart: Apart = SCATTER_ALONE,
) -> float:
    """Share of jobs in which `compare` claims a gain that is there.

    Parameters
    ----------
    gain_kw, level_kw : float
        True mean gain, and mean power before [kW].
    scatter : float
        Standard deviation of one run [fraction of power].
    before, after : int
        Runs of each side, two at least.
    confidence : float
        Of the interval that must leave out zero, two-sided.
    apart : Apart
        Day and air.

    Source: power of Student's t; the threshold is averaged over the distribution of the pooled variance.
    """
    from scipy.special import chdtri, ndtr, ndtri, stdtrit

    freedom = before + after - 2
    root = sqrt(1.0 / before + 1.0 / after)
    places = (np.arange(PLACES) + 0.5) / PLACES
    seen = scatter * level_kw * np.sqrt(chdtri(freedom, places) / freedom)
    moved = apart.of_difference * level_kw
    limit = np.hypot(
        float(stdtrit(freedom, 0.5 + confidence / 2)) * seen * root,
        float(ndtri(0.5 + confidence / 2)) * moved,
    )
    spread = float(np.hypot(scatter * level_kw * root, moved))
    return float(np.mean(ndtr((gain_kw - limit) / spread)))


def least_seen(
    level_kw: float,
    scatter: float,
    before: int,
    after: int,
    *,
    confidence: float = 0.98,
    apart: Apart = SCATTER_ALONE,
) -> float:
    """Least mean gain that is claimed in nine jobs of ten [kW]."""
    low, high = 0.0, level_kw
    for _ in range(40):
        middle = (low + high) / 2.0
        seen = chance_to_see(middle, level_kw, scatter, before, after, confidence=confidence, apart=apart)
        low, high = (middle, high) if seen < SEES else (low, middle)
    return high


def plan_runs(
    level_kw: float,
    scatter: float,
    repeats: int,
    *,
    before: int | None = None,
    confidence: float = 0.98,
    other_day: Apart = SCATTER_ALONE,
) -> tuple[SeenBy, ...]:
    """What each number of runs a side sees, from the fewest that may claim on.

    Parameters
    ----------
    before : int, optional
        Runs before, where no more can be made; else both sides have as many.
    other_day : Apart
        What sets two days apart.
    """
    fewest = max(repeats, 2)
    return tuple(
        SeenBy(
            before or each,
            each,
            least_seen(level_kw, scatter, before or each, each, confidence=confidence),
            least_seen(level_kw, scatter, before or each, each, confidence=confidence, apart=other_day),
        )
        for each in range(fewest, MOST_RUNS + 1)
        if before is None or before >= 2
    )


def runs_for(gain_kw: float, rows: Sequence[SeenBy], one_day: bool) -> int | None:
    """The fewest runs a side that see a gain; None where none of the rows does."""
    return next(
        (row.after for row in rows if gain_kw >= (row.one_day_kw if one_day else row.other_day_kw)), None
    )


def one_more(runs: Floats, confidence: float) -> tuple[Floats, Floats] | None:
    """Between what one more run made alike lies at each speed [kW]; None of one run.

    Parameters
    ----------
    runs : array, shape (runs, speeds)
        On one grid.
    """
    from scipy.special import stdtrit

    count = len(runs)
    if count < 2:
        return None
    squares = runs.var(axis=0, ddof=1)
    # Scatter at one speed from a few runs is itself scattered: pool it over neighbouring speeds.
    local = np.convolve(np.pad(squares, 5, mode="edge"), np.ones(11) / 11, mode="valid")
    half = float(stdtrit(count - 1, 0.5 + confidence / 2)) * np.sqrt(local * (1.0 + 1.0 / count))
    mean = runs.mean(axis=0)
    return mean - half, mean + half
