"""What a log says of filling, flow and dead time together: one inverse problem, with how sure it is.

Of every steady sample the logarithm of the fuel that it asks for is::

    log(1 + error) = s(speed, load) + f − log(1 − d/pulse) + o/load + noise

*s* is the error of the filling table as a smooth surface over its nodes, *f* that of the flow, *d* what is
to be added to the dead time [ms], *o* what the pressure sensor reads too little [kPa]: it looks like a dead
time, and is asked for so that it is not taken for one. Before it was driven the surface is a Gaussian process
about nothing (the map as it is), flow and dead time are about what their sheet says: so a place that nobody
drove stays, and what the log cannot tell apart has a wide interval instead of a figure.

Samples of one moment err together: a stay at a place counts once, and outliers count less. How far the
surface reaches and how large it is are averaged over, each weighted by how well it explains the log.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from itertools import product

import numpy as np

from ..basics import Floats, Table2D
from ..fuel import cylinder_air
from .steady import SteadySamples

#: What is known of a sheet's figures before a log: standard deviations of flow (fraction) and dead time [ms].
FLOW_SD = 0.06
DEAD_TIME_SD = 0.15
#: What sensors are off by, all samples alike: manifold pressure [kPa], mixture (fraction).
PRESSURE_SD = 0.35
MIXTURE_SD = 0.006
#: Of the surface: its size (fraction), how far it reaches (share of the table's span) and how much of it is
#: each cell's own.
SIZES = (0.01, 0.03, 0.1)
REACHES = (0.12, 0.35, 1.0)
OWN = (0.005, 0.1, 0.6)
#: A surface that may do anything: what is no outlier to it is an error of the table.
FREE = (0.09, 0.12, 0.5)
#: Of one sample at rest, and of one while load or speed move by their own size in a second (fraction).
SAMPLE_NOISE, UNREST_NOISE = 0.006, 0.05
#: Two visits to one place are never nearer than this (fraction).
LEAST_APART = 0.008
#: A prior that explains a log worse by this (logarithm) has no say.
HOPELESS = 8.0
#: Median of the square of a normal variable.
MEDIAN_SQUARE = 0.455
#: Within so long samples err together [s].
BLOCK_S = 3.0
#: Where an outlier begins to count less, in standard deviations (Huber).
HUBER = 1.5
#: Of a normal distribution: 95 % lie within.
Z95 = 1.96


@dataclass(frozen=True)
class FuelEstimate:
    """What a log says, and how sure it is.

    Parameters
    ----------
    cells, cells_sd : ndarray, shape of the table
        Fuel that each cell asks for by itself (fraction, add fuel is positive) and its standard deviation.
    flow, flow_sd : float
        Fuel that the flow asks for (fraction).
    dead_time_ms, dead_time_sd : float
        What is to be added to the dead time [ms].
    together : float
        Correlation of flow and dead time, −1 to 1.
    apart : float
        How far visits to one place lie apart (fraction), beyond the scatter of their samples.
    visits : int
    """

    cells: Floats
    cells_sd: Floats
    flow: float
    flow_sd: float
    dead_time_ms: float
    dead_time_sd: float
    together: float
    apart: float
    visits: int

    @property
    def flow_interval(self) -> tuple[float, float]:
        """95 % interval of the flow's share (fraction)."""
        low, high = (float(np.log1p(self.flow) + side * Z95 * self.flow_sd) for side in (-1, 1))
        return float(np.expm1(low)), float(np.expm1(high))

    @property
    def dead_time_interval(self) -> tuple[float, float]:
        """95 % interval of the dead time's change [ms]."""
        half = Z95 * self.dead_time_sd
        return self.dead_time_ms - half, self.dead_time_ms + half


@dataclass(frozen=True)
class _Visits:
    """A log as the problem sees it: a row for each stay at a place. `share` is what each cell carries of it,
    `doubt` the variance of its mean as its samples scatter.
    """

    share: Floats
    asked: Floats
    pulse: Floats
    load: Floats
    doubt: Floats

    def linear(self, dead: float, scalars: bool) -> tuple[Floats, Floats]:
        """Design, and what is asked for, about a dead time of `dead` [ms]."""
        if not scalars:
            return self.share, self.asked
        left = np.maximum(self.pulse - dead, 0.2 * self.pulse)
        wanted = self.asked + np.log(left / self.pulse) + dead / left
        columns = (np.ones_like(left), 1.0 / left, 1.0 / np.maximum(self.load, 5.0))
        return np.column_stack([self.share, *columns]), wanted


def _visits(steady: SteadySamples, table: Table2D) -> _Visits:
    """Samples of one place within `BLOCK_S` are one row: they err together, what moves within them is noise.

    The pulse is the one that the map asks for there: what trims add from moment to moment is part of what is
    asked for, and would turn noise into dead time.
    """
    block = np.floor(steady.time / BLOCK_S).astype(int)
    _, row = np.unique(np.column_stack([block, steady.place]), axis=0, return_inverse=True)
    row = row.ravel()
    count = int(row.max()) + 1
    sure = 1.0 / (SAMPLE_NOISE**2 + (UNREST_NOISE * steady.unrest) ** 2)
    whole = np.bincount(row, sure)
    mean = lambda values: np.bincount(row, sure * values) / whole  # noqa: E731
    weights = table.weights(steady.rpm, steady.load)
    share = np.zeros((count, table.values.size))
    cell = weights.row * table.values.shape[1] + weights.column
    np.add.at(share, (np.broadcast_to(row, cell.shape), cell), weights.share * sure / whole[row])
    air = cylinder_air(table.at(steady.rpm, steady.load), steady.load, 1.0, 1.0)
    return _Visits(
        share,
        asked=mean(np.log1p(np.clip(steady.error, -0.9, 3.0))),
        pulse=_usual(steady, air, mean),
        load=mean(steady.load),
        doubt=1.0 / whole,
    )


def _usual(steady: SteadySamples, air: Floats, mean: Callable[[Floats], Floats]) -> Floats:
    """Effective pulse of each visit as the map asks for it [ms]."""
    ratio = np.log(steady.effective_pulse_ms / np.maximum(air, 1e-9))
    order = np.argsort(steady.place, kind="stable")
    _, first = np.unique(steady.place[order], return_index=True)
    for rows in np.split(order, first[1:]):
        ratio[rows] = np.median(ratio[rows])
    return mean(air * np.exp(ratio))


def estimate(steady: SteadySamples, table: Table2D, *, scalars: bool = True) -> FuelEstimate:
    """Filling, flow and dead time from steady samples.

    Parameters
    ----------
    steady : SteadySamples
        Their `error` is the fuel that is asked for (fraction).
    table : Table2D
        Filling over speed and load, whose nodes carry the surface.
    scalars : bool
        Without them all that is asked for is the cells'.
    """
    visits = _visits(steady, table)
    size = table.values.size
    free = _prior(tuple(table.x), tuple(table.y), FREE)
    dead, apart, trust = 0.0, 0.01, np.ones(len(visits.asked))
    # To and fro between the answer, what is an outlier by it, and where the dead time's curve is a line.
    for _ in range(5):
        design, wanted = visits.linear(dead, scalars)
        sure = trust / (visits.doubt + apart**2)
        mean = _solve(design, wanted, sure, free, scalars).mean
        residual = wanted - design @ mean
        apart = _apart(residual, visits.doubt)
        far = np.abs(residual) / np.sqrt(visits.doubt + apart**2)
        trust = np.minimum(1.0, HUBER / np.maximum(far, 1e-12))
        dead = float(np.clip(mean[size + 1], -0.6, 0.6)) if scalars else 0.0
    design, wanted = visits.linear(dead, scalars)
    sure = trust / (visits.doubt + apart**2)
    answers = [
        _solve(design, wanted, sure, root, scalars) for root in _priors(tuple(table.x), tuple(table.y))
    ]
    best = max(one.evidence for one in answers)
    answers = [one for one in answers if one.evidence > best - HOPELESS]
    chance = np.exp(np.array([one.evidence for one in answers]) - best)
    chance /= chance.sum()
    mean = chance @ np.array([one.mean for one in answers])
    spread = np.zeros((len(mean), len(mean)))
    for share, one in zip(chance, answers, strict=True):
        spread += share * (one.covariance() + np.outer(one.mean - mean, one.mean - mean))
    sd = np.sqrt(np.diag(spread))
    return FuelEstimate(
        np.expm1(mean[:size]).reshape(table.values.shape),
        np.hypot(sd[:size], MIXTURE_SD).reshape(table.values.shape),
        flow=float(np.expm1(mean[size])) if scalars else 0.0,
        flow_sd=float(np.hypot(sd[size], MIXTURE_SD)) if scalars else 0.0,
        dead_time_ms=float(mean[size + 1]) if scalars else 0.0,
        dead_time_sd=float(sd[size + 1]) if scalars else 0.0,
        together=float(spread[size, size + 1] / (sd[size] * sd[size + 1])) if scalars else 0.0,
        apart=apart,
        visits=len(visits.asked),
    )


def _apart(residual: Floats, doubt: Floats) -> float:
    """How far visits to one place lie apart beyond the scatter of their samples (fraction); no outliers."""
    beyond = np.median(residual**2) / MEDIAN_SQUARE - np.median(doubt)
    return float(np.sqrt(max(beyond, LEAST_APART**2)))


@dataclass(frozen=True)
class _Answer:
    """A Gaussian posterior; `evidence` is the logarithm of how well its prior explains the log, but for what
    all priors share.
    """

    mean: Floats
    evidence: float
    root: Floats
    factor: Floats

    def covariance(self) -> Floats:
        from scipy.linalg import solve_triangular

        half = solve_triangular(self.factor, self.root.T, lower=True)
        return np.asarray(half.T @ half)


def _solve(design: Floats, wanted: Floats, sure: Floats, prior: Floats, scalars: bool) -> _Answer:
    """What a log says where the surface is known before by `prior`, the lower factor of its covariance."""
    from scipy.linalg import cholesky, solve_triangular

    size = len(prior)
    # In the space of the prior's own factor, so that a nearly flat surface needs no inverse of its own.
    root = np.zeros((design.shape[1], design.shape[1]))
    root[:size, :size] = prior
    if scalars:
        root[range(size, size + 3), range(size, size + 3)] = FLOW_SD, DEAD_TIME_SD, PRESSURE_SD
    seen = design @ root
    factor = cholesky(np.eye(len(root)) + seen.T @ (seen * sure[:, None]), lower=True)
    half = solve_triangular(factor, seen.T @ (sure * wanted), lower=True)
    mean = root @ solve_triangular(factor, half, lower=True, trans="T")
    return _Answer(mean, 0.5 * float(half @ half) - float(np.log(np.diag(factor)).sum()), root, factor)


@lru_cache(maxsize=2)
def _priors(x: tuple[float, ...], y: tuple[float, ...]) -> tuple[Floats, ...]:
    return tuple(_prior(x, y, about) for about in product(SIZES, REACHES, OWN))


def _prior(x: tuple[float, ...], y: tuple[float, ...], about: tuple[float, float, float]) -> Floats:
    """Lower factor of the surface's covariance over the nodes: Matérn 5/2, and each cell's own part."""
    size, reach, own = about
    rows, columns = np.meshgrid(_spanned(y), _spanned(x), indexing="ij")
    apart = np.hypot(*(np.subtract.outer(at.ravel(), at.ravel()) for at in (rows, columns)))
    far = np.sqrt(5.0) * apart / reach
    smooth = (1.0 + far + far**2 / 3.0) * np.exp(-far)
    known = size**2 * ((1.0 - own) * smooth + own * np.eye(len(apart)))
    return np.linalg.cholesky(known + 1e-12 * np.eye(len(known)))


def _spanned(axis: tuple[float, ...]) -> Floats:
    """An axis over its own span, 0 to 1."""
    return (np.asarray(axis) - axis[0]) / max(axis[-1] - axis[0], 1e-9)
