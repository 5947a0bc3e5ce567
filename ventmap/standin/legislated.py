"""What a pretend computer answers by law: live values, codes, identity (SAE J1979)."""

from __future__ import annotations

from . import answers as refuse
from .answers import Negative, pack_code
from .engine import Engine
from .memory import Memory


def live(engine: Engine, parameter: int) -> bytes:
    """Service 01: one live value.

    Raises
    ------
    Negative
        Where it has no such value.
    """
    answers = {
        0x05: bytes([int(min(max(engine.coolant + 40, 0), 255))]),
        0x0B: bytes([int(min(max(engine.manifold, 0), 255))]),
        0x0C: int(engine.rpm * 4).to_bytes(2, "big"),
        0x0D: bytes([int(min(engine.speed_kmh, 255))]),
        0x0F: bytes([int(min(max(engine.intake + 40, 0), 255))]),
        0x33: bytes([int(engine.truth.barometer_kpa)]),
        0x42: int(engine.volts * 1000).to_bytes(2, "big"),
    }
    for base in (0x40, 0x20, 0x00):
        # Which of the next 32 parameters are there; the last bit says that a further list is.
        answers[base] = sum(1 << (32 - n) for n in range(1, 33) if base + n in answers).to_bytes(4, "big")
    if parameter not in answers:
        raise Negative(refuse.OUT_OF_RANGE)
    return bytes([0x41, parameter]) + answers[parameter]


def stored(memory: Memory, service: int) -> bytes:
    """Services 03 and 07: codes stored, or pending."""
    codes = memory.codes if service == 0x03 else memory.pending
    return bytes([service + 0x40, len(codes)]) + b"".join(pack_code(code) for code in codes)


def vehicle(memory: Memory, parameter: int) -> bytes:
    """Service 09: VIN or calibration.

    Raises
    ------
    Negative
        Where it has no such text.
    """
    if parameter == 0x02:
        return bytes([0x49, 0x02, 0x01]) + memory.identity["vin"].encode()
    if parameter == 0x04:
        return bytes([0x49, 0x04, 0x01]) + memory.identity["calibration"].ljust(16, "\0")[:16].encode()
    raise Negative(refuse.OUT_OF_RANGE)
