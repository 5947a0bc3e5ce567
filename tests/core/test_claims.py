"""Null jobs: runs between which nothing was changed, with day, air and run of their own, and what is
claimed.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from ventmap.core.basics import HouseRules
from ventmap.core.drum import (
    PowerCurve,
    RunConditions,
    apart_of,
    between_days,
    compare,
    same_conditions,
    to_one_air,
)

RPM = np.arange(2000.0, 6501.0, 50.0)
SHAPE = 120.0 * np.sin(np.clip((RPM - 500.0) / 6500.0, 0, 1) * np.pi * 0.62)
MADE = RunConditions("own", 3, intake_c=25.0, barometer_kpa=85.0, humidity=0.4, fuel="98", ramp="own")
HOUSE = HouseRules()


def day(random: np.random.Generator, runs: int, sd: float, gain: float = 0.0) -> list[PowerCurve]:
    """Runs of one day: an offset that all share, one of each run, and noise that is alike between near
    speeds.
    """
    shared, found = random.normal(0, sd), []
    for _ in range(runs):
        rough = np.convolve(random.normal(0, 1, len(RPM) + 8), np.ones(9) / 3.0, mode="valid")
        kw = SHAPE * (1 + gain + shared + random.normal(0, 0.003) + 0.002 * rough)
        found.append(PowerCurve(RPM, kw, kw * 9549.3 / RPM))
    return found


def claims(jobs: int, sd: float, gain: float = 0.0, runs: int = 3) -> tuple[float, float]:
    """Shares of jobs whose mean is claimed, and that have any speed marked."""
    random, real, marked = np.random.default_rng(7), 0, 0
    apart = apart_of(*between_days([], HOUSE), one_day=sd == 0, air=0.0)
    for _ in range(jobs):
        found = compare(day(random, runs, sd), day(random, runs, sd, gain), apart=apart)
        real += found.calls[0].verdict == "go"
        marked += bool(found.claimable.any())
    return real / jobs, marked / jobs


@pytest.mark.parametrize("runs", [3, 5])
@pytest.mark.parametrize("sd", [0.0, 0.007])
def test_of_two_thousand_null_jobs_few_are_claimed(sd, runs):
    real, marked = claims(1000, sd, runs=runs)
    assert real <= 0.025
    assert marked <= 0.035, "a mark anywhere along the curve"


def test_a_gain_beyond_the_days_is_claimed():
    assert claims(60, 0.007, gain=0.05)[0] > 0.95
    assert claims(60, 0.0, gain=0.02)[0] > 0.95


@pytest.mark.parametrize("boosted", [False, True])
@pytest.mark.parametrize("kpa", [84.0, 86.0, 80.0, 90.0])
def test_air_of_another_density_is_brought_to_one_and_stays_unsure(kpa, boosted):
    """Truth by another way: power of air that is breathed goes with its mass, of air that is held by less."""
    after = [replace(MADE, barometer_kpa=kpa, intake_c=30.0)] * 3
    first, second, unsure = to_one_air([MADE] * 3, after, boosted)
    assert first == pytest.approx([1.0] * 3)
    water = 0.4 * 3.169, 0.4 * 4.246  # saturated vapour at 25 and 30 °C by the steam tables [kPa]
    masses = (85.0 - water[0]) / 298.15**0.5, (kpa - water[1]) / 303.15**0.5
    ratio = masses[0] / masses[1]
    low, high = sorted((1.0, ratio)) if boosted else sorted((ratio**1.0, ratio**1.2))
    assert low - 1e-4 <= second[0] <= high + 1e-4
    spread = abs(np.log(ratio)) * (0.3 if boosted else 0.1)
    assert unsure == pytest.approx(spread, rel=0.02, abs=1e-5)


def test_a_null_job_in_denser_air_is_no_gain():
    random = np.random.default_rng(3)
    before, after = day(random, 3, 0.0), day(random, 3, 0.0)
    dense = [PowerCurve(c.rpm, c.power_kw * 86.0 / 84.0, c.torque_nm * 86.0 / 84.0) for c in after]
    runs = [replace(MADE, barometer_kpa=84.0)] * 3, [replace(MADE, barometer_kpa=86.0)] * 3
    _, factors, unsure = to_one_air(*runs, boosted=False)
    brought = [
        PowerCurve(c.rpm, c.power_kw * f, c.torque_nm * f) for c, f in zip(dense, factors, strict=True)
    ]
    assert compare(before, dense).calls[0].verdict == "go", "as measured it would have been claimed"
    call = compare(before, brought, apart=apart_of(0.007, "house rule", False, unsure)).calls[0]
    assert call.verdict == "hold"
    words = next(e.value for e in call.because if e.label.startswith("scatter besides"))
    assert "0.7 % between days, house rule" in words
    assert "density" in words
    assert same_conditions("dyno.alike", [*runs[0], *runs[1]], as_measured=True).verdict == "hold"


def test_a_shops_own_pairs_of_days_take_the_place_of_the_house_rule():
    random, own = np.random.default_rng(5), 0.015
    pairs = []
    for _ in range(60):
        level = random.uniform(60, 200)
        pairs.append(
            {
                name: list(level * (1 + random.normal(0, own) + random.normal(0, 0.003, 3)))
                for name in ("first", "second")
            }
        )
    sd, source = between_days(pairs, HOUSE)
    assert sd == pytest.approx(own, rel=0.25)
    assert "60 pairs" in source
    assert between_days(pairs[:4], HOUSE) == (pytest.approx(0.007), "house rule")
    assert between_days([{"only": [80.0, 81.0]}], HOUSE)[1] == "house rule"
    assert between_days([], HouseRules({"dyno.between_days": 1.2}))[0] == pytest.approx(0.012)
