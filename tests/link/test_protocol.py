"""Tester, loader and logger against the stand-in, over the real protocol stack on a virtual CAN bus."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from ventmap.core.drum import reduce_pull
from ventmap.core.findings import review
from ventmap.core.forms import from_image
from ventmap.link import wire
from ventmap.link.loader import LoadStopped, read_image, write_image
from ventmap.link.logger import capture, plan_for, to_log
from ventmap.link.tester import Tester, unpack_code
from ventmap.link.transport import BusLine, LinkLost
from ventmap.standin import garage
from ventmap.standin.answers import pack_code
from ventmap.standin.memory import Memory
from ventmap.standin.route import fuel_route
from ventmap.standin.truth import Faults, VehicleTruth, smooth_field
from ventmap.standin.vehicle import BusVehicle, DirectLine, PretendVehicle

_names = itertools.count()


def car(faults: Faults | None = None, warm: bool = True, **identity: str) -> PretendVehicle:
    truth = VehicleTruth(
        "VIN",
        1998,
        cylinders=4,
        filling=garage.filling(),
        injector_flow=440,
        injector_rated_kpa=300,
        dead_time=garage.dead_time(0.62),
        seed=4,
        faults=faults or Faults(),
    )
    memory = Memory(
        {"vin": "CVE2TWA06GS104417", "computer": "FW-P4", "calibration": "", "firmware": "2.1", **identity},
        codes=["P0113"],
        pending=["U0101"],
    )
    return PretendVehicle(truth, memory, coolant_c=86.0 if warm else None)


def loaded(base_map, faults: Faults | None = None) -> PretendVehicle:
    vehicle = car(faults)
    tester = Tester(DirectLine(vehicle))
    assert [p.phase for p in write_image(tester, base_map.image(wire.FLASH_SIZE))][-1] == "done"
    tester.ask("ecu_reset", 1)
    return vehicle


@pytest.fixture
def bus():
    """A cold vehicle on a bus of its own, and a tester at the other end."""
    vehicle, channel = car(), f"test-{next(_names)}"
    with BusVehicle(vehicle, channel):
        line = BusLine(channel)
        yield vehicle, Tester(line)
        line.close()


def test_over_the_bus_identity_codes_write_and_live_values(bus, base_map):
    vehicle, tester = bus
    assert tester.identity()["vin"] == "CVE2TWA06GS104417"
    assert [(c.code, c.status) for c in tester.codes()] == [("P0113", "stored"), ("U0101", "pending")]
    image = base_map.image(16_384)
    seen = list(write_image(tester, image))
    assert [phase for phase, _ in itertools.groupby(p.phase for p in seen)] == [
        "erase",
        "write",
        "read back",
        "check",
        "done",
    ]
    tester.ask("ecu_reset", 1)
    assert tester.identity()["map_sha256"]
    assert vehicle.engine.runtime is not None
    back = next(item for item in read_image(tester, len(image)) if isinstance(item, bytes))
    assert back == image
    assert from_image(back).scalars["injector_flow"] == 440
    tester.clear_codes()
    assert tester.codes() == []
    at, row = next(capture(tester, plan_for(["rpm", "map", "coolant"])))
    assert row["rpm"] == 0
    assert row["map"] == pytest.approx(85.1, abs=1.5)
    assert row["coolant"] == pytest.approx(86, abs=1)
    assert tester.learn_pedal() == ((0.64, 2.325, 4.01), (0.322, 1.166, 2.009))


def test_writing_needs_its_session_and_key():
    computer = car().computer
    erase = bytes([0x31, 1, 0xFF, 0x00])
    assert computer.handle(erase) == bytes([0x7F, 0x31, 0x7F])
    computer.handle(bytes([0x10, 2]))
    assert computer.handle(erase) == bytes([0x7F, 0x31, 0x33])
    computer.handle(bytes([0x27, 1]))
    assert computer.handle(bytes([0x27, 2, 0, 0, 0, 0])) == bytes([0x7F, 0x27, 0x35])
    assert computer.handle(b"\xbb\x00") == bytes([0x7F, 0xBB, 0x11])


@pytest.mark.parametrize("asked", [5, 40], ids=["in the blocks", "in the read-back"])
def test_a_stopped_write_leaves_no_map_and_a_second_one_heals_it(base_map, asked):
    vehicle = loaded(base_map)
    tester = Tester(DirectLine(vehicle))
    times = itertools.count()
    with pytest.raises(LoadStopped):
        list(write_image(tester, base_map.image(wire.FLASH_SIZE), lambda: next(times) > asked))
    vehicle.computer.power(False)
    vehicle.computer.power(True)
    assert vehicle.engine.runtime is None
    assert not vehicle.memory.whole
    again = Memory.from_document(vehicle.memory.to_document())
    assert not again.whole, "a power cut does not make it whole"
    list(write_image(tester, base_map.image(wire.FLASH_SIZE)))
    assert vehicle.memory.whole


def test_a_wrong_byte_in_flash_is_never_a_success(base_map):
    vehicle = car()
    tester = Tester(DirectLine(vehicle))

    def spoil():
        for progress in write_image(tester, base_map.image(8192)):
            if progress.phase == "write" and progress.done == 8192:
                vehicle.memory.flash[100] ^= 0x40
            yield progress

    with pytest.raises(LinkLost, match="differs in 1 bytes"):
        list(spoil())
    assert not vehicle.memory.whole


def test_the_interrupting_fault_cuts_once(base_map):
    from ventmap.standin.flashing import LinkDropped

    vehicle = car(Faults(interrupt_write_at=0.5))
    tester = Tester(DirectLine(vehicle))
    with pytest.raises(LinkDropped):
        list(write_image(tester, base_map.image(wire.FLASH_SIZE)))
    assert not vehicle.memory.whole
    list(write_image(tester, base_map.image(wire.FLASH_SIZE)))
    assert vehicle.memory.whole


def test_silence_is_told_as_a_lost_link():
    vehicle = car()
    vehicle.computer.power(False)
    with pytest.raises(LinkLost, match="does not answer"):
        Tester(DirectLine(vehicle)).identity()


@pytest.mark.parametrize("code", ["P0113", "C1201", "B2799", "U0101", "P3FFF"])
def test_codes_survive_the_wire(code):
    assert unpack_code(pack_code(code)) == code


@pytest.mark.parametrize("value", wire.LIVE.values(), ids=lambda value: value.name)
def test_live_values_survive_the_wire(value):
    for number in (0.0, 1.0, 3.21) + ((-3.21,) if value.signed else ()):
        assert value.unpack(value.pack(number)) == pytest.approx(number, abs=value.scale)


def driven(vehicle: PretendVehicle):
    line = DirectLine(vehicle, vehicle.drive(fuel_route(vehicle.truth.top_rpm)))
    rows = []
    for row in capture(Tester(line), plan_for()):
        rows.append(row)
        if line.ended:
            break
    return to_log(rows, "drive")


class TestTruth:
    """Inject a fault, expect it; inject none, expect silence."""

    def test_a_sound_vehicle_with_a_true_map_is_silent(self, base_map):
        log = driven(loaded(base_map))
        assert log.rate_hz == pytest.approx(20, abs=0.5)
        assert review(log).findings == ()
        warm = log.channels["lambda_target"] < 0.9
        assert np.nanmedian((log.channels["lambda"] / log.channels["lambda_target"])[warm]) == pytest.approx(
            1.0, abs=0.01
        )

    @pytest.mark.parametrize(
        ("faults", "kind"),
        [
            (Faults(flow_error=-0.10), "trim_offset"),
            (Faults(air_leak=7.0), "idle_high_air"),
            (Faults(weak_pump=0.5), "fuel_pressure_drop"),
            (Faults(slow_battery=1.5), "voltage_low"),
            (Faults(poor_fuel=14.0), "knock"),
        ],
    )
    def test_faults_show_in_the_log(self, base_map, faults, kind):
        assert kind in {f.kind for f in review(driven(loaded(base_map, faults))).findings}

    def test_a_dead_time_error_is_large_at_idle_and_small_at_load(self, base_map):
        log = driven(loaded(base_map, Faults(dead_time_error_ms=0.2)))
        idle = (log.channels["rpm"] < 1000) & (log.time_s > 20) & (log.time_s < 27)
        trim = float(np.nanmedian(log.filled("stft_1")[idle] + log.filled("ltft_1")[idle]))
        pull = (log.channels["pedal"] > 95) & (log.channels["rpm"] > 3000)
        lean = 100 * float(np.nanmedian((log.channels["lambda"] / log.channels["lambda_target"])[pull]) - 1)
        assert trim > 2.5 * lean > 4

    def test_the_field_is_smooth_seeded_and_peaks_at_one(self):
        table = garage.filling()
        field = smooth_field(table.x, table.y, 9)
        assert np.abs(field).max() == pytest.approx(1.0)
        assert np.array_equal(field, smooth_field(table.x, table.y, 9))
        assert np.abs(np.diff(field, axis=0)).max() < 0.6

    def test_drum_pulls_repeat_within_scatter_and_follow_torque(self, base_map):
        vehicle = loaded(base_map)
        curves = [reduce_pull(*vehicle.drum_pull()) for _ in range(3)]
        peaks = [curve.peak_power[0] for curve in curves]
        assert 65 < min(peaks) < max(peaks) < 95
        assert np.std(peaks) / np.mean(peaks) < 0.02
