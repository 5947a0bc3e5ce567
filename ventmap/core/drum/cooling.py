"""Cooling between pulls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..basics import NotEnough

#: Scatter that any intake sensor has [K].
SENSOR_K = 0.1
TOO_SHORT = (
    "The tail after the pull is too short to tell how it cools. Let it idle for two minutes and log on."
)


@dataclass(frozen=True)
class CoolDown:
    """Exponential cooling of the intake air: time constant [s], where it tends to [°C], minutes to wait and
    by how much
    they may be out (95 %).
    """

    time_constant_s: float
    tends_to_c: float
    minutes: float
    uncertain_minutes: float = 0.0


def cool_down(time_s: ArrayLike, intake_c: ArrayLike, first_c: float, within_k: float = 3.0) -> CoolDown:
    """How long to wait after a pull until the intake is within `within_k` of the first pull's start.

    Newton cooling fitted by least squares from the hottest sample on. Where the engine bay itself stays
    warmer
    than that, the wait is to within `within_k` of where it tends to.

    Raises
    ------
    NotEnough
        With under 5 s of cooling, no cooling at all, or a tail too short to tell the rate: where the interval
        of
        the wait is wider than half of it, or where it tends to is not known to within `within_k`.
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

    def wait_for(tends: float, tau: float) -> float:
        goal = max(first_c, tends) + within_k
        return tau * float(np.log((hot - tends) / (goal - tends))) if tends < goal < hot else 0.0

    wait = wait_for(tends, tau)
    # How sure: the fit's own scatter, at least the sensor's, through the slope of the wait in both figures.
    scatter = max(float(np.std(fit.fun)), SENSOR_K)
    try:
        spread = np.linalg.inv(fit.jac.T @ fit.jac) * scatter**2 * _correlated(fit.fun)
    except np.linalg.LinAlgError:
        raise NotEnough(TOO_SHORT, "intake_c") from None
    slope = np.array(
        [
            (wait_for(tends + 0.05, tau) - wait_for(tends - 0.05, tau)) / 0.1,
            (wait_for(tends, tau * 1.01) - wait_for(tends, tau * 0.99)) / (0.02 * tau),
        ]
    )
    half = 1.96 * float(np.sqrt(max(slope @ spread @ slope, 0.0)))
    unsure = 1.96 * float(np.sqrt(spread[0, 0])) > within_k
    if unsure or 2.0 * half > 0.5 * max(wait, 60.0):
        raise NotEnough(TOO_SHORT, "intake_c")
    return CoolDown(tau, tends, minutes=wait / 60.0, uncertain_minutes=half / 60.0)


def _correlated(residuals: np.ndarray) -> float:
    """By how much neighbouring residuals that are alike widen the spread (AR(1))."""
    if len(residuals) < 3 or not np.any(residuals):
        return 1.0
    alike = float(np.corrcoef(residuals[:-1], residuals[1:])[0, 1])
    alike = min(max(alike, 0.0), 0.95) if np.isfinite(alike) else 0.0
    return (1.0 + alike) / (1.0 - alike)
