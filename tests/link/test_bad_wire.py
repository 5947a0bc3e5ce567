"""A tester on a bad wire: frames lost, late, doubled, out of order; and a real vehicle that is only read."""

from __future__ import annotations

import heapq
import itertools
import random
import time

import can
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.link.test_protocol import car
from ventmap.core.basics import VentMapError
from ventmap.link import wire
from ventmap.link.reading import read_vehicle
from ventmap.link.tester import Tester
from ventmap.link.transport import BusLine, LinkLost, ReadOnly, open_bus
from ventmap.standin.faults import Faults
from ventmap.standin.vehicle import BusVehicle, DirectLine

_names = itertools.count()


class BadWire:
    """A bus whose frames are lost, doubled, late or out of order, by the seed."""

    def __init__(self, channel: str, seed: int, lost: float, doubled: float, late: float) -> None:
        self.bus = can.Bus(interface="virtual", channel=channel)
        self.random = random.Random(seed)
        self.lost, self.doubled, self.late = lost, doubled, late
        self.waiting: list[tuple[float, int, can.Message]] = []
        self.count = itertools.count()

    def send(self, message: can.Message) -> None:
        if self.random.random() >= self.lost:
            self.bus.send(message)
            if self.random.random() < self.doubled:
                self.bus.send(message)

    def recv(self, timeout: float) -> can.Message | None:
        until = time.monotonic() + timeout
        while True:
            while (message := self.bus.recv(0)) is not None:
                if self.random.random() < self.lost:
                    continue
                held = self.random.uniform(0.01, 0.25) if self.random.random() < self.late else 0.0
                for _ in range(1 + (self.random.random() < self.doubled)):
                    heapq.heappush(self.waiting, (time.monotonic() + held, next(self.count), message))
            if self.waiting and self.waiting[0][0] <= time.monotonic():
                return heapq.heappop(self.waiting)[2]
            if time.monotonic() >= until:
                return None
            self.waiting and heapq.heapify(self.waiting)
            message = self.bus.recv(0.002)
            if message is not None:
                heapq.heappush(self.waiting, (time.monotonic(), next(self.count), message))

    def shutdown(self) -> None:
        self.bus.shutdown()


@settings(max_examples=12, deadline=None)
@given(
    seed=st.integers(0, 2**20),
    lost=st.sampled_from([0.0, 0.02, 0.1]),
    doubled=st.sampled_from([0.0, 0.1]),
    late=st.sampled_from([0.0, 0.1]),
    slow=st.sampled_from([0.0, 0.3, 0.6]),
)
def test_an_answer_is_the_right_one_or_none(seed, lost, doubled, late, slow):
    """A computer that is busy, or asks for time, on a wire that loses, doubles and holds back frames."""
    vehicle, channel = car(Faults(slow_computer=slow)), f"bad-{next(_names)}"
    with BusVehicle(vehicle, channel):
        # On a sound wire a busy machine is waited for; on a bad one what is lost is lost.
        patience = 0.12 if lost or doubled or late else 10.0
        line = BusLine(channel, patience_s=patience, bus=BadWire(channel, seed, lost, doubled, late))
        try:
            for request, whole in (
                (bytes([0x22, 0xF1, 0x90]), b"\x62\xf1\x90" + b"CVE2TWA06GS104417".ljust(32)),
                (bytes([0x22, 0xF1, 0x91]), b"\x62\xf1\x91" + b"FW-P4".ljust(32)),
                (b"\x03", b"\x43\x01\x01\x13"),
                (bytes([0x09, 0x02]), b"\x49\x02\x01CVE2TWA06GS104417"),
                (b"\x07", b"\x47\x01\xc1\x01"),
            ):
                answer = line.request(request)
                assert answer is None or answer == whole, (request.hex(), answer)
                assert answer is not None or lost or doubled or late
        finally:
            line.close()


def test_a_busy_computer_is_asked_again_unwatched_too():
    line = DirectLine(car(Faults(slow_computer=0.5)))
    answers = [line.request(bytes([0x22, 0xF1, 0x91])) for _ in range(40)]
    assert {answer[:3] for answer in answers} == {b"\x62\xf1\x91"}
    assert line.now() > 10 * wire.BUSY_WAIT_S, "waiting costs the vehicle's time"


def test_a_late_answer_is_not_taken_for_the_next():
    asked = bytes([0x22, 0xF1, 0x90])
    assert wire.answers(asked, b"\x62\xf1\x90VIN")
    assert wire.answers(asked, b"\x7f\x22\x31")
    for other in (b"\x62\xf1\x91FW", b"\x43\x00", b"\x7f\x03\x11", b"", b"\x7f"):
        assert not wire.answers(asked, other)


def test_a_wrong_key_stays_outside():
    computer = car().computer
    computer.handle(bytes([0x10, 2]))
    seed = computer.handle(bytes([0x27, 1]))[2:]
    wrong = bytes(b ^ 0x5A for b in wire.security_key(seed))
    assert computer.handle(bytes([0x27, 2]) + wrong) == bytes([0x7F, 0x27, 0x35])
    assert computer.handle(bytes([0x31, 1, 0xFF, 0x00])) == bytes([0x7F, 0x31, 0x33])


class TestARealVehicle:
    """The same line as `VENTMAP_CAN` opens it: what reads passes, what changes anything does not."""

    @pytest.fixture
    def line(self):
        channel = f"real-{next(_names)}"
        vehicle = car()
        vehicle.memory.flash[:4] = b"mine"
        before = vehicle.memory.to_document()
        with BusVehicle(vehicle, channel):
            line = open_bus(f"virtual:{channel}")
            yield line
            line.close()
        assert vehicle.memory.to_document() == before

    def test_is_read(self, line):
        found = read_vehicle(line)
        assert found["vin"] == "CVE2TWA06GS104417"
        assert found["live"]["battery"][0] == pytest.approx(12.66, abs=0.1)
        assert found["codes"] == [
            {"code": "P0113", "status": "stored"},
            {"code": "U0101", "status": "pending"},
        ]
        assert found["live"]["barometer"] == (85.0, "kPa")
        assert found["live"]["engine speed"] == (0.0, "rpm")

    @pytest.mark.parametrize("service", sorted(set(range(0x01, 0x40)) - wire.READS))
    def test_is_never_written(self, line, service):
        with pytest.raises(ReadOnly, match="reads only"):
            line.request(bytes([service, 0x01, 0xFF, 0x00]))

    def test_is_not_cleared_by_the_tester_either(self, line):
        for act in (Tester(line).clear_codes, Tester(line).learn_pedal):
            with pytest.raises(VentMapError, match="reads only"):
                act()

    @pytest.mark.parametrize("where", ["", "can0", "socketcan:", "nonsense:can0", "socketcan:no-such-bus"])
    def test_that_is_not_there_is_said(self, where):
        with pytest.raises(LinkLost, match="CAN interface"):
            open_bus(where)
