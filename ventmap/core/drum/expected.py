"""What may be expected of the runs after, from what was asked for and from what was set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..basics import SEA_LEVEL_KPA, Floats
from .reduction import PowerCurve, wheel_range


@dataclass(frozen=True)
class Expected:
    """A prediction, with what it rests on; nothing that was measured.

    Parameters
    ----------
    low_kw, high_kw : float
        Mean gain over the band at the wheels, least and most [kW]; below nought where the loss is not known
        well enough to tell.
    peak_low_kw, peak_high_kw : float
        Highest power at the wheels [kW].
    source : str
        Where it is from.
    rests_on : str
        What is taken to be so.
    """

    low_kw: float
    high_kw: float
    peak_low_kw: float
    peak_high_kw: float
    source: str
    rests_on: str


def expected_of_goal(
    goal_kw: float,
    before: PowerCurve,
    loss_low: float,
    loss_high: float,
    barometer_kpa: float | None = None,
) -> Expected:
    """Of a goal power at the crank [kW] that is reached.

    Parameters
    ----------
    before : PowerCurve
        The mean run before.
    loss_low, loss_high : float
        Lost between crank and wheels (fractions of crank power).
    barometer_kpa : float, optional
        Of runs as measured on an engine that breathes it: the goal is one at sea level [kPa].
    """
    here = goal_kw * (1.0 if barometer_kpa is None else barometer_kpa / SEA_LEVEL_KPA)
    low, high = wheel_range(here, loss_low, loss_high)
    peak, mean = before.peak_power[0], float(before.power_kw.mean())
    return Expected(
        mean * (low / peak - 1.0),
        mean * (high / peak - 1.0),
        low,
        high,
        f"goal of {goal_kw:.1f} kW at the crank",
        f"{100 * loss_low:.0f} to {100 * loss_high:.0f} % lost on the way to the wheels, and the same share"
        " gained at every speed",
    )


def expected_of_boost(added: Sequence[tuple[float, float]], before: PowerCurve, stock_kpa: float) -> Expected:
    """Of boost that is added to what the stock computer holds: so much more air at most.

    Parameters
    ----------
    added : sequence of (rpm, kPa)
        By which the level raises it.
    before : PowerCurve
        The mean run before.
    stock_kpa : float
        Manifold pressure at full load, stock, absolute [kPa].

    Torque goes with the mass of air, which at one charge temperature goes with absolute pressure. The charge
    is warmer, and a stock computer may take some of it back: it is the most that it may be.
    """
    speeds, kpa = np.array([rpm for rpm, _ in added]), np.array([more for _, more in added])
    after: Floats = before.power_kw * (1.0 + np.interp(before.rpm, speeds, kpa) / stock_kpa)
    return Expected(
        0.0,
        float((after - before.power_kw).mean()),
        before.peak_power[0],
        float(after.max()),
        f"level that adds up to {kpa.max():.0f} kPa",
        f"{stock_kpa:.0f} kPa absolute as stock, and a charge no warmer than stock: the most that it may be",
    )
