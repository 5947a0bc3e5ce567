"""The pretend vehicle's computer: answers diagnostic requests by ISO 14229 and SAE J1979."""

from __future__ import annotations

import random
from collections.abc import Callable

from ventmap.core.basics import CalibrationError
from ventmap.link import wire

from . import answers as refuse
from . import legislated
from .actuators import FIGURES, control, figure_of, set_figure
from .answers import Negative, pack_code, pack_pedal, pack_throttle
from .engine import Engine
from .flashing import Flashing, Transfer
from .harm import is_dead
from .memory import TRIGGER_DEG, Memory
from .programs import program_of
from .runtime import Runtime


class Computer(Flashing):
    """Diagnostic services over an engine and its memory.

    Parameters
    ----------
    engine : Engine
    memory : Memory
    interrupt_at : float
        Share of the first write after which the link is lost once; 0 is never.
    remember : callable, optional
        Called whenever memory that survives a power cut has changed.
    """

    def __init__(
        self,
        engine: Engine,
        memory: Memory,
        interrupt_at: float = 0.0,
        remember: Callable[[], None] | None = None,
    ) -> None:
        self.engine, self.memory, self.interrupt_at = engine, memory, interrupt_at
        self.remember = remember or (lambda: None)
        self.session = wire.DEFAULT_SESSION
        self.unlocked = False
        self.seed = b""
        self.transfer: Transfer | None = None
        self.block = 0
        self.busy_s = 0.0  # time that the last request took in the computer itself
        self.random = random.Random(engine.truth.seed)
        self.powered = True
        self.acting: set[str] = set()  # what moves at the vehicle because it was driven
        self.boot()

    def boot(self) -> None:
        """Start the program from flash, as at power-up."""
        self.session, self.unlocked, self.transfer = wire.DEFAULT_SESSION, False, None
        try:
            if not (self.memory.whole and self.memory.firmware_whole):
                raise CalibrationError("not whole")
            program, calibration, digest = program_of(
                bytes(self.memory.flash),
                self.engine.truth,
                computer="stock" if self.memory.stock else "kit",
                learned=self.memory.learned,
            )
            if isinstance(program, Runtime):
                program.global_trim = self.memory.global_trim
                self.engine.heat.fan_by(program.calibration.scalars)
            self.engine.offset_off = self.memory.trigger_offset - TRIGGER_DEG
            self.engine.runtime = program
            self.memory.identity["calibration"] = calibration
            self.memory.identity["map_sha256"] = digest[:16]
        except CalibrationError:
            self.engine.runtime = None
            self.memory.identity["map_sha256"] = ""

    def power(self, on: bool) -> None:
        """Ignition switch."""
        if on and not self.powered:
            self.boot()
        if not on and self.engine.runtime is not None:
            self.memory.learned = self.engine.runtime.long
            self.remember()
        self.powered = self.engine.key = on

    def handle(self, request: bytes) -> bytes | None:
        """Answer one request; None where nothing is answered (ignition off, or tester present kept quiet)."""
        self.busy_s = 0.0
        if not self.powered or not request or is_dead(self.engine, self.memory):
            return None
        service = request[0]
        action = _SERVICES.get(service)
        if action is None:
            return bytes([0x7F, service, refuse.NOT_SUPPORTED])
        if len(request) < _LEAST.get(service, 1):
            return bytes([0x7F, service, refuse.WRONG_FORMAT])
        slow = self.engine.truth.faults.slow_computer
        if slow and self.random.random() < slow:
            if self.random.random() < 0.5:
                return bytes([0x7F, service, wire.BUSY])
            self.busy_s = 0.06
        try:
            return action(self, request)
        except Negative as negative:
            return bytes([0x7F, service, negative.code])

    # -- ISO 14229 ------------------------------------------------------------------------------------

    def _session(self, request: bytes) -> bytes:
        if request[1] not in (1, 2, 3):
            raise Negative(refuse.OUT_OF_RANGE)
        if request[1] == wire.PROGRAMMING_SESSION and self.engine.rpm > 50:
            raise Negative(refuse.CONDITIONS)
        self.session, self.unlocked = request[1], False
        return bytes([0x50, request[1], 0x00, 0x32, 0x01, 0xF4])

    def _reset(self, request: bytes) -> bytes:
        self.boot()
        return bytes([0x51, request[1]])

    def _security(self, request: bytes) -> bytes:
        if self.session == wire.DEFAULT_SESSION:
            raise Negative(refuse.NOT_IN_SESSION)
        if request[1] == wire.SECURITY_LEVEL:
            self.seed = self.engine.random.randbytes(4)
            return bytes([0x67, request[1]]) + self.seed
        if request[2:] != wire.security_key(self.seed):
            raise Negative(refuse.BAD_KEY)
        self.unlocked = True
        return bytes([0x67, request[1]])

    def _present(self, request: bytes) -> bytes | None:
        return None if request[1] & 0x80 else bytes([0x7E, 0x00])

    def _identity(self, name: str) -> str:
        said = self.memory.identity.get(name, "")
        # Firmware that was written here is the version that its file states.
        older = 0.0 if "old_firmware" in self.memory.faults_spent else self.engine.truth.faults.old_firmware
        return f"{max(0.0, float(said) - older):.1f}" if name == "firmware" and older and said else said

    def _read(self, request: bytes) -> bytes:
        if len(request) < 3 or len(request) % 2 == 0 or len(request) > 1 + 2 * wire.MOST_PER_REQUEST:
            raise Negative(refuse.WRONG_FORMAT)
        answer = bytearray([0x62])
        for at in range(1, len(request), 2):
            did = int.from_bytes(request[at : at + 2], "big")
            answer += request[at : at + 2]
            if (value := wire.LIVE_BY_DID.get(did)) is not None:
                read = self.engine.live(value.name)
                if read is None:  # no such probe on this engine
                    raise Negative(refuse.OUT_OF_RANGE)
                answer += value.pack(read)
            elif did in FIGURES:
                answer += figure_of(self.memory, did).to_bytes(2, "big", signed=True)
            elif did in wire.IDENTITY_BY_DID:
                answer += self._identity(wire.IDENTITY_BY_DID[did]).ljust(32)[:32].encode()
            else:
                raise Negative(refuse.OUT_OF_RANGE)
        return bytes(answer)

    def _set(self, request: bytes) -> bytes:
        if self.session == wire.DEFAULT_SESSION:
            raise Negative(refuse.NOT_IN_SESSION)
        set_figure(self.engine, self.memory, request)
        if int.from_bytes(request[1:3], "big") == wire.DID_SLOT:
            self.boot()
            self.session = wire.EXTENDED_SESSION
        self.remember()
        return b"\x6e" + request[1:3]

    def _output(self, request: bytes) -> bytes:
        if self.session == wire.DEFAULT_SESSION:
            raise Negative(refuse.NOT_IN_SESSION)
        return control(self.engine, self.acting, request)

    def _codes(self, request: bytes) -> bytes:
        if request[1] != 0x02:
            raise Negative(refuse.OUT_OF_RANGE)
        self._noticed()
        answer = bytearray([0x59, 0x02, 0xFF])
        for code, status in [(c, 0x2F) for c in self.memory.codes] + [(c, 0x24) for c in self.memory.pending]:
            answer += pack_code(code) + bytes([0x00, status])
        return bytes(answer)

    def _noticed(self) -> None:
        """What the computer found of itself while the engine ran stays in its memory."""
        new = [code for code in self.engine.watch.codes if code not in self.memory.codes]
        if new:
            self.memory.codes += new
            self.remember()

    def _clear(self, request: bytes) -> bytes:
        self.engine.watch.codes.clear()
        self.memory.codes.clear()
        self.memory.pending.clear()
        self.remember()
        return b"\x54"

    def _routine(self, request: bytes) -> bytes:
        routine = int.from_bytes(request[2:4], "big")
        if routine == wire.ROUTINE_LEARN_PEDAL:
            self.memory.pedal_learned = True
            self.remember()
            return bytes([0x71, request[1]]) + request[2:4] + pack_pedal(self.engine.truth.faults.pedal_track)
        if routine == wire.ROUTINE_LEARN_THROTTLE:
            worn = self.engine.truth.faults.throttle_track
            return bytes([0x71, request[1]]) + request[2:4] + pack_throttle(worn)
        if routine == wire.ROUTINE_LOCK_SPARK:
            held = int.from_bytes(request[4:6], "big", signed=True) / 10
            self.engine.locked = held if request[1] == 1 else None
            return bytes([0x71, request[1]]) + request[2:4]
        self.flash_routine(routine, request)
        self.remember()
        return bytes([0x71, request[1]]) + request[2:4] + b"\x00"

    # -- SAE J1979 ------------------------------------------------------------------------------------

    def _legislated(self, request: bytes) -> bytes:
        return legislated.live(self.engine, request[1])

    def _stored(self, request: bytes) -> bytes:
        self._noticed()
        return legislated.stored(self.memory, request[0])

    def _clear_legislated(self, request: bytes) -> bytes:
        self._clear(request)
        return b"\x44"

    def _vehicle(self, request: bytes) -> bytes:
        return legislated.vehicle(self.memory, request[1])


#: Fewest bytes of a request, the service itself included.
_LEAST = dict.fromkeys((0x01, 0x09, 0x10, 0x11, 0x19, 0x27, 0x36, 0x3E), 2)
_LEAST |= {0x22: 3, 0x2E: 5, 0x2F: 4, 0x31: 4, 0x34: 11, 0x35: 11}
_SERVICES: dict[int, Callable[[Computer, bytes], bytes | None]] = {
    0x10: Computer._session,
    0x11: Computer._reset,
    0x14: Computer._clear,
    0x19: Computer._codes,
    0x22: Computer._read,
    0x27: Computer._security,
    0x2E: Computer._set,
    0x2F: Computer._output,
    0x31: Computer._routine,
    0x34: Flashing._download,
    0x35: Flashing._upload,
    0x36: Flashing._data,
    0x37: Flashing._exit,
    0x3E: Computer._present,
    0x01: Computer._legislated,
    0x03: Computer._stored,
    0x07: Computer._stored,
    0x04: Computer._clear_legislated,
    0x09: Computer._vehicle,
}
