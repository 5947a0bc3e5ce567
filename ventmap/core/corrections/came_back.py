"""A file that came back from a remote tuner, taken apart: which round it answers, the map, the letter."""

from __future__ import annotations

import hashlib
import io
import zipfile
from dataclasses import dataclass

from ..basics import BadInput, VentMapError, unpacked_size
from ..forms import Calibration, read_map_file
from .round_package import Reply, read_reply

MOST_BYTES = 40_000_000


@dataclass(frozen=True)
class CameBack:
    """What lay in a file that came back; `made` is None where it is no map, and `why_not` says so."""

    reply: Reply
    file: bytes
    letter: str
    made: Calibration | None
    why_not: str = ""

    @property
    def sha256(self) -> str:
        return hashlib.sha256(self.file).hexdigest()


def take_apart(data: bytes, name: str) -> CameBack:
    """What came: reply, map file, letter. A bare map names neither round nor checksum.

    Raises
    ------
    BadInput
        If it is larger than any answer, or a zip that is not whole.
    """
    reply, file, letter = _opened(data, name)
    try:
        return CameBack(reply, file, letter, read_map_file(file))
    except VentMapError as error:
        return CameBack(reply, file, letter, None, error.sentence)


def _opened(data: bytes, name: str) -> tuple[Reply, bytes, str]:
    most = f"{MOST_BYTES // 10**6} MB"
    if len(data) > MOST_BYTES:
        raise BadInput(f"{name} is larger than {most}.", "file")
    if data[:2] != b"PK":
        return Reply(), data, ""
    if unpacked_size(data, "zip") > MOST_BYTES:
        raise BadInput(f"{name} unpacks to more than {most}.", "file")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as files:
            names = files.namelist()
            if "reply.json" not in names:
                return Reply(), data, ""  # a workbook is a zip too
            reply = read_reply(files.read("reply.json").decode("utf-8", "replace"))
            if reply.file not in names:
                raise BadInput(f"{name} names {reply.file}, and it is not in it.", "file")
            words = files.read("letter.txt").decode("utf-8", "replace") if "letter.txt" in names else ""
            return reply, files.read(reply.file), words
    except (zipfile.BadZipFile, NotImplementedError, OSError, ValueError) as error:
        raise BadInput(f"{name} is a zip that is not whole: have it sent again.", "file") from error
