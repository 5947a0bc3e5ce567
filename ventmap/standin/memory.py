"""What a computer keeps when the power goes: flash, identity, codes, learned trim."""

from __future__ import annotations

import base64
import zlib
from dataclasses import dataclass, field
from typing import Any

from ventmap.link.wire import FIRMWARE_SIZE, FLASH_SIZE

#: Where the edge passes on every pretend engine as it left its works [° before top dead centre].
TRIGGER_DEG = 60.0


@dataclass
class Memory:
    """Non-volatile state of one computer. `whole` is false from the start of an erase until a checksum has
    passed.
    """

    identity: dict[str, str]
    flash: bytearray = field(default_factory=lambda: bytearray(b"\xff" * FLASH_SIZE))
    whole: bool = False
    codes: list[str] = field(default_factory=list)
    pending: list[str] = field(default_factory=list)
    learned: float = 0.0
    pedal_learned: bool = False
    trigger_offset: float = TRIGGER_DEG  # where the reference edge passes, as it was set [° before top]
    global_trim: float = 0.0  # fuel added everywhere, fraction; a write clears it
    dead: bool = False  # no power brings it back
    stock: bool = False  # the computer that the vehicle came with
    faults_spent: list[str] = field(default_factory=list)
    firmware: bytearray = field(default_factory=lambda: bytearray(b"\xff" * FIRMWARE_SIZE))
    firmware_whole: bool = True
    #: The slot that `flash` is; what lies in the others.
    slot: int = 1
    others: dict[str, dict[str, Any]] = field(default_factory=dict)

    def select(self, slot: int) -> None:
        """Take another slot in hand: it is written from now on, and runs after the next power-up."""
        self.others[str(self.slot)] = {"flash": _packed(self.flash), "whole": self.whole}
        taken = self.others.pop(str(slot), None)
        self.slot = slot
        self.flash[:] = _unpacked(taken["flash"]) if taken else b"\xff" * FLASH_SIZE
        self.whole = bool(taken and taken["whole"])
        self.learned = self.global_trim = 0.0

    def to_document(self) -> dict[str, Any]:
        return {
            "identity": self.identity,
            "flash": _packed(self.flash),
            "firmware": _packed(self.firmware),
            "firmware_whole": self.firmware_whole,
            "slot": self.slot,
            "others": self.others,
            "whole": self.whole,
            "codes": self.codes,
            "pending": self.pending,
            "learned": self.learned,
            "pedal_learned": self.pedal_learned,
            "trigger_offset": self.trigger_offset,
            "global_trim": self.global_trim,
            "dead": self.dead,
            "stock": self.stock,
            "faults_spent": self.faults_spent,
        }

    @classmethod
    def from_document(cls, document: dict[str, Any]) -> Memory:
        given: dict[str, Any] = dict(document)
        given |= {name: _unpacked(document[name]) for name in ("flash", "firmware") if name in document}
        return cls(**given)


def _packed(data: bytearray) -> str:
    return base64.b64encode(zlib.compress(bytes(data))).decode()


def _unpacked(text: str) -> bytearray:
    return bytearray(zlib.decompress(base64.b64decode(text)))
