"""A write that was cut: the ways on and back, in the order in which they are tried."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import DeviceKind, kinds_with, written_by_cable


@dataclass(frozen=True)
class Cut:
    """Where a write was cut.

    Parameters
    ----------
    phase : str
        ``"erase"``, ``"write"``, ``"read back"`` or ``"check"``.
    written, total : int
        Bytes that went in, of all.
    same : bool
        Whether what would be written now is what was being written then.
    in_loader : bool
        Whether the computer still answers, and runs no program.
    """

    phase: str
    written: int
    total: int
    same: bool = True
    in_loader: bool = True


@dataclass(frozen=True)
class Way:
    """One way: what it is called, and what it does."""

    key: str
    title: str
    text: str


#: Kinds whose write is ours, or their own tool's, through a cable.
CABLE = kinds_with(written_by_cable)
#: Kind → the last resort at the bench; where another computer lies on the shelf, it is told with it.
_BENCH: dict[str, str] = {
    DeviceKind.plug_in: "Its maker recovers it at the bench; meanwhile the stock computer goes on its plugs.",
    DeviceKind.stock_case: "Its maker recovers it; meanwhile the stock board goes back into the case.",
    DeviceKind.standalone: (
        "Its maker recovers it at the bench; the stock computer goes back by the pin plan."
    ),
    DeviceKind.swapped: (
        "The first computer goes back on its plugs, its strap with it; this one goes to its programmer."
    ),
    DeviceKind.swap_harness: "This computer goes to its programmer, or another one of its number does.",
    DeviceKind.flasher: ("The flasher's maker, or the vehicle's, recovers the computer at the bench."),
    DeviceKind.remote_flasher: (
        "Tell the tuner at once, with the time and the phase; its maker recovers the computer at the bench."
    ),
}


def ways_on(kind: str, cut: Cut, *, saved: bool, linked: bool) -> list[Way]:
    """What this device offers after a cut write, first tried first; what it has not is not among them.

    Parameters
    ----------
    kind : str
        Of the device.
    cut : Cut
    saved : bool
        Whether what was in the computer was saved and read twice, alike.
    linked : bool
        Whether the write is ours; else it is the device's own tool that resumes, and it says whether it can.
    """
    if kind not in CABLE:
        return []
    found = []
    if not linked:
        found.append(
            Way(
                "resume",
                "Let its tool resume",
                "Leave ignition and cable as they are; its own tool says if it can.",
            )
        )
    elif cut.phase == "write" and cut.written > 0 and cut.same and cut.in_loader:
        found.append(
            Way(
                "resume",
                "Resume where it was cut",
                f"The computer waits in its loader with {cut.written} of {cut.total} bytes; the rest is"
                " written and all of it read back.",
            )
        )
    found.append(Way("restart", "Write again from the start", "Erase, write all of it, read it back."))
    if saved:
        found.append(
            Way(
                "stock", "Write back what was saved", "The image that was in it before, read back and proven."
            )
        )
    found.append(
        Way("bench", "Recovery at the bench", _BENCH.get(kind, "Its maker recovers it at the bench."))
    )
    return found
