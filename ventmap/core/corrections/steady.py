"""The samples of a log from which fuel may be judged."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import Floats, HouseRules, NotEnough
from ..findings import ReviewContext, View
from ..logs import CHANNELS, Log
from ..maps import Calibration

NEEDED = ("rpm", "map", "lambda", "lambda_target", "pulse")
FAST_PEDAL = 30.0  # %/s
KEEP_OFF_S = 0.5
USUAL_DELAY_S = 0.15
LONGEST_DELAY_S = 0.8


@dataclass(frozen=True)
class SteadySamples:
    """Warm, steady, fuelled samples; the mixture already moved back by the sensor's delay."""

    rpm: Floats
    map_kpa: Floats
    error: Floats  # correction, fraction: add fuel is positive
    effective_pulse_ms: Floats
    weight: Floats  # so that a long idle does not outvote the rest
    place: NDArray[np.intp]  # the cell that each sample lies nearest to
    delay_s: float


def sensor_delay(view: View) -> float:
    """Transport delay of the mixture sensor [s], from fuel cuts: pulse to nothing, then lambda climbs.

    The median over the overruns of the log; the usual delay where there is none.
    """
    if not view.has("pulse", "lambda"):
        return USUAL_DELAY_S
    fuelled = view["pulse"] > 0.05
    cuts = np.flatnonzero(fuelled[:-1] & ~fuelled[1:]) + 1
    delays = []
    for row in cuts:
        stop = int(np.searchsorted(view.time, view.time[row] + LONGEST_DELAY_S))
        before = float(np.median(view["lambda"][max(0, row - 5) : row]))
        up = np.flatnonzero(view["lambda"][row:stop] > before + 0.15)
        if len(up) and not fuelled[row:stop].any():
            delays.append(float(view.time[row + up[0]] - view.time[row]))
    return float(np.median(delays)) if delays else USUAL_DELAY_S


def steady_samples(log: Log, calibration: Calibration, house: HouseRules) -> SteadySamples:
    """Select and shift samples.

    Left out: cold, overrun and cranking, within half a second of a fast pedal move or a fuel cut, in a
    traction
    cut or a shift, and mixtures that the sensor cannot read.
    """
    missing = [CHANNELS[name].label for name in NEEDED if not log.has(name)]
    if missing:
        raise NotEnough(f"The log lacks {', '.join(missing)}. Log these channels and try again.", "log")
    view = View(log, ReviewContext(rules=house))
    delay = sensor_delay(view)
    time, target = view.time, view["lambda_target"]
    measured = np.interp(time + delay, time, view["lambda"])
    later_target = np.interp(time + delay, time, target)
    good = (view["rpm"] > 500) & (view["pulse"] > 0.05) & (measured > 0.6) & (measured < 1.5) & ~view.cut_rows
    good &= ~view.mask("overrun", "crank", "key_on", "warm_up")
    if view.has("coolant"):
        good &= view["coolant"] >= house["warm.coolant"]
    near = view.rows(KEEP_OFF_S)
    upset = ~(view["pulse"] > 0.05) | (np.abs(np.asarray(target) - later_target) > 0.03)
    for name in ("pedal", "throttle"):
        if view.has(name):
            # Over a fifth of a second, so that the sensor's noise is no pedal move.
            rows = view.rows(0.2)
            moved = np.zeros(len(log))
            moved[rows:] = np.abs(view[name][rows:] - view[name][:-rows]) / (rows / view.rate)
            upset |= moved > FAST_PEDAL
            break
    after = np.convolve(upset, np.ones(near + view.rows(delay) + 1))[: len(upset)] > 0
    before = np.convolve(upset[::-1], np.ones(view.rows(delay) + 1))[: len(upset)][::-1] > 0
    good &= ~after & ~before
    if good.sum() < house["correct.samples"]:
        raise NotEnough(
            "No steady, warm samples. Drive it warm: idle, cruise and a pull, then log again.", "log"
        )
    trim = np.zeros(len(log))
    for name in ("stft_1", "ltft_1"):
        if log.has(name):
            trim = trim + view[name] / 100.0
    error = (1.0 + trim) * measured / target - 1.0
    volts = view["battery"] if log.has("battery") else np.full(len(log), 14.0)
    across = np.full(len(log), calibration.scalars["fuel_pressure_kpa"])
    effective = view["pulse"] - calibration.tables["dead_time"].at(across, volts)
    good &= effective > 0.1
    rpm, pressure = np.asarray(view["rpm"], float)[good], np.asarray(view["map"], float)[good]
    table = calibration.tables["ve"]
    column = np.argmin(np.abs(table.x[:, None] - rpm[None, :]), axis=0)
    row = np.argmin(np.abs(table.y[:, None] - pressure[None, :]), axis=0)
    place = row * len(table.x) + column
    counts = np.bincount(place, minlength=table.values.size)
    # The square root: time still counts, a minute of idle does not drown a four-second pull.
    weight = 1.0 / np.sqrt(counts[place])
    return SteadySamples(
        rpm,
        pressure,
        error=error[good],
        effective_pulse_ms=effective[good],
        weight=weight,
        place=place,
        delay_s=delay,
    )
