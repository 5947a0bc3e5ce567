"""A firmware file: for which computer, which version, and the bytes that are written."""

from __future__ import annotations

import json
import zlib
from dataclasses import dataclass

from ..basics import CalibrationError, Call, Evidence, Verdict

MAGIC = b"VMFW"
#: More is none of these computers' firmware [bytes].
MOST = 16_384


@dataclass(frozen=True)
class Firmware:
    """A firmware as its file states it; `image` is the whole file, which is what is written."""

    computer: str
    version: str
    image: bytes

    @property
    def crc32(self) -> str:
        return f"{zlib.crc32(self.image):08x}"


def pack_firmware(computer: str, version: str, program: bytes) -> bytes:
    """A firmware file: magic, length of the head, head as JSON (computer, version, CRC-32 of the program),
    program.
    """
    head = {"computer": computer, "crc32": f"{zlib.crc32(program):08x}", "version": version}
    text = json.dumps(head, sort_keys=True).encode()
    return MAGIC + len(text).to_bytes(2, "big") + text + program


def read_firmware(data: bytes) -> Firmware:
    """Read a firmware file.

    Raises
    ------
    CalibrationError
        If it is none, is too large, or its program does not give the checksum that its head states.
    """
    if not data.startswith(MAGIC) or len(data) > MOST:
        raise CalibrationError("This is no firmware file for a computer of this bench.", "file")
    size = int.from_bytes(data[4:6], "big")
    try:
        head = json.loads(data[6 : 6 + size])
        computer, version, crc = str(head["computer"]), str(head["version"]), str(head["crc32"])
    except (ValueError, KeyError, TypeError) as error:
        raise CalibrationError(
            "The head of this firmware file cannot be read: fetch it again.", "file"
        ) from error
    if f"{zlib.crc32(data[6 + size :]):08x}" != crc:
        raise CalibrationError("The firmware file is damaged: its checksum differs. Fetch it again.", "file")
    if number_of(version) == ():
        raise CalibrationError("This firmware file states no version.", "file")
    return Firmware(computer, version, data)


def number_of(version: str) -> tuple[int, ...]:
    """A version's figures, to compare; empty where it has none.

    Examples
    --------
    >>> number_of("2.10") > number_of("2.9")
    True
    """
    return tuple(int(part) for part in version.split(".") if part.isdigit())


def firmware_call(file: Firmware, computer: str, answered: str, minimum: str) -> Call:
    """Whether this firmware may go in: of this computer, newer than what answers now, enough for the map.

    Parameters
    ----------
    computer : str
        What the device answers as.
    answered : str
        Version as the computer answers it now; empty where it was not read.
    minimum : str
        What the map asks for; empty where it asks for none.
    """
    now, new, least = number_of(answered), number_of(file.version), number_of(minimum)
    if file.computer != computer:
        verdict, advice = Verdict.stop, "Do not write it: this firmware is another computer's."
    elif not now:
        verdict, advice = Verdict.hold, "Measure and read identity first: which firmware is in is not known."
    elif new < now:
        verdict, advice = Verdict.hold, "Older than what is in: confirm that its maker asks for it."
    elif new == now:
        verdict, advice = Verdict.hold, "This version is in already: write it only to mend a cut one."
    elif new < least:
        verdict, advice = Verdict.hold, f"Newer, yet the map asks for {minimum}: fetch that one."
    else:
        verdict, advice = Verdict.go, "It may go in. It takes the map with it: the map is written after it."
    return Call(
        "load.firmware_file",
        verdict=verdict,
        because=(
            Evidence("firmware file", f"{file.computer} {file.version}", f"{computer}, {minimum or 'any'}"),
            Evidence("in the computer", answered or "not read"),
        ),
        do_next=advice,
        source="Firmware first, if older than the map's minimum",
        title=f"Firmware {file.version}",
        protects="computer" if verdict is Verdict.stop else "",
    )
