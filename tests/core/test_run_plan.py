"""The plan of runs, against other sums than its own: the noncentral t, and jobs that are played."""

from __future__ import annotations

from dataclasses import replace
from math import sqrt

import numpy as np
import pytest
from scipy.stats import nct, t

from ventmap.core.basics import DEVICES, Device, DeviceKind, HouseRules
from ventmap.core.drum import (
    SCATTER_ALONE,
    Apart,
    Expected,
    PowerCurve,
    RunConditions,
    chance_to_see,
    compare,
    expected_of_boost,
    expected_of_goal,
    least_seen,
    mean_run,
    on_grid,
    one_more,
    plan_runs,
    run_advice,
    runs_for,
    same_conditions,
    scatter_of,
    to_match,
)
from ventmap.core.runsheet import Kit, stock_again
from ventmap.core.vehicle import Gearing

RPM = np.arange(2000.0, 6501.0, 50.0)
SHAPE = 110.0 * np.sin(np.clip((RPM - 500.0) / 6500.0, 0, 1) * np.pi * 0.62)
LEVEL = float(SHAPE.mean())


def runs(
    random: np.random.Generator, count: int, scatter: float, gain: float, day: float
) -> list[PowerCurve]:
    shared = random.normal(0, day)
    kws = [SHAPE * (1 + shared + random.normal(0, scatter)) + gain for _ in range(count)]
    return [PowerCurve(RPM, kw, kw * 9549.3 / RPM) for kw in kws]


@pytest.mark.parametrize(("before", "after"), [(2, 2), (3, 3), (3, 8), (10, 10)])
@pytest.mark.parametrize("gain", [0.0, 0.5, 1.5])
def test_a_chance_is_that_of_the_noncentral_t(before, after, gain):
    scatter, freedom = 0.006, before + after - 2
    far = gain / (scatter * LEVEL * sqrt(1 / before + 1 / after))
    wanted = nct.sf(t.ppf(0.99, freedom), freedom, far)
    assert chance_to_see(gain, LEVEL, scatter, before, after) == pytest.approx(wanted, abs=0.004)


@pytest.mark.parametrize("apart", [SCATTER_ALONE, Apart(0.007), Apart(0.004, 0.01)])
def test_jobs_that_are_played_claim_what_the_plan_says(apart):
    random, scatter, jobs = np.random.default_rng(11), 0.005, 400
    gain = least_seen(LEVEL, scatter, 3, 4, apart=apart)
    # Air moves one side against the other; a day moves each.
    moved = apart.of_difference / sqrt(2.0)
    claimed = sum(
        compare(runs(random, 3, scatter, 0.0, moved), runs(random, 4, scatter, gain, moved), apart=apart)
        .calls[0]
        .verdict
        == "go"
        for _ in range(jobs)
    )
    assert 0.85 <= claimed / jobs <= 0.95


def test_more_runs_see_less_and_days_are_not_averaged_away():
    rows = plan_runs(LEVEL, 0.006, 3, other_day=Apart(0.007))
    assert [row.after for row in rows] == list(range(3, 11))
    for less, more in zip(rows, rows[1:], strict=False):
        assert more.one_day_kw < less.one_day_kw
        assert more.other_day_kw < less.other_day_kw
    days_alone = (2.326 + 1.282) * 0.007 * sqrt(2) * LEVEL
    assert rows[-1].other_day_kw > 0.98 * days_alone, "what two days differ by, no number of runs takes away"
    assert runs_for(rows[2].one_day_kw, rows, one_day=True) == 5
    assert runs_for(0.5 * rows[-1].one_day_kw, rows, one_day=True) is None
    assert runs_for(rows[-1].one_day_kw, rows, one_day=False) is None


def test_runs_before_that_cannot_be_made_again_stay_as_many():
    rows = plan_runs(LEVEL, 0.006, 3, before=3)
    assert {row.before for row in rows} == {3}
    free = plan_runs(LEVEL, 0.006, 3)
    assert rows[-1].one_day_kw > free[-1].one_day_kw
    assert plan_runs(LEVEL, 0.006, 3, before=1) == ()


def test_scatter_is_of_runs_alike_and_says_whose():
    own = [100.0, 101.0, 99.0]
    assert scatter_of([], []) is None
    assert scatter_of([100.0], []) is None
    alone = scatter_of(own, [[100.0, 101.0]])
    assert alone.share == pytest.approx(0.01)
    assert alone.source == "3 runs of this job"
    # Of two degrees of freedom the scatter is known from one third to 3.08 times, nine in ten.
    assert alone.most == pytest.approx(0.01 * sqrt(2 / 0.2107), rel=1e-3)
    shop = [[200.0, 202.0, 198.0]] * 3
    assert scatter_of([], shop).source == "this shop's other runs"
    both = scatter_of(own, shop)
    assert (both.freedom, both.share) == (8, pytest.approx(0.01))
    rough = scatter_of([100.0, 110.0, 90.0], shop)
    assert (rough.freedom, rough.share) == (2, pytest.approx(0.1)), "not what the shop's others explain"
    assert scatter_of([100.0, 100.0], []) is None, "two that are one tell nothing"


@pytest.mark.parametrize("count", [2, 3, 6])
def test_one_more_run_lies_in_the_band_as_often_as_it_says(count):
    random, inside, total = np.random.default_rng(5), 0.0, 300
    for _ in range(total):
        found = [PowerCurve(RPM, kw, kw) for kw in SHAPE + random.normal(0, 0.6, (count + 1, len(RPM)))]
        low, high = one_more(on_grid(RPM, found[:-1]), 0.98)
        inside += float(((low <= found[-1].power_kw) & (found[-1].power_kw <= high)).mean()) / total
    assert inside >= 0.975
    assert one_more(on_grid(RPM, found[:1]), 0.98) is None


def test_what_a_goal_asks_at_the_wheels():
    before = PowerCurve(RPM, SHAPE, SHAPE)
    peak = float(SHAPE.max())
    goal = expected_of_goal(150.0, before, 0.12, 0.20)
    assert (goal.peak_low_kw, goal.peak_high_kw) == (pytest.approx(120.0), pytest.approx(132.0))
    assert goal.low_kw == pytest.approx(LEVEL * (120.0 - peak) / peak)
    thin = expected_of_goal(150.0, before, 0.12, 0.20, 101.325 / 2)
    assert thin.peak_high_kw == pytest.approx(66.0)


def test_what_a_level_brings_at_most():
    before = PowerCurve(RPM, SHAPE, SHAPE)
    level = expected_of_boost(((2000.0, 20.0), (7000.0, 20.0)), before, 200.0)
    assert level.high_kw == pytest.approx(0.1 * LEVEL)
    assert level.peak_high_kw == pytest.approx(1.1 * SHAPE.max())
    assert level.low_kw == 0.0


HOUSE = HouseRules()
MADE = RunConditions(
    "own", 4, intake_c=20.0, barometer_kpa=85.0, humidity=0.4, fuel="98", ramp="8 s", tyre_kpa=230.0
)


@pytest.mark.parametrize("figure", ["intake_c", "tyre_kpa", "barometer_kpa"])
@pytest.mark.parametrize("boosted", [False, True])
def test_what_is_to_be_matched_is_what_is_held_against(figure, boosted):
    label = {"intake_c": "intake air at its start", "tyre_kpa": "tyre pressure"}.get(
        figure, "barometer, uncorrected"
    )
    two = [MADE, replace(MADE, **{figure: getattr(MADE, figure) + 0.4})]
    asked = {one.label: one for one in to_match(two, HOUSE, as_measured=True, boosted=boosted)}
    for edge, off in ((asked[label].low, -0.05), (asked[label].high, 0.05)):
        for value, verdict in ((edge - off / 50, "go"), (edge + off, "hold")):
            made = [*two, replace(MADE, **{figure: value})]
            assert (
                same_conditions("dyno.alike", made, HOUSE, as_measured=True, boosted=boosted).verdict
                == verdict
            )
    apart = [MADE, replace(MADE, **{figure: getattr(MADE, figure) - 31.0})]
    assert {one.label: one for one in to_match(apart, HOUSE, as_measured=True)}[label].value.startswith(
        "too far"
    )
    assert "barometer, uncorrected" not in {one.label for one in to_match(two, HOUSE)}
    assert to_match([], HOUSE) == ()


@pytest.mark.parametrize(("word", "other"), [
    ("drum", "another"), ("gear", 3), ("fuel", "95"), ("ramp", "6 s"), ("measured", "hubs"),
])  # fmt: skip
def test_whatever_word_holds_a_run_is_among_what_is_to_be_matched(word, other):
    one = replace(MADE, measured="wheels")
    call = same_conditions("dyno.alike", [one, replace(one, **{word: other})], HOUSE)
    assert call.verdict == "hold"
    differs = [e.label.removesuffix(" differs") for e in call.because if e.label.endswith(" differs")]
    assert set(differs) <= {asked.label for asked in to_match([one], HOUSE)}
    assert differs


def expected(low: float, high: float, peak_low: float = 100.0, peak_high: float = 120.0) -> Expected:
    return Expected(low, high, peak_low, peak_high, "goal", "loss")


def test_advice_says_what_can_be_done_and_no_more():
    rows = plan_runs(LEVEL, 0.006, 3, other_day=Apart(0.007))

    def told(*found: Expected, fixed: bool = False, by: str = "", before: int = 3) -> str:
        return " ".join(run_advice(rows, None, found, before_fixed=fixed, stock_by=by, before=before))

    assert "5 runs a side see it where all are made on one day" in told(expected(rows[2].one_day_kw, 9.0))
    assert "from day to day no number" in told(expected(rows[2].one_day_kw, 9.0))
    assert "3 runs a side see it, on one day or on two" in told(expected(8.0, 9.0))
    assert "Not even 10 runs" in told(expected(0.1, 0.2))
    assert "At least 3 runs after" in told(expected(-1.0, 9.0), fixed=True)
    assert "no gain is to be expected" in told(expected(-3.0, -1.0))
    assert "reaches 120 kW at the wheels at most" in told(
        expected(0.0, 5.0), expected(9.0, 12.0, 121.0, 130.0)
    )
    assert "at most; the" not in told(expected(0.0, 5.0), expected(4.0, 12.0, 119.0, 130.0))
    assert "without taking the kit out" in told(fixed=True, before=0)
    assert "make every run before now" in told()
    assert "position 0" in told(by="position 0")
    assert "make every run before now" not in told(fixed=True)


CAR = Gearing((13.1, 7.4, 5.1, 3.9, 3.15), 632.0, 3.9)


def test_the_gear_of_a_drum_is_the_straightest_that_is_slow_enough():
    found = CAR.on_drum(6600.0, 250.0)
    assert (found.gear, found.ratio, found.lower, found.letter) == (4, 1.0, False, "H")
    assert found.kmh == pytest.approx(6600 / 60 / 3.9 * np.pi * 0.632 * 3.6)
    slow = CAR.on_drum(6600.0, 180.0)
    assert (slow.gear, slow.lower, slow.too_fast) == (3, True, False)
    kept = CAR.on_drum(6600.0, 180.0, made_in=4)
    assert (kept.gear, kept.too_fast, kept.lower) == (4, True, False)
    assert CAR.on_drum(6600.0, HOUSE["dyno.drum_kmh"]).gear == 4
    assert CAR.on_drum(6600.0, 20.0).too_fast
    assert Gearing((4.0, 1.0), 700.0).on_drum(9000.0, 400.0).letter != "", (
        "no tyre is asked beyond its ratings"
    )


@pytest.mark.parametrize("kind", list(DEVICES))
def test_only_what_is_out_of_the_way_in_a_minute_gives_stock_runs_back(kind):
    about = DEVICES[kind].model_construct()
    assert isinstance(about, Device)
    by = stock_again([Kit(kind, about=about)])
    assert bool(by) == (kind in (DeviceKind.sensor_piggyback, DeviceKind.inline_controller))
    assert stock_again([Kit(kind, about=about, pump="larger")]) == ""
    assert stock_again([Kit(kind, about=about)], besides=1) == ""
    assert stock_again([]) == ""


def test_runs_that_share_speeds_have_a_mean():
    short = PowerCurve(RPM[20:], SHAPE[20:] + 2.0, SHAPE[20:])
    mean = mean_run([PowerCurve(RPM, SHAPE, SHAPE), short])
    assert mean.rpm[0] == RPM[20]
    assert mean.power_kw == pytest.approx(SHAPE[20:] + 1.0)
