"""Formulas against published or independently derived values."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ventmap.core import basics, fuel
from ventmap.core.basics import BadInput, Call, NotEnough, OutOfRange, Table2D, Verdict, worst
from ventmap.core.drum import Drum, PowerCurve, compare, cool_down, correction_factor, reduce_pull
from ventmap.core.electrics import (
    SteinhartHart,
    key_on_calls,
    linear_from_points,
    pedal_calls,
    trigger_offset,
)
from ventmap.core.fuel import (
    BodyCode,
    DeadTimeTable,
    best_set,
    compare_read_back,
    duty,
    flow_at_pressure,
    flow_spread,
    required_flow,
    split_fuel_error,
    supported_power,
    window_limit_ms,
)
from ventmap.core.vehicle import check_digit, check_vin
from ventmap.standin import garage
from ventmap.standin.lookup import Lookup


def test_standard_atmosphere_against_the_tables_of_iso_2533():
    for altitude, kpa in ((0, 101.325), (500, 95.461), (1000, 89.876), (2000, 79.501), (3000, 70.121)):
        assert basics.standard_pressure(altitude) == pytest.approx(kpa, abs=0.02)


def test_vapour_pressure_against_steam_tables():
    for temp, kpa in ((0.01, 0.6117), (20, 2.339), (25, 3.170), (40, 7.385)):
        assert basics.vapour_pressure(temp, 1.0) == pytest.approx(kpa, rel=0.002)
    assert basics.dry_pressure(100.0, 25.0, 0.5) == pytest.approx(100 - 3.17 / 2, abs=0.01)


def test_fuel_blends():
    e85 = fuel.blend(0.85)
    assert fuel.volume_multiplier(e85) == pytest.approx(1.426, abs=0.001)
    assert e85.heating_value * e85.density / (43.5 * 0.745) == pytest.approx(0.705, abs=0.001)
    assert fuel.blend(0.0).stoichiometric == 14.70
    assert fuel.blend(1.0).stoichiometric == pytest.approx(9.0)
    assert fuel.ethanol_from_frequency(50) == 0
    assert fuel.ethanol_from_frequency(135) == pytest.approx(0.85)
    with pytest.raises(OutOfRange, match="water"):
        fuel.ethanol_from_frequency(181)
    cost = fuel.running_cost(8.0, 2.0, 1.2, e85, kit_cost=400)
    assert cost.break_even_price_ratio == pytest.approx(0.705, abs=0.001)
    assert cost.per_fill_saving == pytest.approx(40.0)
    assert cost.break_even_km == pytest.approx(400 / ((8 * 2.0 - 8 / 0.7046 * 1.2) / 100), rel=0.01)


def test_injector_sums():
    assert flow_at_pressure(440, 300, 400) == pytest.approx(508.1, abs=0.05)
    # 150 kW at 365 g/kWh is 54.75 kg/h, 1224.8 cm³/min, over four injectors at 85 %
    assert required_flow(150, 365, 4, 0.85) == pytest.approx(54_750 / 60 / 0.745 / 4 / 0.85)
    assert duty(12.0, 6000) == pytest.approx(0.6)
    assert duty(6.0, 6000, stroke=2) == pytest.approx(0.6)
    assert window_limit_ms(180, 6000) == pytest.approx(5.0)
    with pytest.raises(OutOfRange) as wrong:
        flow_at_pressure(440, 300, 0)
    assert wrong.value.field == "kpa"


@given(st.floats(20, 900), st.floats(250, 400), st.integers(1, 12), st.floats(0.5, 0.95), st.floats(0, 1))
def test_supported_power_undoes_required_flow(power, bsfc, count, allowed, ethanol):
    mix = fuel.blend(ethanol)
    assert supported_power(
        required_flow(power, bsfc, count, allowed, mix), bsfc, count, allowed, mix
    ) == pytest.approx(power)


@given(st.floats(-0.15, 0.15), st.floats(-0.3, 0.3))
def test_split_fuel_error_finds_what_was_put_in(flow, dead):
    pulse = np.linspace(1.0, 9.0, 60)
    split = split_fuel_error(pulse, flow + dead / pulse + 0.002 * np.sin(np.arange(60) * 7))
    assert split.flow_error == pytest.approx(flow, abs=0.003)
    assert split.dead_time_error_ms == pytest.approx(dead, abs=0.006)
    low, high = split.dead_time_error_interval_ms
    assert low <= split.dead_time_error_ms <= high
    assert high - low < 0.02


def test_split_fuel_error_refuses_narrow_pulses():
    with pytest.raises(NotEnough, match="idle and a pull"):
        split_fuel_error(np.linspace(3.0, 5.0, 50), np.zeros(50))


def test_flow_sets():
    flows = [440, 452, 441, 430, 443, 442]
    assert flow_spread([98, 102]) == pytest.approx(0.04)
    assert best_set(flows, 4) == (0, 2, 4, 5)


def test_body_codes_read_back():
    codes = [
        BodyCode(1, 112, 0.5, storage_step=1.0),
        BodyCode(2, 130, 0.5, storage_step=1.0),
        BodyCode(3, 140, 0.5, storage_step=1.0),
    ]
    titles = [call.title for call in compare_read_back(codes, [56.4, 70.0, 61.0])]
    assert titles == ["fine", "crossed", "wrong"]


class TestDeadTime:
    def test_sound_tables_pass_and_interpolate(self):
        table = garage.dead_time(0.7)
        assert table.problems() == []
        assert table.at(13.5, 300) == pytest.approx((table.at(13, 300) + table.at(14, 300)) / 2)
        assert table.covers(14, 300)
        assert not table.covers(14, 500)

    @pytest.mark.parametrize("column", [0, 1, 2, 3])
    @pytest.mark.parametrize("move", [1, -1])
    def test_a_column_typed_one_row_off_is_named(self, column, move):
        sound = garage.dead_time(0.7)
        ms = sound.ms.copy()
        ms[:, column] = np.roll(ms[:, column], move)
        found = DeadTimeTable(sound.voltages, sound.pressures_kpa, ms).problems()
        assert found
        assert found[0].title == f"Column {sound.pressures_kpa[column]:g} kPa looks typed one row off"

    def test_a_slipped_decimal_is_found(self):
        sound = garage.dead_time(0.7)
        ms = sound.ms.copy()
        ms[3, 1] *= 10
        titles = {call.title for call in DeadTimeTable(sound.voltages, sound.pressures_kpa, ms).problems()}
        assert "Dead time out of range" in titles
        assert "Dead time does not fall with voltage" in titles


def test_sensor_curves():
    assert linear_from_points([(0.5, 20), (4.5, 250)]).value(2.5) == pytest.approx(135)
    # a common 2.5 kΩ thermistor: points at −10, 20 and 80 °C give back 50 °C between
    curve = SteinhartHart.from_points([(-10, 9397), (20, 2500), (80, 323)])
    assert curve.temp_c(2500) == pytest.approx(20, abs=0.01)
    assert 49 < curve.temp_c(834) < 51
    assert curve.ohms(20.0) == pytest.approx(2500, rel=0.001)
    assert trigger_offset(84, 10, 13) == 87


def test_key_on_reads_the_barometer_of_the_altitude():
    verdicts = [key_on_calls(manifold_kpa=kpa, altitude_m=1450)[0].verdict for kpa in (85.0, 82.0, 101.3)]
    assert verdicts == [Verdict.go, Verdict.hold, Verdict.stop]
    soaked = key_on_calls(manifold_kpa=85, altitude_m=1450, coolant_c=18, intake_c=27)
    assert soaked[-1].verdict is Verdict.hold
    open_circuit = key_on_calls(manifold_kpa=85, altitude_m=1450, coolant_c=-40)
    assert open_circuit[1].verdict is Verdict.stop


def test_pedal_tracks():
    half = {"half_v": 2.32, "twin_half_v": 1.16}
    assert worst(pedal_calls(0.64, 4.0, 0.32, 2.0, **half)) is Verdict.go
    assert worst(pedal_calls(0.64, 4.0, 4.4, 0.9, half_v=2.32, twin_half_v=2.65)) is Verdict.go, (
        "the other way"
    )
    assert worst(pedal_calls(0.64, 4.0, 0.9, 4.3, half_v=2.32, twin_half_v=2.6)) is Verdict.go, "offset"
    assert worst(pedal_calls(0.64, 4.0, 0.32, 2.0, half_v=2.32, twin_half_v=1.4)) is Verdict.stop
    assert worst(pedal_calls(0.64, 4.0, 0.32, 2.0)) is Verdict.hold, "ends alone tell nothing"
    assert worst(pedal_calls(0.64, 4.0, 0.32, 0.6, **half)) is Verdict.stop
    assert worst(pedal_calls(0.1, 4.0)) is Verdict.stop


def test_overruling_follows_what_is_protected():
    hold, stop = (
        Call("r", verdict=verdict, because=(), do_next="", source="")
        for verdict in (Verdict.hold, Verdict.stop)
    )
    assert hold.may_be_overruled
    assert stop.may_be_overruled
    assert not Call(
        "r", verdict=Verdict.stop, because=(), do_next="", source="", protects="people"
    ).may_be_overruled


def test_vin_check_digit():
    assert check_digit("1M8GDM9A_KP042788".replace("_", "0")) == "X"  # the worked example of 49 CFR 565
    assert check_vin("1M8GDM9AXKP042788").verdict is Verdict.go
    assert check_vin("1M8GDM9A1KP042788").verdict is Verdict.hold
    assert check_vin("1M8GDM9AXKP04278").verdict is check_vin("").verdict is Verdict.hold
    assert check_vin("WVE2TWA06GS10441Z").verdict is Verdict.go, "no check digit in its region"
    assert check_vin("XYZ12345A717", kind="watercraft").verdict is Verdict.go
    assert "I, O and Q" in check_vin("1M8GDM9AXKPO42788").do_next


class TestQuantities:
    @pytest.mark.parametrize(
        ("text", "quantity", "value"),
        [
            ("43.5 psi", "pressure", 299.92),
            ("3 bar", "pressure", 300),
            ("212 °F", "temperature", 100),
            ("12,5 V", "voltage", 12.5),
            ("20 mV", "voltage", 0.02),
            ("4 %", "fraction", 0.04),
            ("14.7 AFR", "mixture", 1.0),
            ("100 hp", "power", 74.57),
            ("42 lb/h", "injector_flow", 441),
            ("1 in", "length", 25.4),
            ("100 mph", "speed", 160.934),
            ("-40 °F", "temperature", -40),
        ],
    )
    def test_typed_units(self, text, quantity, value):
        assert basics.parse(text, quantity) == pytest.approx(value, rel=1e-3)

    def test_nonsense_names_the_field(self):
        with pytest.raises(BadInput) as wrong:
            basics.parse("warm", "temperature")
        assert wrong.value.field == "temperature"
        assert "number" in wrong.value.sentence
        with pytest.raises(BadInput, match="does not measure"):
            basics.parse("3 kg", "pressure")

    @given(st.floats(-1e4, 1e4), st.sampled_from(sorted(basics.QUANTITIES)))
    def test_factors_for_the_screens_agree_with_pint(self, value, quantity):
        for unit, line in basics.conversions()[quantity]["units"].items():
            assert value * line["factor"] + line["offset"] == pytest.approx(
                basics.show(value, quantity, unit), rel=1e-9, abs=1e-9
            )


@given(st.floats(300, 7000), st.floats(10, 110))
def test_tables_share_weights_that_sum_to_one(rpm, kpa):
    table = garage.filling()
    weights = table.weights(rpm, kpa)
    assert weights.share.sum() == pytest.approx(1.0)
    assert table.values.min() <= table.one(rpm, kpa) <= table.values.max()
    assert Lookup(table)(rpm, kpa) == pytest.approx(table.one(rpm, kpa))


def test_tables_refuse_axes_that_fall():
    with pytest.raises(BadInput, match="must rise"):
        Table2D([2, 1], [1, 2], [[1, 1], [1, 1]])


class TestDrum:
    def test_correction_factors_at_their_own_reference_and_outside(self):
        assert correction_factor("SAE J1349", 99.0, 25.0, 0.0).factor == pytest.approx(1.0, abs=0.001)
        assert correction_factor("ISO 1585", 99.0, 25.0, 0.0).factor == pytest.approx(1.0, abs=0.001)
        assert correction_factor("DIN 70020", 101.3, 20.0, 0.5).factor == pytest.approx(1.0)
        assert correction_factor("SAE J607", 29.92 * 3.38639, 15.556, 0.0).factor == pytest.approx(
            1.0, abs=0.001
        )
        high = correction_factor("SAE J1349", 85.1, 22.0, 0.4)
        assert not high.valid
        assert high.call.verdict is Verdict.hold
        assert high.factor == pytest.approx(1.203, abs=0.002)
        with pytest.raises(BadInput):
            correction_factor("house blend", 99, 25, 0)

    def test_a_pull_of_known_power_is_reduced_to_it(self):
        # constant 60 kW into the drum: ω² grows by 2P/I each second
        drum = Drum(50.0, (0.0, 0.0, 0.0), 6.0)
        time = np.arange(0, 6, 0.02)
        omega = np.sqrt(40.0**2 + 2 * 60_000 / 50.0 * time)
        curve = reduce_pull(time, omega, drum)
        assert curve.power_kw == pytest.approx(60.0, rel=0.01)
        assert curve.torque_nm[0] == pytest.approx(60_000 / (curve.rpm[0] * math.pi / 30), rel=0.01)
        assert curve.rpm[-1] < omega[-1] * 6 * 30 / math.pi

    def test_a_gain_counts_only_above_its_scatter(self):
        grid = np.arange(2000, 6001, 50.0)
        random = np.random.default_rng(2)

        def runs(kw: float) -> list[PowerCurve]:
            return [
                PowerCurve(
                    grid,
                    power := np.full(len(grid), kw) + random.normal(0, 0.4),
                    power * 1000 / (grid * math.pi / 30),
                )
                for _ in range(3)
            ]

        real, none = compare(runs(60), runs(63), "street"), compare(runs(60), runs(60.1), "street")
        assert real.calls[0].verdict is Verdict.go
        assert real.mean_gain_kw == pytest.approx(3, abs=1)
        assert none.calls[0].verdict is Verdict.hold
        assert none.calls[0].title == "Within scatter"
        assert compare(runs(60)[:1], runs(63), "street").calls[0].title == "Too few runs to claim"
        with pytest.raises(NotEnough):
            compare([], runs(60))

    def test_cooling_is_fitted_and_waited_for(self):
        time = np.arange(0, 120, 0.5)
        fit = cool_down(time, 25 + 30 * np.exp(-time / 90), first_c=26, within_k=3)
        assert fit.time_constant_s == pytest.approx(90, rel=0.02)
        assert fit.tends_to_c == pytest.approx(25, abs=0.5)
        # from 55 °C to 26 + 3: 90·ln(30/4) s
        assert fit.minutes == pytest.approx(90 * math.log(30 / 4) / 60, rel=0.05)
        with pytest.raises(NotEnough):
            cool_down(time, np.full(len(time), 30.0), first_c=25)


@given(st.floats(-0.3, 0.3), st.floats(-0.35, 0.35))
def test_a_correction_is_split_exactly_whatever_its_size(flow, dead):
    """An injector that passes `flow` more than the map says and opens `dead` ms earlier than it believes:
    what is delivered, by its own open time, over what was asked.
    """
    pulse = np.linspace(0.9, 9.0, 80)
    delivered = (1 + flow) * (pulse + dead) / pulse
    noise = 0.002 * np.sin(np.arange(80) * 7)
    split = fuel.split_correction(pulse, 1 / delivered - 1 + noise)
    assert 1 / (1 + split.flow_error) - 1 == pytest.approx(flow, abs=0.006)
    assert -split.dead_time_error_ms == pytest.approx(dead, abs=0.012)
    assert split.at(pulse) == pytest.approx(1 / delivered - 1, abs=0.02)


def test_the_intervals_of_a_correction_cover_what_is_true():
    """Two hundred logs with noise of their own: 95 % intervals hold the truth in 92 to 98 of a hundred."""
    random, hits = np.random.default_rng(4), np.zeros(2)
    for _ in range(400):
        flow, dead = random.uniform(-0.2, 0.2), random.uniform(-0.3, 0.3)
        pulse = random.uniform(1.2, 9.0, 60)
        correction = pulse / ((1 + flow) * (pulse + dead)) * (1 + random.normal(0, 0.004, 60)) - 1
        split = fuel.split_correction(pulse, correction)
        low, high = split.flow_error_interval
        hits[0] += low <= 1 / (1 + flow) - 1 <= high
        low, high = split.dead_time_error_interval_ms
        hits[1] += low <= -dead <= high
    assert (hits / 400 >= 0.92).all(), hits
    assert (hits / 400 <= 0.985).all(), hits
