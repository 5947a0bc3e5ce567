"""Cooling between pulls: air at once, the core of the cooler and the metal around it for long after."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..basics import Floats, NotEnough

#: Scatter that any intake sensor has [K].
SENSOR_K = 0.1
#: Time constants that are tried, of one alone, of air and of core [s], and how many times slower a core
# is at least.
ALONE_S, AIR_S, CORE_S, SLOWER = (
    np.geomspace(5.0, 1500.0, 240),
    np.geomspace(8.0, 300.0, 36),
    np.geomspace(40.0, 1500.0, 28),
    1.7,
)
#: Samples that are fitted, at most; and beyond this a wait is *longer than* [s].
MOST_SAMPLES, LONGEST_S = 240, 7200.0
#: Fits within this much of the best, in variances of the noise, are as good (χ², three figures, 95 %).
AS_GOOD = 7.81


@dataclass(frozen=True)
class CoolDown:
    """How the intake air cools, and how long to wait.

    Parameters
    ----------
    time_constant_s : float
        Of the air, or of the one that shows [s].
    tends_to_c : float
        Where it ends [°C].
    minutes : float
        To wait; of a `longer_than` the least that the tail allows.
    uncertain_minutes : float
        By how much the wait may be out (95 %).
    core_constant_s : float or None
        Of the core, where the tail shows one [s].
    longer_than : bool
        The tail is too short to tell when its slow part has cooled.
    """

    time_constant_s: float
    tends_to_c: float
    minutes: float
    uncertain_minutes: float = 0.0
    core_constant_s: float | None = None
    longer_than: bool = False


@dataclass(frozen=True)
class _Fit:
    squares: float
    tends: float
    air: float
    air_s: float
    core: float = 0.0
    core_s: float = 1.0

    def wait(self, first_c: float, within_k: float) -> float:
        """Until it is within so much of the first pull's start, or of where it ends [s]."""
        over = max(first_c, self.tends) + within_k - self.tends
        low, high = 0.0, LONGEST_S
        if self._above(high) > over:
            return np.inf
        if self._above(0.0) <= over:
            return 0.0
        for _ in range(40):
            middle = (low + high) / 2.0
            low, high = (middle, high) if self._above(middle) > over else (low, middle)
        return high

    def _above(self, seconds: float) -> float:
        return float(self.air * np.exp(-seconds / self.air_s) + self.core * np.exp(-seconds / self.core_s))


def cool_down(time_s: ArrayLike, intake_c: ArrayLike, first_c: float, within_k: float = 3.0) -> CoolDown:
    """How long to wait after a pull until the intake is within `within_k` of the first pull's start.

    Newton cooling with one time constant, or two where the tail shows them, from the hottest sample on; every
    pair that fits as well as the best counts in what the wait may be. Where the engine bay itself stays
    warmer than the first start, the wait is to within `within_k` of where it tends to.

    Raises
    ------
    NotEnough
        With under 5 s of cooling, or no cooling at all.
    """
    time, intake = np.asarray(time_s, float), np.asarray(intake_c, float)
    if len(time) < 10:
        raise NotEnough("Too few samples after the pull to see it cool.", "intake_c")
    hottest = int(np.argmax(intake))
    time, intake = time[hottest:] - time[hottest], intake[hottest:]
    if len(time) < 10 or time[-1] < 5.0 or intake[0] - intake[-1] < 1.0:
        raise NotEnough("The intake does not cool in this log.", "intake_c")
    thin = slice(None, None, max(1, len(time) // MOST_SAMPLES))
    time, intake = time[thin], intake[thin]
    fits = _fits(time, intake)
    best = min(fits, key=lambda fit: fit.squares)
    variance = max(best.squares / max(len(time) - 5, 1), SENSOR_K**2)
    near = [fit for fit in fits if fit.squares - best.squares <= AS_GOOD * variance]
    # Of fits that are as good the plain one is told; all of them count in what it may be.
    told = min(near, key=lambda fit: (fit.core > 0.0, fit.squares))
    waits = [fit.wait(first_c, within_k) for fit in near]
    wait, least, most = told.wait(first_c, within_k), min(waits), max(waits)
    longer = not np.isfinite(most) or most > 1.5 * max(wait, 60.0) or not np.isfinite(wait)
    core = told.core_s if told.core > 0.0 else None
    if longer:
        return CoolDown(told.air_s, told.tends, least / 60.0, 0.0, core, longer_than=True)
    return CoolDown(told.air_s, told.tends, wait / 60.0, max(most - wait, wait - least) / 60.0, core)


def _fits(time: Floats, intake: Floats) -> list[_Fit]:
    """Every pair of time constants with its least squares, heat of both parts not below nought."""
    ones = np.ones_like(time)
    found = []
    for alone_s in ALONE_S:
        (tends, air), squares = _solved(np.stack([ones, np.exp(-time / alone_s)]), intake)
        if air > 0.0 and tends > -40.0:
            found.append(_Fit(squares, tends, air, float(alone_s)))
    for air_s in AIR_S:
        fast = np.exp(-time / air_s)
        for core_s in CORE_S[SLOWER * air_s <= CORE_S]:
            (tends, air, core), squares = _solved(np.stack([ones, fast, np.exp(-time / core_s)]), intake)
            # What ends below freezing in a warm bay is a tail that is too short, and no place to end.
            if air > 0.0 and core > 0.0 and tends > -40.0:
                found.append(_Fit(squares, tends, air, float(air_s), core, float(core_s)))
    if not found:
        raise NotEnough("The intake does not cool in this log.", "intake_c")
    return found


def _solved(parts: Floats, intake: Floats) -> tuple[list[float], float]:
    """Least squares of a few parts: their sizes and the squares that are left."""
    normal, right = parts @ parts.T, parts @ intake
    sizes = np.linalg.lstsq(normal, right, rcond=1e-12)[0]
    left = intake - sizes @ parts
    return [float(size) for size in sizes], float(left @ left)
