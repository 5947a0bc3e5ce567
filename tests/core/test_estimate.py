"""Filling, flow and dead time from one log: right, and as sure as they say."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from ventmap.core.basics import Table2D
from ventmap.core.corrections import FLOW_SD, SteadySamples, estimate

X = np.array([800.0, 1400, 2000, 2800, 3600, 4400, 5200, 6000])
Y = np.array([25.0, 40, 55, 70, 85, 100])
TABLE = Table2D(X, Y, 60.0 + np.outer(Y, np.ones(8)) / 5 + 10 * np.sin(X / 2500.0))
#: Effective pulse by filling and pressure [ms/kPa]: about 2 ms at idle, 7 ms at full load.
MS_PER_KPA = 0.1


def surface(seed: int, peak: float) -> Table2D:
    """A smooth error of the table, as a few broad hills: not drawn from what the estimator assumes."""
    random = np.random.default_rng(seed)
    x, y = np.meshgrid((X - X[0]) / np.ptp(X), (Y - Y[0]) / np.ptp(Y))
    hills = np.zeros(x.shape)
    for _ in range(4):
        at, wide = random.uniform(0, 1, 2), random.uniform(0.25, 0.6)
        hills += random.normal() * np.exp(-((x - at[0]) ** 2 + (y - at[1]) ** 2) / (2 * wide**2))
    return Table2D(X, Y, peak * hills / np.abs(hills).max())


def driven(
    seed: int,
    *,
    peak: float = 0.0,
    flow: float = 0.0,
    dead_ms: float = 0.0,
    off_kpa: float = 0.0,
    places: int = 60,
    hz: float = 20.0,
) -> SteadySamples:
    """Stays of some seconds at places of the map, by the physics of an injector.

    Of the air that is really there, fuel for it needs so much pulse; the computer gives what its table, flow
    and dead time say, and closed loop swings about what is missing while the sensor adds its noise.
    """
    random = np.random.default_rng(seed)
    error = surface(seed, peak)
    rows: list[tuple] = []
    clock = 0.0
    for place in range(places):
        idle = place % 6 == 0
        rpm = 850.0 if idle else random.uniform(1200, 5800)
        load = random.uniform(28, 33) if idle else random.uniform(35, 98)
        count = int(random.uniform(2, 9) * hz)
        time = clock + np.arange(count) / hz
        clock = time[-1] + 1.0
        speed = rpm + random.normal(0, 10, count)
        read = load + random.normal(0, 0.25, count)
        air = TABLE.at(speed, read) / 100 * (read - off_kpa) * np.exp(error.at(speed, read))
        asked = MS_PER_KPA * TABLE.at(speed, read) / 100 * read
        needed = MS_PER_KPA * air / (1.0 + flow) + dead_ms
        swing = 0.02 * np.sin(2 * np.pi * (time - clock) / random.uniform(1.5, 3.0))
        given = asked * (1.0 + swing)
        kept = random.normal(0, 0.003)  # what a stay does not share with the next one
        mixture = needed / given * np.exp(kept + random.normal(0, 0.004, count))
        rows.append((time, speed, read, mixture * (1.0 + swing) - 1.0, given))
    time, rpm, load, asked_for, pulse = (np.concatenate(column) for column in zip(*rows, strict=True))
    nearest = lambda axis, values: np.abs(axis[:, None] - values).argmin(axis=0)  # noqa: E731
    return SteadySamples(
        rpm,
        load,
        error=asked_for,
        effective_pulse_ms=pulse,
        weight=np.ones(len(rpm)),
        place=nearest(Y, load) * len(X) + nearest(X, rpm),
        time=time,
        unrest=np.zeros(len(rpm)),
        delay_s=0.1,
    )


def test_flow_and_dead_time_of_a_right_table_are_found_within_their_intervals():
    found = estimate(driven(1, flow=0.06, dead_ms=0.12), TABLE)
    assert found.flow == pytest.approx(1 / 1.06 - 1, abs=0.012)
    assert found.dead_time_ms == pytest.approx(0.12, abs=0.05)
    assert np.diff(found.flow_interval)[0] < 0.07


def test_intervals_hold_what_they_promise():
    """Of 24 drives with wrong tables, 95 % intervals hold the truth at least nine times of ten, and are no
    excuses: many of them are narrower than what was known before.
    """
    random = np.random.default_rng(5)
    flows, deads, cells, narrow = [], [], [], []
    for seed in range(24):
        peak, flow, dead = random.uniform(0, 0.2), random.uniform(-0.1, 0.1), random.uniform(-0.25, 0.25)
        hz = (10.0, 20.0, 50.0)[seed % 3]
        found = estimate(driven(100 + seed, peak=peak, flow=flow, dead_ms=dead, hz=hz), TABLE)
        low, high = found.flow_interval
        flows.append(low <= 1 / (1 + flow) - 1 <= high)
        low, high = found.dead_time_interval
        deads.append(low <= dead <= high)
        narrow.append(found.flow_sd < 0.75 * FLOW_SD)
        alone = estimate(driven(100 + seed, peak=peak, hz=hz), TABLE, scalars=False)
        off = np.log1p(alone.cells) - surface(100 + seed, peak).values
        known = alone.cells_sd < 0.03
        cells += list(np.abs(off[known]) < 1.96 * alone.cells_sd[known])
    assert np.mean(flows) >= 0.9
    assert np.mean(deads) >= 0.9
    assert np.mean(cells) >= 0.92
    assert np.mean(narrow) >= 0.4


def test_at_one_pulse_flow_and_table_cannot_be_told_apart_and_only_their_product_is_sure():
    steady = driven(3, flow=0.08, places=40)
    one = (steady.load > 60) & (steady.load < 80)
    names = ("rpm", "load", "error", "effective_pulse_ms", "weight", "place", "time", "unrest")
    some = replace(steady, **{name: getattr(steady, name)[one] for name in names})
    apart, together = estimate(some, TABLE), estimate(some, TABLE, scalars=False)
    assert np.diff(apart.flow_interval)[0] > 0.04
    row, column = 3, 3
    assert together.cells[row, column] == pytest.approx(1 / 1.08 - 1, abs=0.01)
    assert together.cells_sd[row, column] < 0.012


def test_what_trims_swing_by_is_no_dead_time():
    low, high = estimate(driven(4), TABLE).dead_time_interval
    assert low < 0 < high
    assert abs(low + high) / 2 < 0.04


def test_a_pressure_sensor_that_is_off_looks_like_a_dead_time_and_the_interval_says_so():
    low, high = estimate(driven(6, off_kpa=0.6), TABLE).dead_time_interval
    assert low < 0 < high


def test_a_place_that_nobody_drove_stays_and_nobody_knows():
    steady = driven(7, peak=0.15)
    near = (steady.rpm < 3000) & (steady.load < 70)
    names = ("rpm", "load", "error", "effective_pulse_ms", "weight", "place", "time", "unrest")
    found = estimate(replace(steady, **{n: getattr(steady, n)[near] for n in names}), TABLE, scalars=False)
    assert found.cells_sd[-1, -1] > 3 * found.cells_sd[1, 1]


def test_an_outlier_moves_no_cell():
    steady = driven(8)
    spoiled = steady.error.copy()
    spoiled[(steady.time > 40) & (steady.time < 42)] += 0.4
    found = estimate(replace(steady, error=spoiled), TABLE, scalars=False)
    assert np.abs(found.cells).max() < 0.04
