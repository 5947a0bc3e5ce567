"""The pretend engine as an engine: what each fault does to a log, and what a sound one keeps to."""

from __future__ import annotations

import functools

import numpy as np
import pytest

from ventmap.core.findings import ReviewContext, review
from ventmap.core.forms import Identity
from ventmap.core.logs import find_windows
from ventmap.server import bench, rehearsal

BASE = bench.rehearsal_map(Identity("T20", "VM-P4", "engine"))


@functools.cache
def route(**faults):
    """The fuel route on a vehicle with these faults; one drive for all who ask."""
    vehicle = bench.rehearsal_vehicle(5, dict(faults))
    rehearsal.load(vehicle, BASE)
    log, _ = rehearsal.drive(vehicle)
    return log, vehicle.truth


def column(log, name):
    return np.asarray(log.filled(name), float)


def windows(log, kind):
    time = log.time_s
    return [(time >= w.from_s) & (time <= w.to_s) for w in find_windows(log) if w.kind == kind]


def kinds(log):
    return {finding.kind for finding in review(log, ReviewContext(induction="none")).findings}


class TestASoundEngine:
    def test_is_silent_and_shows_every_window(self):
        log, _ = route()
        assert kinds(log) == set()
        assert {"idle", "cruise", "pull", "overrun"} <= {w.kind for w in find_windows(log)}
        assert len(windows(log, "pull")) == 2

    def test_idles_at_target_on_closed_throttle(self):
        log, truth = route()
        idle = windows(log, "idle")[0]
        settled = idle & (log.time_s > log.time_s[idle][0] + 5)
        assert np.median(column(log, "rpm")[settled]) == pytest.approx(truth.idle_rpm, abs=40)
        assert column(log, "map")[settled].max() < 45
        assert column(log, "speed")[settled].max() < 1

    def test_breathes_the_air_of_the_place(self):
        log, truth = route()
        pull = windows(log, "pull")[0]
        full = column(log, "map")[pull]
        assert truth.barometer_kpa - 6 < np.median(full) <= truth.barometer_kpa + 0.5
        assert column(log, "baro") == pytest.approx(truth.barometer_kpa, abs=0.6)

    def test_pulses_follow_the_air_and_duty_follows_pulse_and_speed(self):
        log, _ = route()
        pull = windows(log, "pull")[0]
        pulse, rpm, duty = (column(log, name)[pull] for name in ("pulse", "rpm", "duty"))
        assert np.median(np.abs(duty - 100 * pulse * rpm / 120_000)) < 1.5
        steady = windows(log, "cruise")[0]
        assert np.corrcoef(column(log, "map")[steady], column(log, "pulse")[steady])[0, 1] > 0.9

    def test_cuts_fuel_on_the_overrun_and_runs_lean_air_past_the_sensor(self):
        log, _ = route()
        for overrun in windows(log, "overrun"):
            inside = (
                overrun
                & (log.time_s > log.time_s[overrun][0] + 0.6)
                & (log.time_s < log.time_s[overrun][-1] - 0.4)
            )
            if inside.sum() > 8:
                assert np.median(column(log, "pulse")[inside]) == 0
                assert np.median(column(log, "lambda")[inside]) > 1.3

    def test_keeps_lambda_at_target_by_trims_and_richens_under_load(self):
        log, _ = route()
        cruise = windows(log, "cruise")[0] & (column(log, "map") < 60)
        assert np.median(column(log, "lambda")[cruise]) == pytest.approx(1.0, abs=0.01)
        pull = windows(log, "pull")[0]
        assert np.median(column(log, "lambda_target")[pull]) == pytest.approx(0.88, abs=0.01)
        assert np.median(column(log, "lambda")[pull]) == pytest.approx(0.88, abs=0.02)

    def test_charges_and_stays_warm(self):
        log, _ = route()
        running = column(log, "rpm") > 600
        assert 13.2 < np.median(column(log, "battery")[running]) < 14.8
        assert column(log, "coolant").max() < 104

    def test_never_shows_what_physics_forbids(self):
        log, _ = route()
        for name, low, high in (
            ("rpm", 0, 7400),
            ("pedal", 0, 100),
            ("throttle", 0, 100),
            ("map", 10, 90),
            ("lambda", 0.6, 2.5),
            ("duty", 0, 100),
            ("stft_1", -30, 30),
        ):
            values = column(log, name)
            assert np.isfinite(values).all(), name
            assert low - 1 <= values.min(), name
            assert values.max() <= high + 1, name
        assert (np.diff(log.time_s) > 0).all()


#: fault → (its size, the finding it must lead to)
FAULTS = {
    "air_leak": (7.0, "idle_high_air"),
    "weak_pump": (0.5, "fuel_pressure_drop"),
    "slow_battery": (1.6, "voltage_low"),
    "poor_fuel": (9.0, "knock"),
    "flow_error": (-0.14, "lean_under_load"),
}


@pytest.mark.parametrize("fault", FAULTS)
def test_a_fault_leads_to_its_finding(fault):
    size, kind = FAULTS[fault]
    log, _ = route(**{fault: size})
    assert kind in kinds(log)


def at_idle(log) -> float:
    """Engine speed of the last idle; of the end of the log where speed is so high that no window calls it
    idle.
    """
    found = windows(log, "idle")
    return float(np.median(column(log, "rpm")[found[-1]] if found else column(log, "rpm")[-200:]))


def under_load(log) -> float:
    return float(np.median(column(log, "lambda")[windows(log, "pull")[0]]))


class TestWhatAFaultDoes:
    def test_a_leak_lifts_the_idle_and_leans_it_while_load_stays_true(self):
        sound, leaking = route()[0], route(air_leak=7.0)[0]
        assert at_idle(leaking) > at_idle(sound) + 150
        assert under_load(leaking) == pytest.approx(under_load(sound), abs=0.02)

    def test_a_weak_pump_loses_pressure_with_flow(self):
        sound, weak = route()[0], route(weak_pump=0.5)[0]
        pull = windows(weak, "pull")[0]
        assert (
            column(weak, "rail")[pull].min() < 0.88 * column(sound, "rail")[windows(sound, "pull")[0]].min()
        )
        quiet = windows(weak, "idle")[0]
        assert np.median(column(weak, "rail")[quiet]) == pytest.approx(
            np.median(column(sound, "rail")[windows(sound, "idle")[0]]), rel=0.05
        )

    def test_a_slow_battery_lengthens_the_true_dead_time(self):
        sound, slow = route()[0], route(slow_battery=1.6)[0]
        assert np.median(column(sound, "battery")) - np.median(column(slow, "battery")) == pytest.approx(
            1.6, abs=0.25
        )

    def test_poor_fuel_knocks_under_load_and_only_there(self):
        log, _ = route(poor_fuel=9.0)
        load = np.any(windows(log, "pull"), axis=0)
        assert column(log, "knock")[load].max() >= 3
        assert np.median(column(log, "knock")[windows(log, "idle")[0]]) == 0
