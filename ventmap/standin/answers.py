"""Refusals and trouble codes as bytes."""

from __future__ import annotations

# negative response codes, ISO 14229-1 annex A
WRONG_FORMAT, SEQUENCE, OUT_OF_RANGE, DENIED, BAD_KEY = 0x13, 0x24, 0x31, 0x33, 0x35
NOT_SUPPORTED, WRONG_BLOCK, CONDITIONS, NOT_IN_SESSION, PROGRAMMING_FAILED = 0x11, 0x73, 0x22, 0x7F, 0x72


class Negative(Exception):
    """A request that is refused, with the code that says why."""

    def __init__(self, code: int) -> None:
        super().__init__(code)
        self.code = code


def pack_code(code: str) -> bytes:
    """A trouble code such as ``P0135`` as two bytes (SAE J2012)."""
    return (("PCBU".index(code[0]) << 14) | int(code[1:], 16)).to_bytes(2, "big")


def pack_pedal(worn: float) -> bytes:
    """Closed, half way and open of both tracks, millivolts; the second carries half the voltage. A track
    wears where the pedal stands most: its ends read true, its middle does not.
    """
    volts = [640, 2325, 4010, 322, round(1166 * (1.0 + worn)), 2009]
    return b"".join(value.to_bytes(2, "big") for value in volts)


def pack_throttle(worn: float) -> bytes:
    """Closed, half way and open of a throttle body's tracks, millivolts; the second runs the other way."""
    volts = [520, 2500, 4480, 4460, round(2480 * (1.0 + worn)), 500]
    return b"".join(value.to_bytes(2, "big") for value in volts)
