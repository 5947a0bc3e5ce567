"""From the speed of a drum to power and torque."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..basics import NM_RPM_PER_KW, RPM_PER_RAD_S, Floats, NotEnough, OutOfRange

GRID_RPM = 50.0
TRIM_ENDS = 0.04  # share of a pull left out at each end, where the foot and the clutch still act


@dataclass(frozen=True)
class Drum:
    """An inertia drum.

    Parameters
    ----------
    inertia : float
        Drum, wheels and driveline at the drum's speed [kg·m²].
    parasitic : tuple of float
        Loss torque at the drum, polynomial in ω: (a, b, c) for a + b·ω + c·ω² [N·m].
    ratio : float
        Engine speed over drum speed.
    """

    inertia: float
    parasitic: tuple[float, float, float]
    ratio: float


@dataclass(frozen=True)
class PowerCurve:
    """A reduced pull on a grid: wheel power [kW], torque at the engine from it [N·m]."""

    rpm: Floats
    power_kw: Floats
    torque_nm: Floats

    @property
    def peak_power(self) -> tuple[float, float]:
        """(kW, rpm)"""
        at = int(np.argmax(self.power_kw))
        return float(self.power_kw[at]), float(self.rpm[at])

    @property
    def peak_torque(self) -> tuple[float, float]:
        """(N·m, rpm)"""
        at = int(np.argmax(self.torque_nm))
        return float(self.torque_nm[at]), float(self.rpm[at])


def shared_grid(runs: Sequence[PowerCurve]) -> Floats:
    """Engine speeds that all of these runs have [rpm].

    Raises
    ------
    NotEnough
        Where they share less than 500 rpm.
    """
    low = max(run.rpm[0] for run in runs)
    high = min(run.rpm[-1] for run in runs)
    if high - low < 500:
        raise NotEnough("The runs share too little of the speed range.", "runs")
    return np.arange(low, high + 1, GRID_RPM)


def on_grid(grid: Floats, runs: Sequence[PowerCurve], pick: str = "power_kw") -> Floats:
    """Runs on one grid, shape (runs, speeds)."""
    return np.stack([np.interp(grid, run.rpm, getattr(run, pick)) for run in runs])


def mean_run(runs: Sequence[PowerCurve]) -> PowerCurve:
    """The mean of runs made alike, over the speeds that all of them have."""
    grid = shared_grid(runs)
    return PowerCurve(grid, on_grid(grid, runs).mean(axis=0), on_grid(grid, runs, "torque_nm").mean(axis=0))


def reduce_pull(
    time_s: ArrayLike, drum_rad_s: ArrayLike, drum: Drum, *, factor: float = 1.0, step_rpm: float = GRID_RPM
) -> PowerCurve:
    """Power over engine speed from the drum's speed: P = I·ω·dω/dt + parasitic(ω)·ω.

    Parameters
    ----------
    time_s : array_like, shape (n,)
    drum_rad_s : array_like, shape (n,)
        [rad/s]
    drum : Drum
    factor : float
        Correction factor; 1 leaves it as measured.
    step_rpm : float
        Grid of the result.

    Raises
    ------
    NotEnough
        With under a second of samples, or no rise of speed.

    Notes
    -----
    Derivative by Savitzky–Golay over about 0.4 s; both ends trimmed.
    """
    # Loaded when first needed: scipy's signal package would hold up every start of the server.
    from scipy.signal import savgol_filter

    time, omega = np.asarray(time_s, float), np.asarray(drum_rad_s, float)
    if len(time) < 20 or time[-1] - time[0] < 1.0:
        raise NotEnough(
            "The pull is shorter than a second. Start lower and hold the pedal to the limiter.", "time_s"
        )
    dt = float(np.median(np.diff(time)))
    even = np.arange(time[0], time[-1], dt)
    omega = np.interp(even, time, omega)
    window = min(len(omega) - 1, max(7, int(0.4 / dt))) | 1
    if window > len(omega):
        window -= 2
    smooth = savgol_filter(omega, window, 2)
    rate = savgol_filter(omega, window, 2, deriv=1, delta=dt)
    a, b, c = drum.parasitic
    torque = drum.inertia * rate + a + b * smooth + c * smooth**2
    power = torque * smooth
    engine_rpm = smooth * drum.ratio * RPM_PER_RAD_S
    ends = max(int(TRIM_ENDS * len(power)), window // 2)
    rising = slice(ends, len(power) - ends)
    rpm, power = engine_rpm[rising], power[rising]
    if len(rpm) < 10 or rpm[-1] - rpm[0] < 500.0:
        raise NotEnough("Engine speed hardly rises in this pull.", "drum_rad_s")
    order = np.argsort(rpm)
    grid = np.arange(np.ceil(rpm.min() / step_rpm), np.floor(rpm.max() / step_rpm) + 1) * step_rpm
    kilowatts = np.interp(grid, rpm[order], power[order]) * factor / 1000.0
    return PowerCurve(grid, kilowatts, kilowatts * NM_RPM_PER_KW / grid)


def crank_range(wheel_kw: float, loss_low: float = 0.12, loss_high: float = 0.20) -> tuple[float, float]:
    """What a wheel figure may be at the crank [kW]: a range, for the losses between are not measured.

    `loss_low` and `loss_high` are shares of crank power.

    Examples
    --------
    >>> [round(kw, 1) for kw in crank_range(88.0)]
    [100.0, 110.0]
    """
    if not 0.0 <= loss_low <= loss_high < 1.0:
        raise OutOfRange("Losses are shares below 1, the lower one first.", "loss_low")
    return wheel_kw / (1.0 - loss_low), wheel_kw / (1.0 - loss_high)


def wheel_range(crank_kw: float, loss_low: float = 0.12, loss_high: float = 0.20) -> tuple[float, float]:
    """What a figure at the crank may be at the wheels [kW]: the same range the other way.

    Examples
    --------
    >>> [round(kw, 1) for kw in wheel_range(110.0)]
    [88.0, 96.8]
    """
    if not 0.0 <= loss_low <= loss_high < 1.0:
        raise OutOfRange("Losses are shares below 1, the lower one first.", "loss_low")
    return crank_kw * (1.0 - loss_high), crank_kw * (1.0 - loss_low)
