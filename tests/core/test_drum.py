"""The drum: published factors, known pulls, and what may be claimed from repeats."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ventmap.core.basics import BadInput, NotEnough, Verdict, dry_pressure, standard_pressure
from ventmap.core.drum import (
    GOALS,
    STANDARDS,
    Drum,
    PowerCurve,
    compare,
    cool_down,
    correction_factor,
    read_curve,
    reduce_pull,
)

DRUM = Drum(40.0, (12.0, 0.05, 0.002), 3.2)


def pull(kw=lambda rpm: 20 + 0.012 * rpm, seconds=9.0, hz=50.0, noise=0.0, seed=1):
    """Drum speed of an engine whose power over speed is known: integrate P = (I·α + loss)·ω."""
    random = np.random.default_rng(seed)
    dt, omega = 1 / 1000, 2000 * np.pi / 30 / DRUM.ratio
    times, speeds = [], []
    for step in range(int(seconds * 1000)):
        rpm = omega * DRUM.ratio * 30 / np.pi
        loss = DRUM.parasitic[0] + DRUM.parasitic[1] * omega + DRUM.parasitic[2] * omega**2
        omega += dt * (1000 * kw(rpm) / omega - loss) / DRUM.inertia
        if step % int(1000 / hz) == 0:
            times.append(step * dt)
            speeds.append(omega)
    return np.array(times), np.array(speeds) + random.normal(0, noise, len(times))


def curve(offset=0.0, seed=0, scatter=0.3) -> PowerCurve:
    """A run with the scatter of a whole run (weather, tyre, driver) and of each speed."""
    random = np.random.default_rng(seed)
    rpm = np.arange(2000.0, 6001.0, 50.0)
    kw = 20 + 0.012 * rpm + offset + random.normal(0, scatter) + random.normal(0, scatter / 2, len(rpm))
    return PowerCurve(rpm, kw, kw * 9549.3 / rpm)


class TestFactors:
    def test_each_standard_is_one_at_its_own_reference_air(self):
        # reference conditions: 99 kPa dry, 25 °C; 101.3 kPa, 20 °C; 29.92 inHg, 60 °F
        assert correction_factor("SAE J1349", 99.0, 25.0, 0.0).factor == pytest.approx(1.0, abs=2e-3)
        assert correction_factor("ISO 1585", 99.0, 25.0, 0.0).factor == pytest.approx(1.0, abs=2e-3)
        assert correction_factor("DIN 70020", 101.3, 20.0, 0.5).factor == pytest.approx(1.0, abs=2e-3)
        assert correction_factor("SAE J607", 29.92 * 3.38639, 15.556, 0.0).factor == pytest.approx(
            1.0, abs=2e-3
        )

    @given(st.sampled_from(STANDARDS[1:]), st.floats(92, 104), st.floats(5, 40), st.floats(0, 0.9))
    def test_thinner_hotter_wetter_air_never_lowers_the_factor(self, standard, kpa, celsius, humidity):
        here = correction_factor(standard, kpa, celsius, humidity).factor
        assert correction_factor(standard, kpa - 2, celsius, humidity).factor > here
        assert correction_factor(standard, kpa, celsius + 5, humidity).factor > here
        assert correction_factor(standard, kpa, celsius, humidity + 0.1).factor >= here

    def test_on_the_pass_the_bounded_standards_do_not_hold(self):
        kpa = standard_pressure(1450.0)
        valid = {name: correction_factor(name, kpa, 20.0, 0.4).valid for name in STANDARDS}
        assert valid == {
            "none": True,
            "SAE J1349": False,
            "ISO 1585": False,
            "DIN 70020": True,
            "SAE J607": True,
        }
        assert "uncorrected" in correction_factor("ISO 1585", kpa, 20.0, 0.4).call.do_next
        assert dry_pressure(kpa, 20.0, 0.4) == pytest.approx(kpa - 0.4 * 2.339, abs=0.02)
        with pytest.raises(BadInput, match="no standard"):
            correction_factor("guess", 99, 20, 0.4)


class TestReduction:
    @pytest.mark.parametrize("hz", [20.0, 50.0, 100.0])
    def test_known_power_comes_back(self, hz):
        found = reduce_pull(*pull(hz=hz), DRUM)
        want = 20 + 0.012 * found.rpm
        assert found.power_kw == pytest.approx(want, rel=0.01)
        assert found.torque_nm == pytest.approx(want * 9549.3 / found.rpm, rel=0.011)

    def test_a_factor_scales_and_noise_averages_out(self):
        clean = reduce_pull(*pull(), DRUM)
        scaled = reduce_pull(*pull(), DRUM, factor=1.05)
        assert scaled.power_kw == pytest.approx(1.05 * clean.power_kw)
        noisy = reduce_pull(*pull(noise=0.02), DRUM)
        shared = slice(5, min(len(noisy.rpm), len(clean.rpm)) - 5)
        assert noisy.power_kw[shared] == pytest.approx(clean.power_kw[shared], rel=0.12)

    def test_pulls_that_are_none(self):
        time = np.arange(0, 3, 0.02)
        with pytest.raises(NotEnough, match="hardly rises"):
            reduce_pull(time, np.full_like(time, 90.0), DRUM)
        with pytest.raises(NotEnough, match="shorter than a second"):
            reduce_pull(time[:30], np.linspace(80, 90, 30), DRUM)


class TestClaims:
    def runs(self, gain, scatter=0.3, count=3, first=10):
        return [curve(0, first + n, scatter) for n in range(count)], [
            curve(gain, first + 100 + n, scatter) for n in range(count)
        ]

    def test_a_large_gain_is_claimed_and_a_small_one_is_not(self):
        big = compare(*self.runs(4.0))
        assert big.calls[0].verdict is Verdict.go
        assert big.mean_gain_kw == pytest.approx(4.0, abs=1.0)
        assert big.claimable.mean() > 0.9
        none = compare(*self.runs(0.0))
        assert none.calls[0].verdict is Verdict.hold
        assert none.calls[0].title in (
            "Within scatter",
            "Power was lost",
        )

    @settings(max_examples=25)
    @given(st.integers(0, 100_000))
    def test_nothing_gained_is_seldom_claimed(self, seed):
        # two standard deviations: about one in twenty either way; the mean of all seeds is what counts, a
        # single one may err
        before, after = self.runs(0.0, first=seed)
        found = compare(before, after)
        assert found.mean_limit_kw > 0
        assert abs(found.mean_gain_kw) < 6 * 0.3

    def test_false_claims_stay_rare_over_many_shops(self):
        claims = sum(
            compare(*self.runs(0.0, first=1000 * n)).calls[0].verdict is Verdict.go for n in range(120)
        )
        assert claims <= 12, "a one-sided two-sigma rule from three and three runs"

    def test_too_few_runs_and_runs_that_do_not_overlap(self):
        few = compare(*self.runs(4.0, count=2))
        assert few.calls[0].title == "Too few runs to claim"
        with pytest.raises(NotEnough, match="no gain is claimed"):
            compare([], [curve()])
        low = PowerCurve(np.arange(1000.0, 2001.0, 50.0), np.ones(21), np.ones(21))
        with pytest.raises(NotEnough, match="share too little"):
            compare([low], [curve()])

    def test_lost_power_is_said(self):
        assert compare(*self.runs(-4.0)).calls[0].title == "Power was lost"

    @pytest.mark.parametrize("goal", GOALS)
    def test_a_goal_weighs_its_own_parts(self, goal):
        found = compare(*self.runs(3.0), goal)
        assert sum(GOALS[goal]) == pytest.approx(1.0)
        assert found.score == pytest.approx(
            sum(w * p for w, p in zip(GOALS[goal], found.score_parts.values(), strict=True))
        )

    def test_the_torque_band_lies_around_the_peak(self):
        found = compare(*self.runs(1.0, scatter=0.01))
        assert found.torque_band[0] == 2000.0, "this engine's torque falls from the start"


def test_cool_down_waits_to_within_three_kelvin():
    time = np.arange(0, 240, 1.0)
    found = cool_down(time, 25 + 20 * np.exp(-time / 90), 27.0)
    # 25 + 20·exp(−t/90) = 30 → t = 90·ln 4
    assert found.minutes == pytest.approx(90 * np.log(4) / 60, abs=0.1)
    assert found.time_constant_s == pytest.approx(90, rel=0.02)
    assert found.tends_to_c == pytest.approx(25, abs=0.2)
    with pytest.raises(NotEnough, match="does not cool"):
        cool_down(time, np.full_like(time, 30.0), 27.0)


@pytest.mark.parametrize("core", [False, True], ids=["air alone", "air and core"])
def test_what_the_wait_may_be_holds_the_truth(core):
    """Coolers of random size and noise: nine in ten intervals hold when it is truly cool, or say *longer
    than* less.
    """
    random, held, runs = np.random.default_rng(6), 0, 50
    for _ in range(runs):
        ends, air, tau = random.uniform(15, 32), random.uniform(5, 25), random.uniform(20, 70)
        slow, late = random.uniform(2, 10) * core, random.uniform(200, 700)
        time = np.arange(0, random.uniform(60, 300), 0.5)

        def warm(at):
            return ends + air * np.exp(-at / tau) + slow * np.exp(-at / late)  # noqa: B023 - used at once

        first = ends + random.uniform(0, 3)
        found = cool_down(time, warm(time) + random.normal(0, random.uniform(0.05, 0.3), len(time)), first)
        long = np.arange(0.0, 6000.0)
        truth = long[np.flatnonzero(warm(long) <= first + 3.0)[0]] / 60.0
        early = found.minutes - found.uncertain_minutes - 0.03 <= truth
        held += early and (found.longer_than or truth <= found.minutes + found.uncertain_minutes + 0.03)
    assert held / runs >= 0.9


class TestWhatAFileSays:
    ROWS = "\n".join(f"{rpm},{rpm / 60:.1f},{rpm / 50:.1f}" for rpm in range(2000, 6200, 200))

    @pytest.mark.parametrize(
        ("head", "share"),
        [
            ("rpm,Wheel power (kW),Engine power (kW)", 1 / 60),
            ("rpm,Engine power (kW),Power at wheels (kW)", 1 / 50),
            ("rpm,Power (kW),Motorleistung [kW]", 1 / 60),
            ("rpm,Power crank (kW),Hub power (kW)", 1 / 50),
        ],
    )
    def test_the_figure_at_the_wheels_is_taken(self, head, share):
        curve = read_curve(f"{head}\n{self.ROWS}\n")
        assert curve.power_kw[0] == pytest.approx(2000 * share, abs=0.06)

    @pytest.mark.parametrize("head", ["rpm,Engine power (kW)", "rpm,Motorleistung [kW]", "rpm,flywheel hp"])
    def test_a_figure_at_the_crank_is_never_taken(self, head):
        rows = "\n".join(f"{rpm},{rpm / 60:.1f}" for rpm in range(2000, 6200, 200))
        with pytest.raises(BadInput, match="at the engine"):
            read_curve(f"{head}\n{rows}\n")

    @pytest.mark.parametrize("head", ["rpm,kW", "rpm,Power (hp)", "rpm,Torque N·m"])
    def test_a_file_that_does_not_say_where_it_measures_is_asked(self, head):
        rows = "\n".join(f"{rpm},{rpm / 60:.1f}" for rpm in range(2000, 6200, 200))
        for measured in ("", "engine"):
            with pytest.raises(BadInput) as refused:
                read_curve(f"{head}\n{rows}\n", measured=measured)
            assert refused.value.field == "measured"
        assert read_curve(f"{head}\n{rows}\n", measured="hubs").power_kw[0] > 0

    def test_what_only_one_side_reached_is_part_of_the_result(self):
        def run(top: int, by: float) -> PowerCurve:
            rpm = np.arange(3000.0, top + 1, 50.0)
            kw = rpm / 60.0 + by
            return PowerCurve(rpm, kw, kw * 9549.3 / rpm)

        noise = (0.0, 0.05, -0.05)
        found = compare([run(9000, n) for n in noise], [run(12500, n) for n in noise])
        told = {item.label: item.value for item in found.calls[0].because}
        assert told["reached only after, up to"] == 12500
        assert told["highest there"] == pytest.approx(12500 / 60, abs=0.1)
        assert found.peak_after == (pytest.approx(12500 / 60, abs=0.1), 12500)
        assert found.rpm[-1] == 9000, "no gain is reckoned where one side has none"
