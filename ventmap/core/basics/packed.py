"""Packed files: what they say of themselves is asked before anything of them is unpacked."""

from __future__ import annotations

import io
import zipfile

from .errors import BadInput

#: Bit of a member's flags that says it is encrypted (APPNOTE.TXT, 4.4.4).
ENCRYPTED = 0x1


def unpacked_size(data: bytes, what: str = "file") -> int:
    """What a zip says that it unpacks to [bytes].

    Raises
    ------
    BadInput
        If it is not whole, or is encrypted.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            members = packed.infolist()
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError) as error:
        raise BadInput(
            f"This {what} is packed and not whole; it may be damaged. Bring it again.", "file"
        ) from error
    if any(member.flag_bits & ENCRYPTED for member in members):
        raise BadInput(f"This {what} is encrypted: save it without a pass phrase and bring it again.", "file")
    return sum(member.file_size for member in members)


def require_unpacked_within(data: bytes, most: int, what: str = "file") -> None:
    """Refuse a zip that says it unpacks to more.

    Raises
    ------
    BadInput
    """
    size = unpacked_size(data, what)
    if size > most:
        raise BadInput(
            f"This {what} unpacks to {size / 1e6:.0f} MB; none has more than {most / 1e6:.0f} MB.",
            "file",
        )
