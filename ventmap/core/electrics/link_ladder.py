"""A link that does not come up: looked at rung by rung, the first that fails says what to do."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import Call, DeviceKind, Evidence, Verdict
from .bus import can_termination

SOURCE = "A link is looked at from the hand to the computer, one rung at a time"


@dataclass(frozen=True)
class Rung:
    """One thing to look at: its key, the question, and what to do where the answer is no."""

    key: str
    ask: str
    mend: str


_RUNGS = {
    "cable": Rung(
        "cable",
        "Is the cable seated at both ends, its pins straight?",
        "Seat it until it clicks; a bent pin or a worn socket is mended before anything is written.",
    ),
    "port": Rung(
        "port",
        "Does the laptop list the interface when it is plugged in?",
        "Try another port, without a hub; where none lists it, the interface or its cable is dead.",
    ),
    "driver": Rung(
        "driver",
        "Is its driver installed, and no other program holding it?",
        "Install the driver of the interface's maker, close other programs, plug it in again.",
    ),
    "key": Rung(
        "key",
        "Is the key on, engine off, and do the lamps of the dash light?",
        "Key on. Where the dash stays dark: battery, main fuse, ground of the computer.",
    ),
}
#: Where a laptop's driver is what is usually missing, it is looked at first.
ORDER: dict[str, tuple[str, ...]] = {DeviceKind.standalone: ("port", "driver", "cable", "key")}


def rungs(kind: str) -> list[Rung]:
    """The rungs in the order in which they are tried on this kind; the wires' resistance is the last."""
    return [_RUNGS[key] for key in ORDER.get(kind, ("cable", "port", "driver", "key"))]


def climb(kind: str, answers: dict[str, bool], ohms: float | None) -> Call:
    """Where the link fails, by what was seen.

    Parameters
    ----------
    kind : str
        Of the device.
    answers : dict
        Rung → whether it is right.
    ohms : float, optional
        Between the two wires of the bus, power off [Ω].
    """
    for rung in rungs(kind):
        if rung.key not in answers:
            return _stops_at(rung.key, "not looked at", rung.ask)
        if not answers[rung.key]:
            return _stops_at(rung.key, "not right", rung.mend)
    if ohms is None:
        return _stops_at(
            "terminators",
            "not measured",
            "Power off: measure between the two wires of the bus, 60 Ω is right.",
        )
    bus = can_termination(ohms)
    if bus.verdict is not Verdict.go:
        return _stops_at(
            "terminators", bus.title.lower(), bus.do_next, Evidence("between the wires", ohms, 60.0, "Ω")
        )
    return Call(
        "link.up",
        verdict=Verdict.hold,
        because=(
            Evidence("rungs right", len(rungs(kind)) + 1, len(rungs(kind)) + 1),
            Evidence("bus", ohms, 60.0, "Ω"),
        ),
        do_next=(
            "Everything up to the computer is right and it does not answer: its feed, its grounds, then the"
            " computer itself. Do not write to it."
        ),
        source=SOURCE,
        title="The computer itself does not answer",
    )


def _stops_at(rung: str, found: str, advice: str, *more: Evidence) -> Call:
    return Call(
        "link.up",
        verdict=Verdict.hold,
        because=(Evidence(rung, found), *more),
        do_next=advice,
        source=SOURCE,
        title=f"The link stops at: {rung}",
    )
