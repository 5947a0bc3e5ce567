"""The samples of a log from which fuel may be judged."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..basics import Floats, HouseRules, NotEnough
from ..findings import ReviewContext, View
from ..forms import Calibration
from ..logs import CHANNELS, Log

NEEDED = ("rpm", "lambda")
#: Channel of a table's rows, by their unit.
ROWS = {"kPa": "map", "%": "throttle"}
FAST_PEDAL = 30.0  # %/s
KEEP_OFF_S = 0.5
USUAL_DELAY_S = 0.15
LONGEST_DELAY_S = 0.8


@dataclass(frozen=True)
class SteadySamples:
    """Warm, steady, fuelled samples; the mixture already moved back by the sensor's delay.

    `load` is what the table's rows are: manifold pressure [kPa], or throttle [%].
    """

    rpm: Floats
    load: Floats
    error: Floats  # correction, fraction: add fuel is positive
    effective_pulse_ms: Floats
    weight: Floats  # so that a long idle does not outvote the rest
    place: NDArray[np.intp]  # the cell that each sample lies nearest to
    time: Floats  # s, of the log
    unrest: Floats  # 1/s, how fast load and speed move against their own size
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


def steady_samples(
    log: Log,
    calibration: Calibration,
    house: HouseRules,
    name: str = "ve",
    target_lambda: float | None = None,
) -> SteadySamples:
    """Select and shift samples for a table of the map.

    `target_lambda` stands in where the log holds no target. Without a pulse in the log, or a dead time in the
    map, fuel is known to flow only by the mixture, and the whole pulse counts.

    Left out: cold, overrun and cranking, within half a second of a fast pedal move or a fuel cut, in a
    traction
    cut or a shift, and mixtures that the sensor cannot read.
    """
    kind = calibration.table_kind(name)
    rows = ROWS.get(kind.rows.unit, "map") if kind and kind.rows else "map"
    own = "dead_time" in calibration.tables
    needed = [*NEEDED, rows, *(() if target_lambda else ("lambda_target",)), *(("pulse",) if own else ())]
    if any(not log.has(channel) for channel in needed):
        raise _lacks(channel for channel in needed if not log.has(channel))
    view = View(log, ReviewContext(rules=house))
    # A channel without one sample is a heading and no channel.
    if any(not view.has(channel) for channel in needed):
        raise _lacks(channel for channel in needed if not view.has(channel))
    log = view.log
    delay = sensor_delay(view)
    time = view.time
    pulse = view["pulse"] if view.has("pulse") else np.ones(len(log))
    target = view["lambda_target"] if view.has("lambda_target") else np.full(len(log), target_lambda)
    measured = np.interp(time + delay, time, view["lambda"])
    later_target = np.interp(time + delay, time, target)
    good = (view["rpm"] > 500) & (pulse > 0.05) & (measured > 0.6) & (measured < 1.5) & ~view.cut_rows
    good &= ~view.mask("overrun", "crank", "key_on", "warm_up")
    if view.warmth:
        good &= view[view.warmth] >= view.warm_at
    near = view.rows(KEEP_OFF_S)
    upset = ~(pulse > 0.05) | (np.abs(np.asarray(target) - later_target) > 0.03)
    for pedal in ("pedal", "throttle"):
        if view.has(pedal):
            # Over a fifth of a second, so that the sensor's noise is no pedal move.
            apart = view.rows(0.2)
            moved = np.zeros(len(log))
            moved[apart:] = np.abs(view[pedal][apart:] - view[pedal][:-apart]) / (apart / view.rate)
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
    for channel in ("stft_1", "ltft_1"):
        if view.has(channel):
            trim = trim + view[channel] / 100.0
    # What was added everywhere to stay alive is fuel that the map does not give.
    added = 1.0 + (view["global_trim"] / 100.0 if view.has("global_trim") else 0.0)
    error = (1.0 + trim) * added * measured / target - 1.0
    volts = view["battery"] if view.has("battery") else np.full(len(log), 14.0)
    effective = np.asarray(pulse, float)
    if own:
        across = np.full(len(log), calibration.scalars["fuel_pressure_kpa"])
        effective = effective - calibration.tables["dead_time"].at(across, volts)
    good &= (effective > 0.1) & np.isfinite(error) & np.isfinite(view["rpm"]) & np.isfinite(view[rows])
    if good.sum() < house["correct.samples"]:
        raise NotEnough(
            f"No steady, warm samples in which {', '.join(CHANNELS[c].label for c in needed)} were all read.",
            "log",
        )
    rpm, load = np.asarray(view["rpm"], float)[good], np.asarray(view[rows], float)[good]
    table = calibration.tables[name]
    column = np.argmin(np.abs(table.x[:, None] - rpm[None, :]), axis=0)
    row = np.argmin(np.abs(table.y[:, None] - load[None, :]), axis=0)
    place = row * len(table.x) + column
    counts = np.bincount(place, minlength=table.values.size)
    # The square root: time still counts, a minute of idle does not drown a four-second pull.
    weight = 1.0 / np.sqrt(counts[place])
    return SteadySamples(
        rpm,
        load,
        error=error[good],
        effective_pulse_ms=effective[good],
        weight=weight,
        place=place,
        time=np.asarray(time, float)[good],
        unrest=_unrest(view, rows)[good],
        delay_s=delay,
    )


def _lacks(channels: Iterable[str]) -> NotEnough:
    names = ", ".join(CHANNELS[channel].label for channel in channels)
    return NotEnough(f"The log lacks {names}. Log these channels and try again.", "log")


def _unrest(view: View, rows: str) -> Floats:
    """How fast load and engine speed move [1/s], over a third of a second to either side."""
    near = view.rows(0.3)
    ahead = np.minimum(np.arange(len(view.time)) + near, len(view.time) - 1)
    behind = np.maximum(np.arange(len(view.time)) - near, 0)
    seconds = np.maximum(view.time[ahead] - view.time[behind], 1e-3)
    total = np.zeros(len(view.time))
    for channel in ("rpm", rows):
        size = np.log(np.maximum(np.asarray(view[channel], float), 1.0))
        total = total + np.abs(size[ahead] - size[behind]) / seconds
    return np.asarray(total)
