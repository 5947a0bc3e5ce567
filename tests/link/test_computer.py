"""The pretend computer by the letter of its standards: services, refusals, scalings, and whatever a stray
tool may send.
"""

from __future__ import annotations

import zlib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.link.test_protocol import car, loaded
from ventmap.link import wire

READ, SESSION, KEY, ROUTINE, DOWNLOAD, UPLOAD, DATA, EXIT = 0x22, 0x10, 0x27, 0x31, 0x34, 0x35, 0x36, 0x37


@pytest.fixture
def computer():
    return car().computer


def refused(answer: bytes, service: int, code: int) -> bool:
    return answer == bytes([0x7F, service, code])


def unlock(computer, session: int = wire.PROGRAMMING_SESSION) -> None:
    computer.handle(bytes([SESSION, session]))
    seed = computer.handle(bytes([KEY, 1]))[2:]
    assert computer.handle(bytes([KEY, 2]) + wire.security_key(seed)) == bytes([0x67, 2])


def span(size: int, address: int = wire.FLASH_ADDRESS) -> bytes:
    return bytes([0x00, 0x44]) + address.to_bytes(4, "big") + size.to_bytes(4, "big")


def routine(number: int, more: bytes = b"") -> bytes:
    return bytes([ROUTINE, 1]) + number.to_bytes(2, "big") + more


@settings(max_examples=300)
@given(st.binary(min_size=1, max_size=24))
def test_whatever_is_sent_is_answered_or_refused_by_the_standard(request_):
    computer = car().computer
    answer = computer.handle(request_)
    assert (
        answer is None
        or answer[0] == request_[0] + 0x40
        or (answer[0] == 0x7F and answer[1] == request_[0] and len(answer) == 3)
    )


@settings(max_examples=150)
@given(
    st.sampled_from(
        [0x10, 0x11, 0x14, 0x19, 0x22, 0x27, 0x31, 0x34, 0x35, 0x36, 0x37, 0x3E, 0x01, 0x03, 0x04, 0x07, 0x09]
    ),
    st.binary(max_size=14),
)
def test_known_services_with_any_content_never_fault(service, content):
    computer = car().computer
    unlock(computer)
    answer = computer.handle(bytes([service]) + content)
    assert answer is None or answer[0] in (service + 0x40, 0x7F)


class TestSessionsAndKeys:
    def test_a_write_needs_session_then_key(self, computer):
        assert refused(computer.handle(routine(wire.ROUTINE_ERASE)), ROUTINE, 0x7F)
        computer.handle(bytes([SESSION, wire.PROGRAMMING_SESSION]))
        assert refused(computer.handle(routine(wire.ROUTINE_ERASE)), ROUTINE, 0x33)
        assert refused(computer.handle(bytes([DOWNLOAD]) + span(64)), DOWNLOAD, 0x33)
        computer.handle(bytes([KEY, 1]))
        assert refused(computer.handle(bytes([KEY, 2, 0, 0, 0, 0])), KEY, 0x35)

    def test_a_new_session_or_a_reset_locks_again(self, computer):
        for again in (bytes([SESSION, wire.PROGRAMMING_SESSION]), bytes([0x11, 1])):
            unlock(computer)
            computer.handle(again)
            assert computer.handle(routine(wire.ROUTINE_ERASE))[0] == 0x7F

    def test_a_running_engine_refuses_the_programming_session(self, base_map):
        vehicle = loaded(base_map)
        vehicle.engine.rpm = 900.0
        assert refused(vehicle.computer.handle(bytes([SESSION, wire.PROGRAMMING_SESSION])), SESSION, 0x22)

    def test_ignition_off_is_silence(self, computer):
        computer.power(False)
        assert computer.handle(bytes([0x3E, 0])) is None
        computer.power(True)
        assert computer.handle(bytes([0x3E, 0])) == bytes([0x7E, 0])
        assert computer.handle(bytes([0x3E, 0x80])) is None


class TestTransfer:
    def test_blocks_are_counted_and_bounded(self, computer):
        unlock(computer)
        computer.handle(routine(wire.ROUTINE_ERASE))
        assert refused(computer.handle(bytes([DATA, 1, 7])), DATA, 0x24)
        assert computer.handle(bytes([DOWNLOAD]) + span(10))[:2] == bytes([0x74, 0x20])
        assert refused(computer.handle(bytes([DATA, 2]) + bytes(4)), DATA, 0x73)
        assert computer.handle(bytes([DATA, 1]) + bytes(8)) == bytes([0x76, 1])
        assert refused(computer.handle(bytes([DATA, 2]) + bytes(8)), DATA, 0x31), "more than was announced"
        assert computer.handle(bytes([EXIT])) == b"\x77"
        assert refused(computer.handle(bytes([EXIT])), EXIT, 0x24)

    @pytest.mark.parametrize(
        "where", [span(0), span(wire.FLASH_SIZE + 1), span(64, wire.FLASH_ADDRESS - 1), span(64, 0)]
    )
    def test_addresses_outside_the_flash_are_refused(self, computer, where):
        unlock(computer)
        assert refused(computer.handle(bytes([DOWNLOAD]) + where), DOWNLOAD, 0x31)

    def test_the_checksum_alone_makes_a_map_whole(self, computer, base_map):
        unlock(computer)
        image = (
            base_map.image(4 * wire.BLOCK)
            if len(base_map.image()) <= 4 * wire.BLOCK
            else base_map.image(wire.FLASH_SIZE)
        )
        computer.handle(routine(wire.ROUTINE_ERASE))
        assert not computer.memory.whole
        assert computer.engine.runtime is None
        computer.handle(bytes([DOWNLOAD]) + span(len(image)))
        for number in range(0, len(image), wire.BLOCK):
            computer.handle(
                bytes([DATA, (number // wire.BLOCK + 1) & 0xFF]) + image[number : number + wire.BLOCK]
            )
        computer.handle(bytes([EXIT]))
        size = len(image).to_bytes(4, "big")
        wrong = (zlib.crc32(image) ^ 1).to_bytes(4, "big")
        assert refused(computer.handle(routine(wire.ROUTINE_CHECKSUM, size + wrong)), ROUTINE, 0x72)
        assert not computer.memory.whole
        assert (
            computer.handle(routine(wire.ROUTINE_CHECKSUM, size + zlib.crc32(image).to_bytes(4, "big")))[0]
            == 0x71
        )
        assert computer.memory.whole

    def test_reading_out_needs_no_key_and_returns_what_lies_there(self, computer):
        computer.memory.flash[:4] = b"map!"
        assert refused(computer.handle(bytes([UPLOAD]) + span(4)), UPLOAD, 0x7F)
        computer.handle(bytes([SESSION, wire.EXTENDED_SESSION]))
        computer.handle(bytes([UPLOAD]) + span(4))
        assert computer.handle(bytes([DATA, 1])) == bytes([0x76, 1]) + b"map!"


class TestLegislatedReads:
    def ask(self, computer, parameter: int) -> bytes:
        answer = computer.handle(bytes([0x01, parameter]))
        assert answer[:2] == bytes([0x41, parameter])
        return answer[2:]

    def test_scalings_of_sae_j1979(self, base_map):
        vehicle = loaded(base_map)
        engine, computer = vehicle.engine, vehicle.computer
        engine.rpm, engine.coolant, engine.volts = 2345.5, 88.0, 14.05
        assert int.from_bytes(self.ask(computer, 0x0C), "big") / 4 == pytest.approx(2345.5)
        assert self.ask(computer, 0x05)[0] - 40 == 88
        assert self.ask(computer, 0x0F)[0] == int(engine.intake + 40)
        assert int.from_bytes(self.ask(computer, 0x42), "big") / 1000 == pytest.approx(14.05)
        assert self.ask(computer, 0x33)[0] == int(vehicle.truth.barometer_kpa)

    def test_the_list_of_parameters_is_true(self, computer):
        for base in (0x00, 0x20, 0x40):
            listed = int.from_bytes(self.ask(computer, base), "big")
            for parameter in range(base + 1, base + 0x21):
                there = computer.handle(bytes([0x01, parameter]))[0] == 0x41
                assert there == bool(listed >> (32 - parameter + base) & 1), f"parameter {parameter:#04x}"

    def test_vehicle_information_and_codes(self, computer):
        assert computer.handle(bytes([0x09, 0x02]))[3:] == b"CVE2TWA06GS104417"
        assert computer.handle(b"\x03\x00") == bytes([0x43, 1, 0x01, 0x13])
        assert computer.handle(b"\x07\x00")[:2] == bytes([0x47, 1])
        assert computer.handle(b"\x04") == b"\x44"
        assert computer.handle(b"\x03\x00") == bytes([0x43, 0])


@given(st.sampled_from(sorted(wire.LIVE)), st.floats(-500, 2000))
def test_live_values_keep_their_scale_on_the_wire_and_saturate_at_its_ends(name, value):
    live = wire.LIVE[name]
    low, high = (
        live.unpack(edge)
        for edge in ((b"\x80\x00", b"\x7f\xff") if live.signed else (b"\x00\x00", b"\xff\xff"))
    )
    back = live.unpack(live.pack(value))
    assert back == pytest.approx(min(max(value, low), high), abs=live.scale / 2 + 1e-9)


def test_a_longer_exchange_costs_more_of_the_bus():
    single, many = wire.exchange_seconds(3, 5), wire.exchange_seconds(17, 33)
    assert wire.COMPUTER_LATENCY_S < single < many < 0.02
    assert wire.exchange_seconds(wire.BLOCK + 2, 2) > 250 * wire.FRAME_BITS / wire.BITRATE
