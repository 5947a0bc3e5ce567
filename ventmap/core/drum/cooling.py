"""Cooling between pulls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..basics import NotEnough


@dataclass(frozen=True)
class CoolDown:
    """Exponential cooling of the intake air: time constant [s], where it tends to [°C], minutes to wait."""

    time_constant_s: float
    tends_to_c: float
    minutes: float


def cool_down(time_s: ArrayLike, intake_c: ArrayLike, first_c: float, within_k: float = 3.0) -> CoolDown:
    """How long to wait after a pull until the intake is within `within_k` of the first pull's start.

    Newton cooling fitted by least squares from the hottest sample on. Where the engine bay itself stays
    warmer
    than that, the wait is to within `within_k` of where it tends to.

    Raises
    ------
    NotEnough
        With under 5 s of cooling, or no cooling at all.
    """
    # Loaded when first needed: scipy's optimisers would hold up every start of the server.
    from scipy.optimize import least_squares

    time, intake = np.asarray(time_s, float), np.asarray(intake_c, float)
    if len(time) < 10:
        raise NotEnough("Too few samples after the pull to see it cool.", "intake_c")
    hottest = int(np.argmax(intake))
    time, intake = time[hottest:] - time[hottest], intake[hottest:]
    if len(time) < 10 or time[-1] < 5.0 or intake[0] - intake[-1] < 1.0:
        raise NotEnough("The intake does not cool in this log.", "intake_c")
    thin = slice(None, None, max(1, len(time) // 500))
    time, intake = time[thin], intake[thin]
    hot = float(intake[0])

    def error(guess: np.ndarray) -> np.ndarray:
        tends, tau = guess
        return tends + (hot - tends) * np.exp(-time / tau) - intake

    fit = least_squares(error, [min(first_c, float(intake[-1])), 60.0], bounds=([-40.0, 2.0], [hot, 3600.0]))
    tends, tau = float(fit.x[0]), float(fit.x[1])
    goal = max(first_c, tends) + within_k
    wait = tau * np.log((hot - tends) / (goal - tends)) if goal < hot and goal > tends else 0.0
    return CoolDown(tau, tends, float(wait / 60.0))
