"""What any vehicle tells by law: identity, codes and live values (SAE J1979), read and nothing else."""

from __future__ import annotations

from typing import Any

from .tester import unpack_code
from .transport import Line, LinkLost

#: Parameter → name, unit, bytes, scale, offset (SAE J1979, annex B).
LIVE = {
    0x04: ("engine load", "%", 1, 100 / 255, 0.0),
    0x05: ("coolant", "°C", 1, 1.0, -40.0),
    0x0B: ("manifold pressure", "kPa", 1, 1.0, 0.0),
    0x0C: ("engine speed", "rpm", 2, 0.25, 0.0),
    0x0D: ("vehicle speed", "km/h", 1, 1.0, 0.0),
    0x0F: ("intake air", "°C", 1, 1.0, -40.0),
    0x11: ("throttle", "%", 1, 100 / 255, 0.0),
    0x33: ("barometer", "kPa", 1, 1.0, 0.0),
    0x42: ("battery", "V", 2, 0.001, 0.0),
    0x52: ("ethanol", "%", 1, 100 / 255, 0.0),
}


def supported(line: Line) -> set[int]:
    """Parameters that the computer says it answers.

    Raises
    ------
    LinkLost
        If nothing answers at all.
    """
    found: set[int] = set()
    for base in (0x00, 0x20, 0x40):
        answer = line.request(bytes([0x01, base]))
        if answer is None and base == 0x00:
            raise LinkLost(
                "No computer answers. Cable seated, ignition on, 60 Ω between the two wires with power off?",
                "link",
            )
        if answer is None or answer[0] != 0x41 or len(answer) < 6:
            break
        bits = int.from_bytes(answer[2:6], "big")
        found |= {base + n for n in range(1, 33) if bits >> (32 - n) & 1}
        if base + 0x20 not in found:
            break
    return found


def read_vehicle(line: Line) -> dict[str, Any]:
    """VIN, calibration identity, codes stored and pending, and the live values that it offers."""
    there = supported(line)
    live = {}
    for parameter in sorted(there & LIVE.keys()):
        name, unit, size, scale, offset = LIVE[parameter]
        answer = line.request(bytes([0x01, parameter]))
        if answer is not None and answer[0] == 0x41 and len(answer) >= 2 + size:
            live[name] = (round(int.from_bytes(answer[2 : 2 + size], "big") * scale + offset, 3), unit)
    codes = []
    for service, status in ((0x03, "stored"), (0x07, "pending")):
        answer = line.request(bytes([service]))
        if answer is None or answer[0] != service + 0x40 or len(answer) < 2:
            continue
        codes += [
            {"code": unpack_code(answer[at : at + 2]), "status": status}
            for at in range(2, min(2 + 2 * answer[1], len(answer) - 1), 2)
        ]
    return {"vin": _text(line, 0x02), "calibration": _text(line, 0x04), "codes": codes, "live": live}


def _text(line: Line, parameter: int) -> str:
    answer = line.request(bytes([0x09, parameter]))
    if answer is None or answer[0] != 0x49:
        return ""
    return answer[3:].decode("ascii", "replace").strip("\0 ")
