"""What a log says about a map, and how far a round may go."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..basics import SEA_LEVEL_KPA, Call, Floats, HouseRules, NotEnough
from ..fuel import SplitFuelError
from ..logs import BLIND, Log, Probe
from .estimate import Z95


@dataclass(frozen=True)
class CorrectionRules:
    """How far a round may go.

    Parameters
    ----------
    house : HouseRules
    barometer_kpa : float
    on_drum : bool
        Whether mixture in boost was measured on a drum, which lifts the limit on leaning there.
    bounds : tuple of float
        The device's own limits for the sum of all rounds (fraction low, high).
    base : ndarray, optional
        Filling of the base map, that the bounds count from; this round's own where absent.
    take_scalars : bool
        Whether scalars are corrected before the cells, where they explain enough.
    probe : Probe
        What a mixture probe reads in this exhaust.
    """

    house: HouseRules = field(default_factory=HouseRules)
    barometer_kpa: float = SEA_LEVEL_KPA
    on_drum: bool = False
    bounds: tuple[float, float] = (-0.5, 1.0)
    base: Floats | None = None
    take_scalars: bool = True
    probe: Probe = Probe()

    def readable(self, log: Log) -> Log:
        """The log with the mixture that burnt.

        Raises
        ------
        NotEnough
            Where the probe stands in a two-stroke's exhaust and nobody knows what that shows.
        """
        if self.probe.blind and log.has("lambda"):
            raise NotEnough(f"No map is corrected by this mixture: what is missing is {BLIND}.", "lambda")
        return self.probe.burnt(log)


@dataclass(frozen=True)
class ScalarChange:
    """A scalar's proposal. For ``dead_time`` old and new are the offset of the whole curve [ms]."""

    name: str
    old: float
    new: float
    unit: str
    interval: tuple[float, float]


@dataclass(frozen=True)
class Proposal:
    """What a log says about a map.

    Parameters
    ----------
    scalars : tuple of ScalarChange
        Taken into account by the cells below.
    split : SplitFuelError or None
        In the sense of a correction: add fuel is positive.
    error : ndarray, shape of the filling table
        Fuel error still to correct by cells, fraction; NaN without evidence.
    samples, spread : ndarray
        Effective samples, and spread of the error (fraction), by cell.
    sure : ndarray
        Standard deviation of a cell's error (fraction): how sure the log makes it.
    ticks : ndarray of int
        Evidence 0–4.
    old, new : ndarray
        Filling before and after [%].
    measured, filled : ndarray of bool
        Cells that change on evidence; cells filled between them, or under load given back what the scalars
        took.
    next_within : float
        Share of the driven time that is expected within the limit once this is loaded, 0–1: a cell counts by
        its chance, from what is left of its error and how sure that is.
    rounds : int or None
        Rounds that the limits of a round force until it is done, were every cell known; None where they never
        let it.
    why_no_scalars : str
        Why flow and dead time stay; empty where they are proposed.
    """

    scalars: tuple[ScalarChange, ...]
    split: SplitFuelError | None
    error: Floats
    samples: Floats
    spread: Floats
    sure: Floats
    ticks: NDArray[np.int_]
    old: Floats
    new: Floats
    measured: NDArray[np.bool_]
    filled: NDArray[np.bool_]
    within: float
    used: int
    delay_s: float
    calls: tuple[Call, ...]
    next_within: float = 0.0
    rounds: int | None = None
    why_no_scalars: str = ""

    @property
    def margin(self) -> Floats:
        """Half of each cell's 95 % interval (fraction)."""
        return Z95 * self.sure

    @property
    def changed(self) -> NDArray[np.bool_]:
        return np.abs(self.new - self.old) > 0.005
