"""Writing a map: erase, blocks, read-back, checksum; never a success without a match."""

from __future__ import annotations

import zlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from udsoncan import MemoryLocation

from ventmap.core.basics import VentMapError

from . import wire
from .tester import Tester
from .transport import LinkLost


class LoadStopped(VentMapError):
    """A person stopped the write between blocks."""


@dataclass(frozen=True)
class Progress:
    """How far: phase ``"erase"``, ``"write"``, ``"check"``, ``"read back"`` or ``"done"``, and bytes of
    all.
    """

    phase: str
    done: int
    total: int


def _location(size: int, start: int = 0, region: wire.Region = wire.MAP_REGION) -> MemoryLocation:
    return MemoryLocation(
        address=region.address + start, memorysize=size, address_format=32, memorysize_format=32
    )


def _enter(tester: Tester) -> None:
    tester.ask("change_session", wire.PROGRAMMING_SESSION)
    tester.ask("unlock_security_access", wire.SECURITY_LEVEL)


def read_image(
    tester: Tester, size: int = wire.FLASH_SIZE, region: wire.Region = wire.MAP_REGION
) -> Iterator[Progress | bytes]:
    """Read the flash; yields progress and at the end the bytes."""
    tester.ask("change_session", wire.EXTENDED_SESSION)
    tester.ask("request_upload", _location(size, region=region))
    data = bytearray()
    counter = 0
    while len(data) < size:
        counter += 1
        data += tester.transfer(counter)
        yield Progress("read back", len(data), size)
    tester.ask("request_transfer_exit")
    yield bytes(data[:size])


def _still_there(tester: Tester, image: bytes, start: int, region: wire.Region) -> None:
    """The last block before the cut, read again: what is gone is not built upon."""
    tester.ask("request_upload", _location(wire.BLOCK, start - wire.BLOCK, region))
    found = tester.transfer(1)
    tester.ask("request_transfer_exit")
    if found != image[start - wire.BLOCK : start]:
        raise LinkLost(
            "What was written before the cut is not in the computer any more. Write again from the start.",
            "load",
        )


def write_image(
    tester: Tester,
    image: bytes,
    stopped: Callable[[], bool] = lambda: False,
    resume_at: int = 0,
    region: wire.Region = wire.MAP_REGION,
) -> Iterator[Progress]:
    """Write an image and prove it; resumed after a cut, without an erase, from a whole block on.

    Order: programming session, security, erase, blocks, transfer exit, read-back compared byte by byte, then
    the
    computer's own checksum, which alone lets it run the map.

    Raises
    ------
    LinkLost
        If the computer stops answering, refuses, or the read-back differs: then nothing is loaded.
    LoadStopped
        If `stopped` says so between blocks, on the way in or while reading back: the computer runs nothing
        before its checksum is proven.
    """
    if len(image) > region.size:
        raise LinkLost(f"The image has {len(image)} bytes; the computer holds {region.size}.", "image")
    total = len(image)

    def ask_whether_to_go_on() -> None:
        if stopped():
            raise LoadStopped(
                "The write was stopped. The computer holds no whole map: write again before starting.", "load"
            )

    start = resume_at // wire.BLOCK * wire.BLOCK
    _enter(tester)
    if start:
        _still_there(tester, image, start, region)
    else:
        yield Progress("erase", 0, total)
        tester.ask("start_routine", region.erase)
    tester.ask("request_download", _location(total - start, start, region))
    for counter, at in enumerate(range(start, total, wire.BLOCK), start=1):
        ask_whether_to_go_on()
        tester.transfer(counter, image[at : at + wire.BLOCK])
        yield Progress("write", min(at + wire.BLOCK, total), total)
    tester.ask("request_transfer_exit")
    back = b""
    for item in read_image(tester, total, region):
        ask_whether_to_go_on()
        if isinstance(item, bytes):
            back = item
        else:
            yield item
    if back != image:
        wrong = sum(a != b for a, b in zip(back, image, strict=False))
        raise LinkLost(f"The read-back differs in {wrong} bytes. Nothing is loaded: write again.", "load")
    _enter(tester)
    yield Progress("check", total, total)
    tester.ask(
        "start_routine",
        region.checksum,
        total.to_bytes(4, "big") + zlib.crc32(image).to_bytes(4, "big"),
    )
    yield Progress("done", total, total)


def dry_run(tester: Tester, size: int) -> float:
    """Everything up to the erase, and four blocks read: seconds that a write and its read-back would take.

    Nothing is erased or written, and the computer is left in its default session.

    Raises
    ------
    LinkLost
        If the computer refuses the session or the key, or is silent.
    """
    _enter(tester)
    blocks = 4
    tester.ask("request_upload", _location(blocks * wire.BLOCK))
    began = tester.line.now()
    for counter in range(1, blocks + 1):
        tester.transfer(counter)
    taken = tester.line.now() - began
    tester.ask("request_transfer_exit")
    tester.ask("change_session", wire.DEFAULT_SESSION)
    return 2.0 * taken * size / (blocks * wire.BLOCK)
