"""The write services of a pretend computer: erase, blocks in and out, checksum; map slots and firmware."""

from __future__ import annotations

import zlib
from collections.abc import Callable
from dataclasses import dataclass

from ventmap.core.basics import CalibrationError
from ventmap.core.forms import read_firmware
from ventmap.link import wire

from . import answers as refuse
from .answers import Negative
from .engine import Engine
from .harm import drops_out
from .memory import Memory


class LinkDropped(Exception):
    """The pretend link was lost in the middle: nothing more is answered until it is made again."""


@dataclass
class Transfer:
    """Blocks under way: ``"down"`` into the flash or ``"up"`` out of it, where, and up to where."""

    direction: str
    flash: bytearray
    at: int
    end: int


class Flashing:
    """What a computer does to its flash."""

    engine: Engine
    memory: Memory
    remember: Callable[[], None]
    interrupt_at: float
    session: int
    unlocked: bool
    transfer: Transfer | None
    block: int
    busy_s: float

    def flash_routine(self, routine: int, request: bytes) -> None:
        """Erase or prove a region.

        Raises
        ------
        Negative
            Without write access, where there is no such routine, or where the checksum differs.
        """
        self._need_write_access()
        memory = self.memory
        if routine in (wire.ROUTINE_ERASE, wire.ROUTINE_ERASE_FIRMWARE):
            # From here until the checksum passes, what is in the flash must not run.
            if routine == wire.ROUTINE_ERASE_FIRMWARE:
                memory.firmware_whole = False
                memory.firmware[:] = b"\xff" * len(memory.firmware)
            elif not memory.firmware_whole:  # a map has nothing to stand on
                raise Negative(refuse.CONDITIONS)
            memory.whole = False
            memory.flash[:] = b"\xff" * len(memory.flash)
            self.busy_s = 0.9
            self.engine.runtime = None
            memory.identity["map_sha256"] = ""
        elif routine in (wire.ROUTINE_CHECKSUM, wire.ROUTINE_CHECKSUM_FIRMWARE):
            firmware = routine == wire.ROUTINE_CHECKSUM_FIRMWARE
            flash = memory.firmware if firmware else memory.flash
            size = int.from_bytes(request[4:8], "big")
            if len(request) != 12 or not 0 < size <= len(flash):
                raise Negative(refuse.WRONG_FORMAT)
            self.busy_s = 0.2
            if zlib.crc32(bytes(flash[:size])) != int.from_bytes(request[8:12], "big"):
                raise Negative(refuse.PROGRAMMING_FAILED)
            if firmware:
                self._take(bytes(flash[:size]))
            else:
                memory.whole = True
                # What was learned belongs to the map before.
                memory.learned = memory.global_trim = 0.0
        else:
            raise Negative(refuse.OUT_OF_RANGE)

    def _take(self, image: bytes) -> None:
        """Firmware that was proven is what it answers from now on; another computer's is refused."""
        try:
            file = read_firmware(image)
        except CalibrationError as error:
            raise Negative(refuse.PROGRAMMING_FAILED) from error
        if file.computer != self.memory.identity["computer"]:
            raise Negative(refuse.PROGRAMMING_FAILED)
        self.memory.firmware_whole = True
        self.memory.identity["firmware"] = file.version
        self.memory.faults_spent.append("old_firmware")

    def _need_write_access(self) -> None:
        if self.session != wire.PROGRAMMING_SESSION:
            raise Negative(refuse.NOT_IN_SESSION)
        if not self.unlocked:
            raise Negative(refuse.DENIED)

    def _download(self, request: bytes) -> bytes:
        self._need_write_access()
        return self._begin("down", request)

    def _upload(self, request: bytes) -> bytes:
        if self.session == wire.DEFAULT_SESSION:
            raise Negative(refuse.NOT_IN_SESSION)
        return self._begin("up", request)

    def _begin(self, direction: str, request: bytes) -> bytes:
        if request[2] != 0x44 or len(request) != 11:
            raise Negative(refuse.WRONG_FORMAT)
        address, size = int.from_bytes(request[3:7], "big"), int.from_bytes(request[7:11], "big")
        firmware = address < wire.FLASH_ADDRESS
        region = wire.FIRMWARE_REGION if firmware else wire.MAP_REGION
        flash = self.memory.firmware if firmware else self.memory.flash
        at = address - region.address
        if at < 0 or size <= 0 or at + size > len(flash):
            raise Negative(refuse.OUT_OF_RANGE)
        # A program that may run is erased first, never written over.
        if direction == "down" and (self.memory.firmware_whole if firmware else self.memory.whole):
            raise Negative(refuse.CONDITIONS)
        self.transfer, self.block = Transfer(direction, flash, at, at + size), 0
        return bytes([request[0] + 0x40, 0x20]) + (wire.BLOCK + 2).to_bytes(2, "big")

    def _data(self, request: bytes) -> bytes:
        now = self.transfer
        if now is None:
            raise Negative(refuse.SEQUENCE)
        if request[1] != (self.block + 1) & 0xFF:
            raise Negative(refuse.WRONG_BLOCK)
        self.block += 1
        if now.direction == "up":
            data = bytes(now.flash[now.at : min(now.at + wire.BLOCK, now.end)])
            now.at += len(data)
            return bytes([0x76, request[1]]) + data
        data = request[2:]
        if now.at + len(data) > now.end:
            raise Negative(refuse.OUT_OF_RANGE)
        engine = self.engine
        engine.sag = engine.truth.faults.falling_battery * now.at / now.end
        engine.volts = min(engine.volts, engine.heat.rest - engine.sag)
        if drops_out(self.engine):
            self.remember()
            raise LinkDropped
        cut = self.interrupt_at and "interrupt" not in self.memory.faults_spent
        if cut and now.at + len(data) >= self.interrupt_at * now.end:
            self.memory.faults_spent.append("interrupt")
            self.remember()
            raise LinkDropped
        now.flash[now.at : now.at + len(data)] = data
        now.at += len(data)
        self.busy_s = 0.004
        return bytes([0x76, request[1]])

    def _exit(self, request: bytes) -> bytes:
        if self.transfer is None:
            raise Negative(refuse.SEQUENCE)
        self.transfer = None
        self.remember()
        return b"\x77"
