"""Termination of a CAN bus."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict, require_positive


def can_termination(ohms: float, tolerance: float = 0.15) -> Call:
    """Judge the resistance between the two wires of a CAN bus, power off [Ω].

    60 is right (two 120 Ω terminators side by side), 120 is one missing, 40 one too many (ISO 11898-2).
    """
    require_positive(ohms=ohms)
    verdict = Verdict.hold
    if _near(ohms, 60.0, tolerance):
        verdict, title, advice = Verdict.go, "Two terminators", "The bus is terminated."
    elif _near(ohms, 120.0, tolerance):
        title, advice = (
            "One terminator is missing",
            "Find the open end: an unplugged module, or a switch that is off. Then measure again.",
        )
    elif _near(ohms, 40.0, tolerance):
        title, advice = (
            "One terminator too many",
            "Switch the added device's terminator off, then measure again.",
        )
    elif ohms < 10:
        title, advice = "The two wires touch", "Look for a pinched or crossed pair before power comes on."
    elif ohms > 1000:
        title, advice = (
            "Nothing between the wires",
            "The pair is open, or these are other wires. Find the pins again.",
        )
    else:
        title, advice = (
            "Not a bus resistance",
            "Power off and modules asleep? Then look for a third device or a bad joint.",
        )
    return Call(
        "wiring.can",
        verdict=verdict,
        because=(Evidence("between the wires", round(ohms, 1), 60.0, unit="Ω"),),
        do_next=advice,
        source="ISO 11898-2",
        title=title,
    )


def _near(value: float, wanted: float, tolerance: float) -> bool:
    # The limit itself is still right, whatever its last binary digit says.
    return abs(value - wanted) <= tolerance * wanted + 1e-9
