"""A whole pretend vehicle: engine, computer, driver, drum; run unwatched, or in true time on a CAN bus."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import can
import numpy as np

from ventmap.core.basics import RPM_PER_RAD_S, Floats
from ventmap.core.drum import Drum
from ventmap.link import wire
from ventmap.link.port import Port
from ventmap.link.wire import REQUEST_ID, RESPONSE_ID, exchange_seconds

from .computer import Computer
from .engine import DT, Engine
from .flashing import LinkDropped
from .memory import Memory
from .route import Driver, Leg, pull_route
from .truth import VehicleTruth

DRUM_INERTIA = 60.0  # kg·m² at the drum, with the vehicle's wheels and driveline
DRUM_RADIUS_M = 0.4
LOWEST_GEAR, OUTWEIGHS = 3, 6.0
DRUM_PARASITIC = (2.2, 0.03, 0.0004)
#: Where in a run straps give way, of its time.
STRAPS_GIVE = 0.6
DRUM_NOISE = 0.0009  # of drum speed, one standard deviation of a sample


class PretendVehicle:
    """Engine and computer behind a link.

    Parameters
    ----------
    truth : VehicleTruth
    memory : Memory
    coolant_c : float, optional
        Warm where given; cold-soaked where absent.
    remember : callable, optional
        Called when the computer's lasting memory has changed.
    """

    def __init__(
        self,
        truth: VehicleTruth,
        memory: Memory,
        coolant_c: float | None = None,
        remember: Callable[[], None] | None = None,
    ) -> None:
        self.truth, self.memory = truth, memory
        self.engine = Engine(truth, None, coolant_c)
        self.computer = Computer(self.engine, memory, truth.faults.interrupt_write_at, remember)
        self.engine.key = True
        self.lock = threading.RLock()

    def drive(self, legs: list[Leg], lifted: Callable[[], bool] = lambda: False) -> Iterator[Leg]:
        return Driver(self.engine).drive(legs, lifted)

    def stood(self, hours: float) -> None:
        """It was warm and stood for so long: an iron and water lump in moving air, a tenth left overnight."""
        engine = self.engine
        engine.coolant = engine.truth.ambient_c + 68.0 * float(np.exp(-hours / 2.3))

    def hears(self) -> list[str]:
        """Outputs that move now, as somebody who stands beside it sees and hears."""
        return sorted(self.computer.acting)

    def light(self, legs: list[Leg], seconds: float = 2.0) -> float:
        """What a timing light reads in the last `seconds` of a drive, to half a degree [° before top]."""
        engine, reads = self.engine, []
        for _ in self.drive(legs):
            reads.append(engine.command.spark - engine.late)
        mean = float(np.mean(reads[-round(seconds / DT) :]))
        return round(2.0 * (mean + engine.random.gauss(0.0, 0.15))) / 2.0

    @property
    def drum_gear(self) -> int:
        """The gear of a pull: the third, or the first above it in which the drum outweighs the engine's own
        inertia well; else what is wound up in the engine never reaches the drum.
        """
        body = self.truth.build.body
        for gear in range(min(LOWEST_GEAR, len(body.gears)), len(body.gears) + 1):
            ratio = body.gears[gear - 1] * DRUM_RADIUS_M / body.wheel_radius_m
            if DRUM_INERTIA / ratio**2 >= OUTWEIGHS * body.engine_inertia:
                return gear
        return len(body.gears)

    def drum_pull(self, gear: int | None = None, rate_hz: float = 50.0) -> tuple[Floats, Floats, Drum]:
        """One pull on the inertia drum: time [s], drum speed [rad/s], and the drum's figures."""
        truth, engine = self.truth, self.engine
        body = truth.build.body
        gear = gear or self.drum_gear
        # Wheel and drum touch: engine speed over drum speed.
        ratio = body.gears[gear - 1] * DRUM_RADIUS_M / body.wheel_radius_m
        a, b, c = DRUM_PARASITIC
        # What its own run-down told: the drum with all that turns with it in this gear.
        turning = body.engine_inertia * (1.0 - body.loss) * ratio**2
        drum = Drum(DRUM_INERTIA + turning, DRUM_PARASITIC, ratio)
        engine.drum_inertia = DRUM_INERTIA / ratio**2
        times, speeds, pulls = [], [], []
        every = max(1, round(1.0 / rate_hz / DT))
        for step, leg in enumerate(self.drive(pull_route(truth.top_rpm, gear, truth.idle_rpm))):
            omega = engine.rpm / RPM_PER_RAD_S / ratio
            if leg.kind == "pull":
                engine.load_torque = (a + b * omega + c * omega**2) / ratio
                if step % every == 0:
                    times.append(engine.time)
                    speeds.append(omega)
                    pulls.append(max(0.0, engine.torque))
        engine.drum_inertia, engine.load_torque, engine.gear, engine.pedal = None, 0.0, 0, 0.0
        noise = np.random.default_rng(engine.random.getrandbits(32))
        # A tyre slips or creeps on the drum where it is pulled hardest.
        share = np.array(pulls) / max(max(pulls), 1e-9)
        measured = np.array(speeds) * (1.0 - truth.faults.wheel_spin * share**4)
        # Straps that give way let the wheel climb the drum: from then on a turn of it is less of a turn.
        measured *= 1.0 - truth.faults.strap_slip * (np.linspace(0.0, 1.0, len(measured)) > STRAPS_GIVE)
        # A drum never repeats to the last newton: tyre heat and strap tension move each run by a little.
        drift = 1.0 + noise.normal(0, 0.0012)
        scatter = noise.normal(0, DRUM_NOISE, len(measured)) * measured.max()
        return np.array(times) - times[0], measured * drift + scatter, drum


class DirectLine:
    """The line to a pretend vehicle without a bus, for unwatched runs.

    Time is the vehicle's own: each exchange costs what it would on a real bus, and the vehicle runs on
    meanwhile.
    """

    def __init__(
        self,
        vehicle: PretendVehicle,
        driving: Iterator[Leg] | None = None,
        watch: Callable[[Engine], None] | None = None,
    ) -> None:
        self.vehicle, self.driving, self.watch = vehicle, driving, watch
        self.debt = 0.0
        self.ended = False

    def now(self) -> float:
        return self.vehicle.engine.time

    def advance(self, seconds: float) -> None:
        """Let the vehicle run on."""
        self.debt += seconds
        while self.debt >= DT:
            self.debt -= DT
            if self.driving is None:
                self.vehicle.engine.step()
            elif next(self.driving, None) is None:
                self.ended = True
                return
            if self.watch is not None:
                self.watch(self.vehicle.engine)

    def request(self, payload: bytes) -> bytes | None:
        for _ in range(wire.BUSY_TRIES):
            answer = self.vehicle.computer.handle(payload)
            self.advance(exchange_seconds(len(payload), len(answer or b"")) + self.vehicle.computer.busy_s)
            if not wire.is_busy(answer):
                break
            self.advance(wire.BUSY_WAIT_S)
        return answer

    def close(self) -> None:
        """Nothing to release."""


@dataclass
class Pace:
    """How fast a watched vehicle runs: 1 is true time."""

    factor: float = 1.0


class BusVehicle:
    """A pretend vehicle in true time at the far end of a virtual CAN bus."""

    def __init__(
        self,
        vehicle: PretendVehicle,
        channel: str,
        driving: Iterator[Leg] | None = None,
        pace: Pace | None = None,
    ) -> None:
        self.vehicle, self.channel, self.driving = vehicle, channel, driving
        self.pace = pace or Pace()
        self.ended = threading.Event()
        self._stop = threading.Event()
        self.port = Port(can.Bus(interface="virtual", channel=channel), RESPONSE_ID, REQUEST_ID)
        self._threads = [threading.Thread(target=target, daemon=True) for target in (self._answer, self._run)]

    def __enter__(self) -> BusVehicle:
        for thread in self._threads:
            thread.start()
        return self

    def __exit__(self, *exc: object) -> None:
        self._stop.set()
        for thread in self._threads:
            thread.join(timeout=2.0)
        self.port.close()

    def _answer(self) -> None:
        while not self._stop.is_set():
            request = self.port.receive(0.05)
            if request is None:
                continue
            try:
                with self.vehicle.lock:
                    answer = self.vehicle.computer.handle(request)
            except LinkDropped:
                return
            if self.vehicle.computer.busy_s > 0.05:
                # ISO 14229: response pending, so that the tester keeps waiting.
                self.port.send(bytes([0x7F, request[0], 0x78]))
                self._stop.wait(self.vehicle.computer.busy_s)
            if answer is not None:
                self.port.send(answer)

    def _run(self) -> None:
        began, engine_began = time.monotonic(), self.vehicle.engine.time
        while not self._stop.wait(0.01):
            due = engine_began + (time.monotonic() - began) * self.pace.factor
            with self.vehicle.lock:
                while self.vehicle.engine.time < due:
                    if self.driving is None:
                        self.vehicle.engine.step()
                    elif next(self.driving, None) is None:
                        self.ended.set()
                        return
