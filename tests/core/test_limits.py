"""Both sides of limits that a figure of the core sets: just within, just beyond, by arithmetic of its own."""

from __future__ import annotations

from dataclasses import replace
from math import sqrt

import numpy as np
import pytest

from tests.core.drives import drive
from tests.core.records import sized
from tests.core.test_corrections import CELLS, PLAIN, Dwell, change
from ventmap.core.basics import HouseRules, Verdict
from ventmap.core.corrections import propose
from ventmap.core.drum import PowerCurve, compare, correction_factor, goal_call, stock_power_call
from ventmap.core.electrics import can_termination, key_on_calls, pedal_calls
from ventmap.core.findings import ReviewContext, review
from ventmap.core.fuel import PETROL, DeadTimeTable
from ventmap.core.logs import find_windows
from ventmap.core.runsheet import ShelfInjector
from ventmap.core.vehicle import FitReason, FitResult, worst_fit


def verdicts(calls) -> dict[str, str]:
    return {call.rule: call.verdict.value for call in calls}


@pytest.mark.parametrize(
    ("factor", "valid"), [(0.9295, False), (0.9305, True), (1.0695, True), (1.0705, False)]
)
def test_a_standard_holds_between_0_93_and_1_07(factor, valid):
    """At 25 °C and dry the published formula is 1.180 · 990/pd − 0.18, pd in hPa."""
    dry_hpa = 1.180 * 990.0 / (factor + 0.18)
    found = correction_factor("SAE J1349", dry_hpa / 10, 25.0, 0.0)
    assert found.factor == pytest.approx(factor, abs=2e-4)
    assert found.valid is valid


@pytest.mark.parametrize(("error", "moves"), [(0.008, False), (0.013, True)])
def test_a_cell_that_is_less_than_a_hundredth_off_stays(base_map, error, moves):
    found = change(propose(Dwell(base_map, CELLS, [error] * 4).log(), base_map, PLAIN))
    assert bool(found[CELLS[0]] > 0) is moves


def dead_time(step_ms: float) -> DeadTimeTable:
    """Falls by 0.1 ms a volt but for one step."""
    volts = np.arange(10.0, 16.0)
    ms = 1.6 - 0.1 * np.arange(6.0)
    ms[3:] -= step_ms - 0.1
    return DeadTimeTable(volts, np.array([300.0]), ms[:, None])


@pytest.mark.parametrize(("step_ms", "jumps"), [(0.29, False), (0.31, True)])
def test_a_step_of_more_than_three_times_its_neighbours_is_a_slip(step_ms, jumps):
    titles = {call.title for call in dead_time(step_ms).problems()}
    assert ("Dead time jumps" in titles) is jumps


@pytest.mark.parametrize(("least", "out"), [(0.21, False), (0.2, False), (0.19, True)])
def test_a_dead_time_below_0_2_ms_is_out_of_range(least, out):
    ms = np.array([[0.5], [0.4], [0.3], [least]])
    table = DeadTimeTable(np.array([11.0, 12.0, 13.0, 14.0]), np.array([300.0]), ms)
    assert ("Dead time out of range" in {call.title for call in table.problems()}) is out


@pytest.mark.parametrize(("rise", "pulls"), [(0.23, 0), (0.27, 1)])
def test_a_pull_rises_by_a_quarter_of_the_range(rise, pulls):
    """A slow-turning engine: a quarter of 4 000 rpm is less than 1 500."""
    log, mask = drive()
    rpm = np.minimum(log.channels["rpm"], 4000.0 * (1 - rise))
    where = np.flatnonzero(mask["pull"])
    rpm[where[0] - 60 : where[0]] = 4000.0 * (1 - rise)
    rpm[where] = np.linspace(4000.0 * (1 - rise), 4000.0, len(where))
    log.channels["rpm"] = rpm
    log.channels["pedal"][mask["pull2"]] = 50.0
    log.channels["throttle"][mask["pull2"]] = 50.0
    assert sum(window.kind == "pull" for window in find_windows(log)) == pulls


@pytest.mark.parametrize(("boost", "seen"), [(8.0, False), (14.0, True)])
def test_what_falls_is_boost_from_ten_kilopascals_above_the_barometer(boost, seen):
    log, mask = drive(boost=boost)
    for name in ("pull", "pull2"):
        where = np.flatnonzero(mask[name])
        log.channels["map"][where] -= np.linspace(-4, 14, len(where)).clip(0)
    del log.channels["map_target"]
    log = replace(log, channels=dict(log.channels))
    kinds = {f.kind for f in review(log, ReviewContext(induction="turbo", idle_target=850.0)).findings}
    assert ("boost_falls_with_rpm" in kinds) is seen


@pytest.mark.parametrize(("celsius", "open_circuit"), [(-38.9, False), (-39.0, True), (-40.0, True)])
def test_a_thermistor_at_its_rail_is_open(celsius, open_circuit):
    calls = key_on_calls(manifold_kpa=100.0, barometer_kpa=100.0, coolant_c=celsius)
    assert ("sensor.circuit" in verdicts(calls)) is open_circuit


@pytest.mark.parametrize(("celsius", "short"), [(130.0, False), (130.1, True)])
def test_a_thermistor_above_130_cold_is_shorted(celsius, short):
    calls = key_on_calls(manifold_kpa=100.0, barometer_kpa=100.0, coolant_c=celsius)
    assert ("sensor.circuit" in verdicts(calls)) is short


def choice(flow: float, ohms: float = 12.0):
    asked = {"power_kw": 120.0, "boosted": False, "cylinders": 4, "fuel": PETROL, "fuel_pressure_kpa": 300.0}
    shelf = (ShelfInjector("a", "A", flow=flow, rated_kpa=300.0, ohms=ohms),)
    return sized(**asked, altitude_m=0.0, injectors=shelf, rules=HouseRules()).choices[0]


#: 300 g/kWh of petrol at 0.745 kg/l through four, at 85 % duty [cm³/min].
NEED = 120.0 * 300.0 / 0.745 / 60.0 / 4.0 / 0.85


@pytest.mark.parametrize(("times", "verdict"), [(1.01, "go"), (2.58, "go"), (2.62, "hold")])
def test_a_set_of_more_than_2_6_times_the_need_meters_badly(times, verdict):
    assert choice(times * NEED).call.verdict == verdict


@pytest.mark.parametrize(("ohms", "verdict"), [(10.0, "go"), (9.9, "hold"), (1.0, "hold")])
def test_below_ten_ohms_a_driver_of_its_own_is_needed(ohms, verdict):
    assert choice(1.2 * NEED, ohms).call.verdict == verdict


@pytest.mark.parametrize(("samples", "degrees", "verdict"), [
    (1, 3.5, None), (2, 3.5, "hold"), (2, 3.0, "hold"), (2, 2.9, None), (1, 6.0, "stop"), (1, 5.9, None),
])  # fmt: skip
def test_knock_holds_from_two_samples_at_its_limit_and_stops_from_one(samples, degrees, verdict):
    log, mask = drive()
    where = np.flatnonzero(mask["pull"])[60:]
    log.channels["knock"][where[:samples]] = degrees
    found = {f.kind: f.verdict.value for f in review(log, ReviewContext(induction="turbo")).findings}
    assert found.get("knock") == verdict


@pytest.mark.parametrize(("apart_rpm", "verdict"), [(240.0, "stop"), (260.0, None)])
def test_one_sample_in_each_of_two_pulls_stops_at_the_same_speed(apart_rpm, verdict):
    log, mask = drive()
    for name, at in (("pull", 4000.0), ("pull2", 4000.0 + apart_rpm)):
        where = np.flatnonzero(mask[name])
        row = where[np.argmin(np.abs(log.channels["rpm"][where] - at))]
        log.channels["knock"][row], log.channels["rpm"][row] = 3.5, at
    found = {f.kind: f.verdict.value for f in review(log, ReviewContext(induction="turbo")).findings}
    assert found.get("knock") == verdict


@pytest.mark.parametrize(("ohms", "title"), [
    (9.9, "The two wires touch"), (10.0, "Not a bus resistance"), (1000.0, "Not a bus resistance"),
    (1001.0, "Nothing between the wires"), (51.0, "Two terminators"), (50.9, "Not a bus resistance"),
    (69.0, "Two terminators"), (138.0, "One terminator is missing"), (34.0, "One terminator too many"),
])  # fmt: skip
def test_what_a_bus_resistance_says(ohms, title):
    assert can_termination(ohms).title == title


@pytest.mark.parametrize(("closed", "opened", "verdict"), [
    (0.3, 4.7, "go"), (0.29, 4.7, "stop"), (0.3, 4.71, "stop"), (1.0, 3.0, "go"), (1.0, 2.99, "stop"),
])  # fmt: skip
def test_a_pedal_runs_between_0_3_and_4_7_volts_and_spans_two(closed, opened, verdict):
    assert verdicts(pedal_calls(closed, opened))["pedal.range"] == verdict


@pytest.mark.parametrize(
    ("result", "verdict"),
    [("fits", "go"), ("fits with work", "go"), ("not known", "hold"), ("does not fit", "stop")],
)
def test_what_a_fit_is_as_a_judgement(result, verdict):
    assert FitResult(result).verdict == verdict
    worse = [FitReason("a", FitResult.fits, ""), FitReason("b", FitResult(result), "")]
    assert worst_fit(worse) is FitResult(result)
    assert worst_fit([]) is FitResult.fits


def runs(mean_kw: float, scatter_kw: float, count: int) -> list[PowerCurve]:
    """Runs whose means lie evenly around one figure; two of them `scatter_kw` either side."""
    rpm = np.arange(2000.0, 6000.0, 50.0)
    offsets = np.linspace(-scatter_kw, scatter_kw, count) if count > 1 else [0.0]
    return [PowerCurve(rpm, np.full(len(rpm), mean_kw + o), np.full(len(rpm), 100.0)) for o in offsets]


def test_a_gain_counts_where_it_is_above_its_interval_and_not_before():
    """Two runs a side, 0.2 kW apart: pooled deviation 0.1·√2; Student's t of 98 % at 2 degrees is 6.965."""
    limit = 6.965 * 0.1 * sqrt(2.0) * sqrt(0.5 + 0.5)
    real, within = (1.02, Verdict.go, "The gain is real"), (0.98, Verdict.hold, "Within scatter")
    for share, verdict, title in (real, within):
        found = compare(runs(100.0, 0.1, 2), runs(100.0 + share * limit, 0.1, 2), "street", repeats=2)
        assert (found.calls[0].verdict, found.calls[0].title) == (verdict, title)


@pytest.mark.parametrize(("before", "after", "verdict"), [(2, 2, "go"), (1, 2, "hold"), (2, 1, "hold")])
def test_too_few_runs_claim_nothing_however_large_the_gain(before, after, verdict):
    found = compare(runs(100.0, 0.1, before), runs(140.0, 0.1, after), "street", repeats=2)
    assert found.calls[0].verdict == verdict


@pytest.mark.parametrize(("closed", "opened", "verdict"), [
    (0.35, 2.1, "go"), (0.15, 2.1, "go"), (0.14, 2.1, "stop"), (1.0, 4.7, "go"), (1.0, 4.71, "stop"),
    (1.0, 2.0, "go"), (1.0, 1.99, "stop"),
])  # fmt: skip
def test_a_twin_track_may_carry_half_the_voltage_and_half_the_span(closed, opened, verdict):
    half = (closed + opened) / 2
    calls = pedal_calls(0.7, 4.2, closed, opened, half_v=2.45, twin_half_v=half)
    assert verdicts(calls)["pedal.tracks"] == verdict


@pytest.mark.parametrize(("apart", "verdict"), [(0.045, "go"), (0.06, "stop")])
def test_twin_tracks_agree_within_a_twentieth_half_way(apart, verdict):
    calls = pedal_calls(0.7, 4.2, 0.7, 4.2, half_v=2.45, twin_half_v=2.45 + apart * 3.5)
    assert verdicts(calls)["pedal.tracks"] == verdict


def test_a_goal_that_is_just_met_is_met():
    assert goal_call(100.0, 80.0, 0.2, 0.3).title == "The goal power is reached", "80 kW / (1 − 0.2)"
    assert goal_call(100.0, 75.0, 0.1, 0.25).title == "The goal power may be reached", "75 kW / (1 − 0.25)"
    assert stock_power_call(100.0, 115.0).verdict == "go"
