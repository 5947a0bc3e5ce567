"""What a tester does to a computer new to its engine: drives an output, holds spark, sets a figure."""

from __future__ import annotations

from . import wire
from .tester import Tester
from .transport import LinkLost

#: The figures that are set live: identifier, and what one count is worth.
FIGURES = {
    "trigger_offset": (wire.DID_TRIGGER, 0.1),
    "global_trim": (wire.DID_GLOBAL_TRIM, 0.001),
    "slot": (wire.DID_SLOT, 1.0),
}


def _ask(tester: Tester, request: bytes) -> bytes:
    answer = tester.line.request(request)
    if answer is None:
        raise LinkLost(
            "The computer does not answer. Check the plug and the ignition, then try again.", "link"
        )
    if answer[0] != request[0] + 0x40:
        raise LinkLost(
            "The computer refuses this now: engine still, key on, and an output that it has.", "link"
        )
    return answer


def drive_output(tester: Tester, name: str, seconds: float) -> float:
    """Drive one output for its time [s]; the current in its driver as the computer measures it [A].

    Raises
    ------
    LinkLost
        If the computer is silent, or refuses: the engine turns, or it has no such output.
    """
    tester.ask("change_session", wire.EXTENDED_SESSION)
    did = wire.OUTPUTS[name].to_bytes(2, "big")
    tenths = min(255, max(1, round(10 * seconds)))
    answer = _ask(tester, b"\x2f" + did + bytes([wire.DRIVE, tenths]))
    return int.from_bytes(answer[4:6], "big") / 1000.0


def give_back(tester: Tester, name: str) -> None:
    """Let an output go."""
    _ask(tester, b"\x2f" + wire.OUTPUTS[name].to_bytes(2, "big") + bytes([wire.GIVE_BACK]))


def lock_spark(tester: Tester, degrees: float | None) -> None:
    """Hold spark for a timing light [°]; None lets it go."""
    tester.ask("change_session", wire.EXTENDED_SESSION)
    routine = wire.ROUTINE_LOCK_SPARK.to_bytes(2, "big")
    if degrees is None:
        _ask(tester, b"\x31\x02" + routine)
    else:
        _ask(tester, b"\x31\x01" + routine + round(10 * degrees).to_bytes(2, "big", signed=True))


def figure(tester: Tester, name: str) -> float:
    """A figure that is set live: trigger offset [°], global trim (fraction), or the slot that is written and
    runs.
    """
    did, scale = FIGURES[name]
    answer = _ask(tester, b"\x22" + did.to_bytes(2, "big"))
    return int.from_bytes(answer[3:5], "big", signed=True) * scale


def set_figure(tester: Tester, name: str, value: float) -> float:
    """Set a figure live and read it back."""
    did, scale = FIGURES[name]
    tester.ask("change_session", wire.EXTENDED_SESSION)
    _ask(tester, b"\x2e" + did.to_bytes(2, "big") + round(value / scale).to_bytes(2, "big", signed=True))
    return figure(tester, name)
