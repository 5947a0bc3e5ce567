"""Two moments, two pulls, two channels: figures against Polars, and what may be said of a difference."""

from __future__ import annotations

import numpy as np
import polars as pl
import pytest

from ventmap.core.basics import LogError
from ventmap.core.findings import TREND, trend_of
from ventmap.core.logs import Log, Stretch, Window, between, cloud, driven, laid_over, parts_of


def pull(side, seed, added=0.0, spread=2.0, first=2000.0, last=6500.0, hz=20.0):
    """A pull of 6 s: pressure rises to 180 kPa and differs from pull to pull by `spread` [kPa]."""
    chance = np.random.default_rng(seed)
    time_s = np.arange(0, 6, 1 / hz)
    rpm = np.linspace(first, last, len(time_s)) + chance.normal(0, 8, len(time_s))
    pressure = 180 - 60 * np.exp(-(rpm - 1800) / 900) + added + chance.normal(0, spread)
    return Stretch(side, 40 + time_s, {"rpm": rpm, "map": pressure, "speed": np.full(len(rpm), 72.0)})


def test_between_two_moments_stand_polars_own_figures_of_each_channels_own_samples():
    chance = np.random.default_rng(3)
    time_s = np.arange(0, 60, 0.05)
    values = np.where(np.arange(len(time_s)) % 4 == 0, chance.normal(90, 7, len(time_s)), np.nan)
    told = between(time_s, {"map": values, "empty": np.full(len(time_s), np.nan)}, 31.0, 12.5)
    own = pl.Series(values[(time_s >= 12.5) & (time_s <= 31.0)]).fill_nan(None).drop_nulls()
    assert [one.name for one in told] == ["map"]
    assert told[0].samples == len(own)
    assert (told[0].least, told[0].most) == (own.min(), own.max())
    assert (told[0].mean, told[0].scatter) == pytest.approx((own.mean(), own.std()))
    assert (told[0].first, told[0].last) == (own[0], own[-1])
    with pytest.raises(LogError):
        between(time_s, {"map": values}, 70.0, 80.0)


def test_what_was_added_is_found_beyond_the_scatter_and_nothing_within_it():
    gained = [pull("before", n) for n in range(3)] + [pull("after", 10 + n, added=15.0) for n in range(3)]
    told = laid_over(gained, "map", "rpm")
    assert told.mean == pytest.approx(15.0, abs=told.within)
    assert abs(told.mean) > told.within
    assert told.sentence.startswith("Beyond")
    assert np.nanmean(told.difference) == pytest.approx(told.mean, abs=0.5)
    assert np.nanmean(told.scatter) == pytest.approx(2.0, abs=1.5)
    claimed = sum(
        laid_over(
            [pull(("before", "after")[n % 2], 100 * seed + n) for n in range(6)], "map", "rpm"
        ).sentence.startswith("Beyond")
        for seed in range(300)
    )
    assert claimed <= 14  # two in a hundred are expected, 6 of 300; more than 14 in one of a thousand


def test_one_a_side_says_nothing_and_sides_that_share_nothing_are_not_compared():
    one = laid_over([pull("before", 1), pull("after", 2, added=30)], "map", "rpm")
    assert one.mean == pytest.approx(30, abs=8)
    assert one.within is None
    assert "Drive each again" in one.sentence
    apart = [pull("before", 1, last=4000.0), pull("after", 2, first=4500.0)]
    assert laid_over(apart, "map", "rpm").mean is None
    assert laid_over([pull("before", 1)], "map", "rpm").mean is None


def test_a_pull_that_ends_early_is_no_whole_observation_but_is_drawn():
    short = pull("after", 5, added=15.0, last=3500.0)
    told = laid_over(
        [pull("before", 1), pull("before", 2), pull("after", 6, added=15.0), short], "map", "rpm"
    )
    lengths = [len(x) for x, _ in told.lines]
    assert min(lengths) > 20
    alone = laid_over([pull("before", 1), pull("before", 2), pull("after", 6, added=15.0)], "map", "rpm")
    assert told.mean == pytest.approx(alone.mean, abs=0.5)  # its own mean is far lower


def test_along_distance_and_time_each_from_its_own_start():
    told = laid_over([pull("before", 1), pull("after", 2)], "map", "distance")
    assert told.lines[0][0][[0, -1]] == pytest.approx([0.0, 20.0 * 5.95])
    assert laid_over([pull("before", 1)], "map", "time").lines[0][0][0] == 0.0
    still = Stretch("before", np.arange(3.0), {"map": np.ones(3)})
    with pytest.raises(LogError) as refused:
        laid_over([still], "map", "distance")
    assert refused.value.field == "along"


def test_a_shift_is_no_part_of_a_pull_along_engine_speed():
    time_s = np.arange(0, 4, 0.1)
    rpm = np.concatenate([np.linspace(2000, 6000, 20), np.linspace(4000, 6500, 20)])
    x, _ = laid_over([Stretch("before", time_s, {"rpm": rpm, "map": rpm})], "map", "rpm").lines[0]
    assert np.diff(x).min() > 0
    assert len(x) < 30


def test_every_second_driven_stands_in_one_cell_with_the_mean_of_it():
    chance = np.random.default_rng(9)
    time_s = np.arange(0, 300, 0.1)
    rpm, load = 2500 + 1500 * np.sin(time_s / 9), 60 + 30 * np.sin(time_s / 5)
    log = Log(
        time_s, {"rpm": rpm, "map": load, "lambda": 1 + 0.01 * chance.normal(size=len(rpm))},
        columns={}, extras={}, notes=[], breaks=(), name="a drive",
    )  # fmt: skip
    told = driven(log, "rpm", "map", "lambda")
    assert told.seconds.sum() == pytest.approx(time_s[-1])
    cell = (np.digitize(load, told.y_edges) == 3) & (np.digitize(rpm, told.x_edges) == 4)
    assert told.mean[2, 3] == pytest.approx(log.channels["lambda"][cell].mean(), abs=1e-6)
    assert max(told.seconds.shape) <= 15
    times, values = cloud(log, ["rpm", "lambda"])
    assert np.array_equal(values[0], rpm)
    assert len(times) == len(rpm)
    with pytest.raises(LogError):
        driven(log, "rpm", "egt_1")


@pytest.mark.parametrize("text", ["3:1:2", "x:1:2:before", "3:2:1:before", "3:1:nan:after", "3:1:2:beside"])
def test_a_stretch_that_nobody_can_read_is_a_sentence(text):
    with pytest.raises(LogError) as refused:
        parts_of(text)
    assert refused.value.field == "stretches"


def test_the_trend_of_a_log_holds_what_was_driven_and_nothing_else():
    time_s = np.arange(0, 100, 0.1)
    rpm = np.where(time_s < 5, 0.0, np.where(time_s < 50, 850.0, 3000.0))
    channels = {
        "rpm": rpm,
        "stft_1": np.where(time_s < 50, 3.0, 20.0),
        "ltft_1": np.where(np.arange(len(time_s)) % 3, np.nan, -1.0),
        "battery": np.where(time_s < 7, 10.5, 14.0),
        "iat": np.where(time_s < 60, 30.0, 30.0 + 0.5 * (time_s - 60)),
        "knock": np.where(time_s < 50, 9.0, 1.5),
        "coolant": np.full(len(time_s), np.nan),
    }
    log = Log(time_s, channels, columns={}, extras={}, notes=[], breaks=(), name="a drive")
    drove = [Window("idle", 100, 450, 10.0, 45.0), Window("pull", 600, 700, 60.0, 70.0)]
    told = trend_of(log, [*drove, Window("load", 600, 700, 60.0, 70.0)])
    assert told == pytest.approx(
        {"idle_trim": 2.0, "idle_speed": 850.0, "knock": 1.5, "intake_rise": 5.0, "battery": 14.0}
    )
    assert set(trend_of(log, [])) == {"battery"}
    assert {figure.key for figure in TREND} >= set(told)
