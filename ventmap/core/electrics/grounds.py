"""Voltage drop of grounds."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict


def ground_call(
    name: str, volts: float, cranking: bool = False, static_v: float = 0.05, cranking_v: float = 0.2
) -> Call:
    """Judge the voltage drop of a ground [V]: at most 0.05 V at rest, 0.2 V while cranking."""
    limit = cranking_v if cranking else static_v
    over = abs(volts) > limit + 1e-9
    return Call(
        "wiring.ground",
        verdict=Verdict.stop if over else Verdict.go,
        because=(Evidence(name, round(abs(volts), 3), limit, unit="V"),),
        do_next=(
            "Bare metal, tight, and measure again: a missing main ground can destroy the computer at"
            " power-up."
            if over
            else "A sound ground."
        ),
        source="Voltage drop along a ground",
        title=f"Ground: {name}",
        protects="computer" if over else "",
    )
