"""What a computer keeps when the power goes: flash, identity, codes, learned trim."""

from __future__ import annotations

import base64
import zlib
from dataclasses import dataclass, field
from typing import Any

from ventmap.link.wire import FLASH_SIZE

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

    def to_document(self) -> dict[str, Any]:
        return {
            "identity": self.identity,
            "flash": base64.b64encode(zlib.compress(bytes(self.flash))).decode(),
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
        flash = bytearray(zlib.decompress(base64.b64decode(document["flash"])))
        return cls(**{**document, "flash": flash})
