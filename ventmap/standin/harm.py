"""What harms a computer, or stops it in the middle of a write."""

from __future__ import annotations

from .memory import Memory
from .state import State

#: Noise of a missing main ground that a computer does not survive [V], and how long it takes [s].
KILLS_V, KILLS_S = 1.0, 30.0
#: Below this a computer drops out while it writes [V].
WRITES_V = 11.5


def is_dead(state: State, memory: Memory) -> bool:
    """Whether it answers no more, for good: power was put on while a main ground was missing."""
    if state.truth.faults.missing_ground >= KILLS_V and state.time > KILLS_S:
        memory.dead = True
    return memory.dead


def drops_out(state: State) -> bool:
    """Whether the battery is too low for the flash to be written."""
    return state.volts < WRITES_V
