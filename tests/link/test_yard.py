"""Every pretend vehicle as a vehicle: its sheet's claims, what height leaves of them, what a fault does."""

from __future__ import annotations

import functools
import json
from math import pi, sqrt

import numpy as np
import pytest
from django.core.management import call_command
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import ROOT, by_night
from ventmap.core.drum import reduce_pull
from ventmap.core.findings import ReviewContext, review
from ventmap.core.forms import from_json
from ventmap.core.logs import Log, find_windows, read_log
from ventmap.link.tester import Tester
from ventmap.server import bench, drives, rehearsal
from ventmap.standin import yard
from ventmap.standin.engine import DT
from ventmap.standin.faults import FAULTS, Faults
from ventmap.standin.flashing import LinkDropped
from ventmap.standin.memory import Memory
from ventmap.standin.overlay import overlay_of
from ventmap.standin.route import Driver, Leg

KEYS = yard.vehicles()
TURBO, BLOWER, DIESEL, BIKE = (
    "ostrel-merrin-16t",
    "pelvane-wake-1500",
    "tarnwood-packhorse-30",
    "quillon-triple-660",
)
SLED, CAR, DIRECT, DUNE = (
    "bramble-skimmer-850",
    "corvane-estate-20",
    "corvane-estate-20-di",
    "hobcroft-trail-1000",
)


def built(key: str, kpa: float = 101.325, **faults: float):
    spec = yard.spec_of(key)
    body, fitted = yard.stock_parts(key)
    return spec, yard.truth_of(
        spec, body, fitted, faults=Faults.named(faults), barometer_kpa=kpa, ambient_c=25.0
    )


@functools.cache
def log_of(
    key: str, route: str = "road", minutes: float = 4.5, ethanol: float = 0.0, box: str = "", **faults
):
    """A drive of the stock vehicle, or with a box between; one drive for all who ask."""
    calibration = from_json((ROOT / "demo" / "maps" / f"{box}.json").read_text()) if box else None
    if calibration is not None and "warm_up_s" in calibration.scalars:
        calibration = calibration.with_scalars(warm_up_s=10.0)
    return drives.drive(
        key, faults=faults, minutes=minutes, route=route, ethanol=ethanol, calibration=calibration, seed=3
    )


def context(key: str) -> ReviewContext:
    body, _ = yard.stock_parts(key)
    window = yard.spec_of(key).build.feed.window_deg
    return ReviewContext(
        induction=body.induction,
        injection=body.injection,
        stroke=body.stroke,
        belt=body.belt,
        idle_target=body.idle_rpm,
        altitude_m=bench.ALTITUDE_M,
        probe=bench.probe_on(key),
        window_deg=window if body.injection == "direct" else None,
    )


def kinds(key: str, log) -> set[str]:
    return {finding.kind for finding in review(log, context(key)).findings}


def at(log, name: str, kind: str = "pull") -> np.ndarray:
    """A channel within all windows of a kind."""
    time = log.time_s
    inside = np.any(
        [(time >= w.from_s) & (time <= w.to_s) for w in find_windows(log) if w.kind == kind], axis=0
    )
    return np.asarray(log.filled(name), float)[inside]


@pytest.mark.parametrize("key", KEYS)
class TestEachVehicle:
    def test_gives_the_power_and_torque_of_its_sheet(self, key):
        spec, truth = built(key)
        sheet = spec.sheet
        power = yard.full_load(truth, spec, sheet.power_rpm) * sheet.power_rpm * 2 * pi / 60e3
        assert power == pytest.approx(sheet.power_kw, rel=0.05)
        assert sheet.power_kw == yard.stock_parts(key)[0].power_kw
        assert yard.full_load(truth, spec, sheet.torque_rpm) == pytest.approx(sheet.torque_nm, rel=0.05)

    def test_height_takes_its_share(self, key):
        spec, low = built(key)
        _, high = built(key, kpa=85.1)
        rpm = spec.sheet.power_rpm
        left = yard.full_load(high, spec, rpm) / yard.full_load(low, spec, rpm)
        # Friction stays, so torque falls by more than the air; what holds its boost loses less.
        least, most = (0.80, 1.005) if low.build.charger is not None else (0.76, 0.85)
        assert least < left < most

    def test_is_silent_where_nothing_is_wrong(self, key):
        # The motorcycle's hole is in its stock computer: it is there when nothing is broken.
        assert kinds(key, log_of(key)) == ({"lean_hole"} if key == BIKE else set())
        assert np.median(at(log_of(key), "rpm", "idle")) == pytest.approx(
            yard.stock_parts(key)[0].idle_rpm, abs=120
        )


def as_loggers_write(log: Log, seed: int) -> Log:
    """The same drive with sensor noise, tenths of a volt, and, by seed, fewer rows or each value three
    times.
    """
    chance, have = np.random.default_rng(seed), {n: v.astype(float) for n, v in log.channels.items()}
    for name, by in (("rpm", 15.0), ("lambda", 0.01), ("map", 0.8)):
        if name in have:
            have[name] = have[name] + chance.normal(0, by, len(log)) * (have["rpm"] > 50)
    have["rpm"] = np.maximum(have["rpm"], 0.0)
    have["battery"] = have["battery"].round(1)
    rows = np.arange(len(log)) // 3 * 3 if seed % 2 else np.arange(len(log))
    every = (1, 2, 4)[seed % 3]
    channels = {name: values[rows][::every] for name, values in have.items()}
    return Log.from_channels(log.time_s[::every], channels, "noisy")


@pytest.mark.parametrize("key", KEYS)
def test_sensor_noise_and_a_loggers_habits_hold_nothing(key):
    log = log_of(key)
    for seed in range(6):
        found = kinds(key, as_loggers_write(log, seed))
        # The motorcycle is lean in its hole, however it is written.
        assert found <= ({"lean_hole", "lean_under_load"} if key == BIKE else set()), seed


#: vehicle, fault, size → the finding it leads to
FOUND = [
    (TURBO, "wastegate_stuck", 0.75, "boost_plateau_low"),
    (BLOWER, "drive_slip", 0.45, "boost_falls_with_rpm"),
    (CAR, "blocked_radiator", 0.94, "coolant_high"),
    (TURBO, "blocked_core", 0.9, "heat_soak"),
    (CAR, "sticking_throttle", 4.0, "slow_to_idle"),
    (CAR, "misfire", 0.03, "misfire"),
    (CAR, "coolant_off", -35.0, "not_warm"),
    (TURBO, "traction_cut", 0.7, "torque_cut"),
    (CAR, "one_injector", -0.4, "trim_offset"),
    (CAR, "clogged_filter", 0.4, "fuel_pressure_drop"),
    (DIRECT, "weak_pump", 0.72, "fuel_pressure_drop"),
    (CAR, "rear_sensor", 14.0, "trim_hunting"),
    (CAR, "slow_battery", 1.6, "voltage_low"),
    (CAR, "coolant_open", 1.0, "sensor_implausible"),
    (CAR, "coolant_short", 1.0, "coolant_high"),
    (TURBO, "poor_fuel", 9.0, "knock"),
    (SLED, "one_injector", -0.12, "egt_spread"),
    (DIESEL, "body_code_crossed", 0.09, "egt_spread"),
    (CAR, "air_leak", 6.0, "idle_high_air"),
]


@pytest.mark.parametrize(("key", "fault", "size", "kind"), FOUND, ids=[f"{f[1]} on {f[0]}" for f in FOUND])
def test_a_fault_shows_where_physics_puts_it(key, fault, size, kind):
    assert kind in kinds(key, log_of(key, **{fault: size}))


class TestTraces:
    def test_a_fan_that_comes_late_overheats_it_standing(self):
        drives_ = [log_of(CAR, route="idle", minutes=14.0, late_fan=late) for late in (0.0, 16.0)]
        assert [kinds(CAR, log) for log in drives_] == [set(), {"coolant_high"}]

    def test_a_belt_slips_from_a_tenth_less_hold_on(self):
        slips = []
        for fault in (0.0, 0.1, 0.2):
            _, truth = built(BLOWER, drive_slip=fault)
            engine = yard.stock_engine(truth, yard.stock_parts(BLOWER)[0], 88.0)
            engine.gear, engine.drum_inertia, engine.pedal = 1, 1.0, 100.0
            for rpm in range(4000, 8000, 20):
                for _ in range(5):
                    engine.rpm = float(rpm)
                    engine.step()
            slips.append(engine.air.charger.slip)
        assert slips[0] == 0.0
        assert 0.02 < slips[1] < slips[2]

    def test_a_boost_leak_leaves_less_than_was_asked_for(self):
        short = [
            np.percentile(at(log, "map_target") - at(log, "map"), 25)
            for log in (log_of(TURBO), log_of(TURBO, boost_leak=6.0))
        ]
        assert abs(short[0]) < 8 < short[1]

    def test_a_leak_past_a_seal_makes_no_boost(self):
        # Full load on a naturally aspirated engine: nothing leaks where there is no pressure across it.
        sound, leaking = log_of(CAR), log_of(CAR, air_leak=6.0)
        assert np.percentile(at(leaking, "map"), 95) <= np.percentile(at(sound, "map"), 95) + 0.5
        assert np.median(at(leaking, "rpm", "idle")) > np.median(at(sound, "rpm", "idle")) - 20

    def test_a_late_trigger_loses_torque_and_keeps_its_mixture(self):
        spec, sound = built(CAR)
        _, late = built(CAR, trigger_offset=14.0)
        # The fault is the vehicle's: `full_load` itself runs it sound, so it is driven here.
        body, _ = yard.stock_parts(CAR)
        given = []
        for truth in (sound, late):
            engine = yard.stock_engine(truth, body, 88.0)
            engine.gear, engine.drum_inertia, engine.pedal = 1, 1.0, 100.0
            for _ in range(300):
                engine.rpm = 4000.0
                engine.step()
            given.append((engine.torque, engine.mixture))
        assert given[1][0] < 0.95 * given[0][0]
        assert given[1][1] == pytest.approx(given[0][1], abs=0.02)

    def test_crossed_plugs_never_fire(self):
        assert np.nanmax(log_of(CAR, route="idle", minutes=0.5, crossed_plugs=1.0).channels["rpm"]) < 400

    def test_water_reads_as_more_ethanol_than_there_can_be(self):
        log = log_of(CAR, route="idle", minutes=0.5, ethanol=0.85, water_in_ethanol=0.04)
        assert np.nanmedian(log.channels["ethanol"]) > 100

    def test_a_late_fan_runs_hotter_standing(self):
        hottest = []
        for late in (0.0, 14.0):
            vehicle = bench.yard_vehicle(CAR, seed=3, faults={"late_fan": late}, stock=True)
            vehicle.engine.coolant = 96.5
            legs = [Leg("start", 4.0), Leg("idle", 600.0)]
            hottest.append(max(vehicle.engine.coolant for _ in vehicle.drive(legs)))
        assert 96 < hottest[0] < 99
        assert hottest[1] > hottest[0] + 2

    def test_a_wrong_tyre_shows_another_speed_at_the_same_engine_speed(self):
        ratio = [
            np.median(at(log_of(CAR, tyre_error=e), "speed") / at(log_of(CAR, tyre_error=e), "rpm"))
            for e in (0.0, 0.08)
        ]
        assert ratio[1] / ratio[0] == pytest.approx(1.08, abs=0.01)

    def test_a_missing_ground_is_noise_on_the_supply(self):
        noisy, sound = (log_of(CAR, route="idle", minutes=1.0, missing_ground=g) for g in (0.5, 0.0))
        assert np.nanstd(np.diff(noisy.filled("battery"))) > 5 * np.nanstd(np.diff(sound.filled("battery")))

    def test_heat_soak_warms_what_it_breathes(self):
        assert (
            np.median(at(log_of(CAR, heat_soak=25.0), "iat", "idle"))
            > np.median(at(log_of(CAR), "iat", "idle")) + 6
        )

    @pytest.mark.parametrize(
        ("key", "faults", "route", "code"),
        [
            (CAR, {"flow_error": -0.35}, "idle", "P0171"),
            (CAR, {"flow_error": 0.5}, "idle", "P0172"),
            (CAR, {"coolant_open": 1.0}, "idle", "P0118"),
            (TURBO, {"wastegate_stuck": 0.9}, "road", "P0299"),
        ],
    )
    def test_the_stock_computer_sets_its_code_with_a_freeze_frame(self, key, faults, route, code):
        vehicle = bench.yard_vehicle(key, seed=3, faults=faults, stock=True)
        truth = vehicle.truth
        for _ in vehicle.drive(bench.route_of(truth, route, 4.0)):
            pass
        assert code in vehicle.engine.watch.codes
        assert vehicle.engine.watch.codes[code]["rpm"] > 0
        answer = vehicle.computer.handle(b"\x03")
        assert answer is not None
        assert answer[0] == 0x43
        assert answer[1] == len(vehicle.memory.codes) > 0

    def test_a_reversed_plug_shows_at_once(self):
        vehicle = bench.yard_vehicle(TURBO, seed=3, faults={"reversed_plug": 1.0}, stock=True)
        levels = from_json((ROOT / "demo/maps/kelmar/om16-levels.json").read_text())
        vehicle.engine.overlay = overlay_of(levels, vehicle.truth)
        for _ in vehicle.drive([Leg("start", 5.0), Leg("idle", 4.0)]):
            pass
        assert "P0238" in vehicle.engine.watch.codes

    def test_every_fault_has_a_switch_that_moves_something(self):
        still = [
            name
            for name in FAULTS
            if name not in {*ELSEWHERE, "reversed_plug", "wrong_sensor", "wrong_side"}
            and _fingerprint(name) == _fingerprint(None)
        ]
        assert still == []


#: Faults that show in a write, at the pedal or on the drum, each in a test of its own.
ELSEWHERE = (
    "interrupt_write_at",
    "pedal_track",
    "wheel_spin",
    "strap_slip",
    "slow_computer",
    "old_firmware",
    "wrong_file",
    "stuck_pump",
    "throttle_track",
    "falling_battery",
)


@functools.cache
def _fingerprint(fault: str | None) -> tuple[float, ...]:
    """What a minute of a vehicle comes to, to tell whether a switch does anything at all."""
    size = {"late_fan": 10.0, "poor_fuel": 9.0, "trigger_offset": 8.0, "heat_soak": 20.0, "rear_sensor": 12.0}
    chargers = {"boost_leak": TURBO, "wastegate_stuck": TURBO, "blocked_core": TURBO, "drive_slip": BLOWER}
    key = chargers.get(fault or "", CAR)
    vehicle = bench.yard_vehicle(
        key, seed=3, faults={fault: size.get(fault, 0.8)} if fault else {}, stock=True
    )
    engine = vehicle.engine
    engine.coolant = 99.0
    legs = [Leg("start", 4.0), Leg("idle", 20.0), Leg("hold", 3.0, gear=1, rpm=2500, pedal=20.0)]
    legs += [Leg("pull", 4.0, gear=1, rpm=2500, to_rpm=6000.0)]
    for _ in vehicle.drive(legs):
        pass
    live = engine.channels()
    if key != CAR:
        sound = bench.yard_vehicle(key, seed=3, faults={}, stock=True)
        sound.engine.coolant = 99.0
        for _ in sound.drive(legs):
            pass
        if sound.engine.rpm != engine.rpm:
            return (engine.rpm,)
    return tuple(
        round(live[name], 3)
        for name in ("rpm", "map", "lambda", "battery", "coolant", "iat", "speed", "ethanol")
    ) + (
        engine.mixture,
        *engine.sensors.lean,
    )


class TestHarm:
    def test_a_missing_ground_kills_the_computer_and_no_power_brings_it_back(self):
        vehicle = bench.yard_vehicle(CAR, seed=3, faults={"missing_ground": 1.2}, stock=True)
        vin = bytes([0x22, 0xF1, 0x90])
        assert vehicle.computer.handle(vin) is not None
        for _ in vehicle.drive([Leg("start", 4.0), Leg("idle", 40.0)]):
            pass
        vehicle.computer.power(False)
        vehicle.computer.power(True)
        assert vehicle.computer.handle(vin) is None
        assert Memory.from_document(vehicle.memory.to_document()).dead

    def test_a_low_battery_drops_the_link_in_the_blocks_and_nothing_runs(self):
        vehicle = bench.yard_vehicle(CAR, seed=3, faults={"low_battery": 1.4}, stock=False)
        with pytest.raises(LinkDropped):
            rehearsal.load(vehicle, bench.yard_map(CAR, 3))
        assert not vehicle.memory.whole
        assert vehicle.engine.runtime is None

    def test_a_pedal_track_that_is_out_is_read_as_it_is(self):
        sound, out = (
            Tester(bench.DirectLine(bench.yard_vehicle(CAR, seed=3, faults=f, stock=True))).learn_pedal()
            for f in ({}, {"pedal_track": 0.12})
        )
        assert out[0] == sound[0]
        assert out[1][1] == pytest.approx(1.12 * sound[1][1], rel=0.01)
        assert (out[1][0], out[1][2]) == (sound[1][0], sound[1][2]), "its ends read true"

    def test_a_spinning_wheel_loses_power_on_the_drum(self):
        peaks = [
            reduce_pull(*bench.yard_vehicle(CAR, seed=3, faults=f, stock=True).drum_pull()).peak_torque[0]
            for f in ({}, {"wheel_spin": 0.15})
        ]
        assert peaks[1] != pytest.approx(peaks[0], rel=0.04)

    def test_straps_that_give_way_make_a_step_that_no_engine_makes(self):
        def run(faults):
            vehicle = bench.yard_vehicle(CAR, seed=3, faults=faults, stock=True)
            _, omega, _ = vehicle.drum_pull()
            return np.diff(omega)

        sound, slipped = run({}), run({"strap_slip": 0.06})
        # Speed of a drum with its inertia cannot fall in a pull by more than its own noise.
        assert slipped.min() < 4 * sound.min()
        assert np.argmin(slipped) == pytest.approx(0.6 * len(slipped), abs=3)

    def test_an_older_firmware_and_somebody_s_tune_are_answered_as_they_are(self):
        def answered(**faults):
            vehicle = bench.yard_vehicle(CAR, seed=3, faults=faults, stock=True)
            return Tester(bench.DirectLine(vehicle)).identity(), vehicle

        works, plain = answered()
        older, _ = answered(old_firmware=1.0)
        tuned, other = answered(stacked_maps=1.0)
        assert float(older["firmware"]) == float(works["firmware"]) - 1.0
        assert tuned["calibration"] == works["calibration"] + "-S"
        assert tuned["map_sha256"] != works["map_sha256"]
        mixtures = []
        for vehicle in (plain, other):
            for _ in vehicle.drive([Leg("start", 4.0), Leg("pull", 4.0, gear=2, rpm=2500, to_rpm=5000.0)]):
                pass
            mixtures.append(vehicle.engine.mixture)
        assert mixtures[1] == pytest.approx(0.94 * mixtures[0], rel=0.02)


class TestBoxes:
    def test_a_level_adds_its_boost_and_the_stock_computer_sees_its_own_target(self):
        stock, box = log_of(TURBO), log_of(TURBO, box="kelmar/om16-levels", minutes=4.5)
        gained = np.percentile(at(box, "map"), 90) - np.percentile(at(stock, "map"), 90)
        assert 8 < gained < 30
        assert "lean_under_load" not in kinds(TURBO, box)

    def test_on_the_look_alike_sensor_it_is_the_fuel_that_is_fooled(self):
        wrong, right = (
            log_of(TURBO, box="kelmar/om16-levels", minutes=4.5, wrong_sensor=w) for w in (1.0, 0.0)
        )
        assert np.percentile(at(wrong, "map"), 90) < np.percentile(at(right, "map"), 90) - 8
        # It sees less air than there is, gives less fuel, and its trims have to put it back.
        added = [np.percentile(at(log, "stft_1") + at(log, "ltft_1"), 90) for log in (wrong, right)]
        assert added[0] > added[1] + 3

    def test_a_blend_box_carries_the_trims_where_the_stock_computer_is_lost(self):
        def trim(log):
            return float(np.median(at(log, "stft_1", "cruise") + at(log, "ltft_1", "cruise")))

        bare, box, wrong = (
            trim(log_of(TURBO, ethanol=0.5, box=name, **faults))
            for name, faults in (
                ("", {}),
                ("kelmar/om16-blend", {}),
                ("kelmar/om16-blend", {"wrong_side": 1.0}),
            )
        )
        assert bare > 12
        assert abs(box) < 8
        assert wrong == pytest.approx(bare, abs=2)

    def test_an_inline_box_fills_the_lean_hole(self):
        def leanest(log):
            share = at(log, "lambda", "cruise") / at(log, "lambda_target", "cruise")
            band = (at(log, "rpm", "cruise") > 4800) & (at(log, "rpm", "cruise") < 5600)
            return float(np.percentile(share[band], 80))

        free = from_json((ROOT / "demo/maps/brandrel/q660-plain.json").read_text())
        table = free.tables["fuel_trim.1"]
        band = (table.x > 4300) & (table.x < 6100)
        richer = free.with_table("fuel_trim.1", table.with_values(table.values + 11.0 * band[None, :]))
        before = drives.drive(BIKE, faults={}, minutes=4.0, calibration=free, seed=3)
        after = drives.drive(BIKE, faults={}, minutes=4.0, calibration=richer, seed=3)
        assert leanest(after) < leanest(before) - 0.04

    def test_a_driver_of_the_set_gives_the_diesel_more(self):
        stock, box = log_of(DIESEL), log_of(DIESEL, box="harrow/tp30-tow-driver")
        # By demand and speed alone, without a smoke limit: it is richest while boost still comes up.
        richest = [np.percentile(at(run, "lambda"), 25) for run in (box, stock)]
        assert richest[0] < richest[1] - 0.05


class TestBalances:
    @settings(max_examples=12, deadline=None)
    @given(
        st.sampled_from([CAR, TURBO, BLOWER, SLED, DIRECT, DUNE]),
        st.lists(st.tuples(st.floats(0.1, 0.95), st.floats(6.0, 100.0)), min_size=2, max_size=4),
    )
    def test_air_fuel_and_work_are_neither_made_nor_lost(self, key, stretches):
        spec, truth = built(key)
        engine = yard.stock_engine(truth, yard.stock_parts(key)[0], 86.0)
        driver = Driver(engine)
        for _ in driver.drive([Leg("start", 5.0), Leg("idle", 3.0)]):
            pass
        legs = [
            Leg(
                "hold",
                3.0,
                gear=1,
                rpm=truth.idle_rpm * 1.3 + share * (0.8 * truth.top_rpm - truth.idle_rpm * 1.3),
                pedal=pedal,
            )
            for share, pedal in stretches
        ]
        came, went, kept, injected, burnt = 0.0, 0.0, 0.0, 0.0, 0.0
        film = engine.feed.film
        area = spec.build.air
        work, stored = 0.0, 0.0
        for _ in driver.drive(legs):
            before = kept
            air = engine.air
            # What the throttle lets through, by the orifice's own law and not by the engine's step.
            ratio = air.manifold / air.charge
            open_share = max(air.throttle - 0.6, 0.05) / 99.4
            choked = (
                area.throttle_gs
                * open_share**1.42
                * air.charge
                / 101.325
                * sqrt(288.15 / (air.charge_c + 273.15))
            )
            s = (ratio - 0.528) / 0.472
            came += choked * (1.0 if s <= 0 else sqrt(max(0.0, 1 - s * s))) * DT
            went += air.flow * DT
            kept = air.manifold * 1000 * area.plenum_l / (287.05 * (air.charge_c + engine.soak + 273.15))
            stored += kept - before if before else 0.0
            injected += engine.feed.flow * DT
            burnt += engine.fuel_g * engine.feed.per_second * air.rpm * DT
            work += engine.torque
        assert came == pytest.approx(went + stored, rel=0.01)
        walls = truth.cylinders * (engine.feed.film - film)
        assert injected == pytest.approx(burnt + walls, rel=0.01)
        assert np.isfinite(work)
        assert 0 < injected * truth.fuel.stoichiometric * 0.5 < went

    def test_speed_follows_torque_over_inertia(self):
        _, truth = built(CAR)
        engine = yard.stock_engine(truth, yard.stock_parts(CAR)[0], 88.0)
        engine.gear, engine.drum_inertia, engine.rpm, engine.pedal = 1, 1.2, 1800.0, 100.0
        engine.step()
        began, work = engine.rpm, 0.0
        for _ in range(250):
            now = engine.rpm
            engine.step()
            work += engine.torque * 0.5 * (now + engine.rpm) * 2 * pi / 60 * DT
        # At the wheel: the driveline takes its share of what engine and flywheel give.
        work *= 1.0 - truth.build.body.loss
        inertia = truth.build.body.engine_inertia * (1.0 - truth.build.body.loss) + 1.2
        gained = 0.5 * inertia * ((engine.rpm * 2 * pi / 60) ** 2 - (began * 2 * pi / 60) ** 2)
        assert work == pytest.approx(gained, rel=0.01)
        assert engine.rpm > began + 1500


class TestCommands:
    def test_every_dialect_says_the_same_drive(self, tmp_path):
        log = log_of(TURBO, minutes=2.0)
        for dialect in drives.DIALECTS:
            back = read_log(drives.written(log, dialect).encode(), "drive.csv", altitude_m=1450.0)
            for name in ("rpm", "map", "lambda", "coolant"):
                assert np.nanmedian(back.filled(name)) == pytest.approx(
                    np.nanmedian(log.filled(name)), rel=0.02
                ), (dialect, name)

    def test_drive_lists_writes_and_refuses(self, capsys, tmp_path):
        call_command("drive", "--list")
        told = json.loads(capsys.readouterr().out)
        assert told["vehicles"] == KEYS
        assert len(KEYS) == 12
        assert set(told["faults"]) == set(FAULTS)
        out = tmp_path / "log.csv"
        call_command("drive", "--vehicle", SLED, "--minutes", "0.5", "--route", "cold", "--out", str(out))
        assert len(out.read_text().splitlines()) > 300
        for wrong in (
            ["--vehicle", "none"],
            ["--vehicle", CAR, "--fault", "rust=1"],
            ["--vehicle", CAR, "--fault", "air_leak=x"],
            ["--vehicle", CAR, "--route", "moon"],
            ["--vehicle", CAR, "--dialect", "x"],
            ["--vehicle", CAR, "--minutes", "0"],
        ):
            with pytest.raises(SystemExit) as ended:
                call_command("drive", *wrong, "--out", str(tmp_path / "no.csv"))
            assert ended.value.code == 2
            assert not (tmp_path / "no.csv").exists()

    @pytest.mark.parametrize("key", [BIKE, by_night(TURBO), by_night(SLED)])
    def test_a_rehearsal_brings_any_engine_to_its_target(self, key):
        rounds = rehearsal.rehearse(
            seed=2, ve_error=0.12, flow_error=0.05, dead_time_error_ms=0.05, rounds=3, vehicle_key=key
        )
        assert rounds[-1].within_3pct > max(0.88, rounds[0].within_3pct)

    def test_a_diesel_is_not_rehearsed(self):
        with pytest.raises(Exception, match="no mixture target"):
            rehearsal.rehearse(
                seed=1, ve_error=0.1, flow_error=0.0, dead_time_error_ms=0.0, rounds=1, vehicle_key=DIESEL
            )
