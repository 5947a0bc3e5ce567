"""Numbers on the wire, shared by both ends: addresses, identifiers, scalings.

Legislated parameters follow SAE J1979; identifiers in the 0xF1xx range ISO 14229; 0xD0xx are this
computer's own live values.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

REQUEST_ID, RESPONSE_ID = 0x7E0, 0x7E8
BITRATE = 500_000
FRAME_BITS = 130.0  # an 8-byte classic frame with stuffing and gap
COMPUTER_LATENCY_S = 0.004  # a production computer answers a read within a few milliseconds

# Waits far above ISO 15765-2: a laptop that stalls for seconds must not cost a write.
ISOTP_PARAMETERS: dict[str, Any] = {
    "stmin": 0,
    "blocksize": 0,
    "tx_padding": 0xAA,
    "rx_flowcontrol_timeout": 10_000,
    "rx_consecutive_frame_timeout": 10_000,
    "max_frame_size": 8192,
}

# ISO 14229-1, annex C: VIN, hardware number, software number, software version; the last is a maker's own.
DID_VIN, DID_COMPUTER, DID_CALIBRATION, DID_FIRMWARE, DID_MAP_SHA = 0xF190, 0xF191, 0xF188, 0xF195, 0xF1A0
IDENTITY = {
    "vin": DID_VIN,
    "computer": DID_COMPUTER,
    "calibration": DID_CALIBRATION,
    "firmware": DID_FIRMWARE,
    "map_sha256": DID_MAP_SHA,
}
IDENTITY_BY_DID = {did: name for name, did in IDENTITY.items()}

ROUTINE_ERASE, ROUTINE_CHECKSUM, ROUTINE_LEARN_PEDAL = 0xFF00, 0xFF01, 0xD100
ROUTINE_LOCK_SPARK, ROUTINE_LEARN_THROTTLE = 0xD101, 0xD102
#: Figures that are set live; outputs that are driven on request (InputOutputControl).
DID_TRIGGER, DID_GLOBAL_TRIM = 0xD110, 0xD111
#: The slot that is written, and that runs after the next power-up.
DID_SLOT = 0xD112
DRIVE, GIVE_BACK = 0x03, 0x00
OUTPUTS = {"pump": 0xD200, "fan_slow": 0xD201, "fan_fast": 0xD202}
OUTPUTS |= {f"injector_{n}": 0xD210 + n for n in range(1, 17)}
OUTPUTS |= {f"coil_{n}": 0xD230 + n for n in range(1, 17)}
OUTPUT_BY_DID = {did: name for name, did in OUTPUTS.items()}
PROGRAMMING_SESSION, EXTENDED_SESSION, DEFAULT_SESSION = 2, 3, 1
SECURITY_LEVEL = 1
FLASH_ADDRESS = 0x0008_0000
FLASH_SIZE = 65_536
FIRMWARE_ADDRESS, FIRMWARE_SIZE = 0x0000_4000, 16_384
ROUTINE_ERASE_FIRMWARE, ROUTINE_CHECKSUM_FIRMWARE = 0xFF10, 0xFF11
BLOCK = 2_048  # data bytes in one TransferData


@dataclass(frozen=True)
class Region:
    """A part of the flash: where it lies, how large it is, and the routines that erase and prove it."""

    address: int
    size: int
    erase: int
    checksum: int


MAP_REGION = Region(FLASH_ADDRESS, FLASH_SIZE, ROUTINE_ERASE, ROUTINE_CHECKSUM)
FIRMWARE_REGION = Region(FIRMWARE_ADDRESS, FIRMWARE_SIZE, ROUTINE_ERASE_FIRMWARE, ROUTINE_CHECKSUM_FIRMWARE)


def security_key(seed: bytes) -> bytes:
    """Answer to a seed. Obfuscation, not security: it keeps a stray tool from writing by accident."""
    number = int.from_bytes(seed, "big")
    return ((number * 0x1B873593 + 0x7A11) & 0xFFFFFFFF).to_bytes(4, "big")


@dataclass(frozen=True)
class LiveValue:
    """A live value: identifier, two bytes big-endian signed or not, value = raw·scale + offset."""

    name: str
    did: int
    scale: float
    offset: float = 0.0
    signed: bool = False

    def pack(self, value: float) -> bytes:
        raw = round((value - self.offset) / self.scale)
        low, high = (-32768, 32767) if self.signed else (0, 65535)
        return int(min(max(raw, low), high)).to_bytes(2, "big", signed=self.signed)

    def unpack(self, data: bytes) -> float:
        return int.from_bytes(data, "big", signed=self.signed) * self.scale + self.offset


_LIVE = (
    ("rpm", 0.25, 0.0, False),
    ("pedal", 0.01, 0.0, False),
    ("throttle", 0.01, 0.0, False),
    ("map", 0.01, 0.0, False),
    ("baro", 0.01, 0.0, False),
    ("iat", 0.1, -60.0, False),
    ("coolant", 0.1, -60.0, False),
    ("lambda", 0.0001, 0.0, False),
    ("lambda_target", 0.0001, 0.0, False),
    ("stft_1", 0.01, 0.0, True),
    ("ltft_1", 0.01, 0.0, True),
    ("spark", 0.1, 0.0, True),
    ("knock", 0.1, 0.0, False),
    ("pulse", 0.001, 0.0, False),
    ("duty", 0.01, 0.0, False),
    ("battery", 0.001, 0.0, False),
    ("speed", 0.01, 0.0, False),
    ("rail", 0.1, 0.0, False),
    ("idle_target", 1.0, 0.0, False),
    ("map_target", 0.01, 0.0, False),
    ("wastegate", 0.01, 0.0, False),
    ("ethanol", 0.01, 0.0, False),
    ("rear_o2_1", 0.0001, 0.0, False),
    # A rail under high pressure: coarser steps than a port's feed.
    ("rail_high", 4.0, 0.0, False),
    *((f"egt_{n}", 0.1, 0.0, False) for n in range(1, 7)),
    ("brake", 1.0, 0.0, False),
    ("global_trim", 0.1, 0.0, True),
    ("misfire", 1.0, 0.0, False),
)
LIVE: dict[str, LiveValue] = {
    name: LiveValue(name, 0xD000 + index, scale=scale, offset=offset, signed=signed)
    for index, (name, scale, offset, signed) in enumerate(_LIVE)
}
LIVE_BY_DID = {value.did: value for value in LIVE.values()}
MOST_PER_REQUEST = 8  # identifiers that the computer answers in one read


#: Services that only read: SAE J1979 live data, freeze frame, codes, identity; ISO 14229 codes, identifiers,
#: and the sign that a tester is there. Every other changes something.
READS = frozenset({0x01, 0x02, 0x03, 0x07, 0x09, 0x0A, 0x19, 0x22, 0x3E})
#: Bytes after the service that an answer repeats of its request.
ECHOED = {
    0x01: 1,
    0x02: 1,
    0x09: 1,
    0x10: 1,
    0x11: 1,
    0x19: 1,
    0x22: 2,
    0x27: 1,
    0x2E: 2,
    0x2F: 3,
    0x31: 3,
    0x36: 1,
    0x3E: 1,
}


def answers(request: bytes, answer: bytes) -> bool:
    """Whether an answer is this request's own: a late one of the request before is not."""
    if not answer or not request:
        return False
    if answer[0] == 0x7F:
        return len(answer) >= 3 and answer[1] == request[0]
    repeated = ECHOED.get(request[0], 0)
    return answer[0] == request[0] + 0x40 and answer[1 : 1 + repeated] == request[1 : 1 + repeated]


def exchange_seconds(request_bytes: int, response_bytes: int) -> float:
    """Time on a real bus of a request and its answer over ISO-TP, with the computer's latency [s]."""

    def frames(size: int) -> int:
        # A single frame holds 7 bytes; else a first frame of 6, a flow control, and 7 in each that follows.
        return 1 if size <= 7 else 2 + -(-(size - 6) // 7)

    return (frames(request_bytes) + frames(response_bytes)) * FRAME_BITS / BITRATE + COMPUTER_LATENCY_S


#: A busy computer asks to be asked again (ISO 14229-1, busyRepeatRequest): so often, so long apart [s].
BUSY, BUSY_TRIES, BUSY_WAIT_S = 0x21, 10, 0.02


def is_busy(answer: bytes | None) -> bool:
    """Whether this answer asks to be asked again."""
    return answer is not None and len(answer) == 3 and answer[0] == 0x7F and answer[2] == BUSY
