"""Grids: evidence that is more than one reading. Each judges what was entered and says what to draw."""

from __future__ import annotations

from collections.abc import Callable

from ..basics import BadInput
from .engine import body_codes, compression, injector_set, seal_timers
from .model import About, Data, GridResult
from .wires import continuity, grounds, pin_plan, torque

GRIDS: dict[str, Callable[[About, Data], GridResult]] = {
    "compression": compression,
    "injector_set": injector_set,
    "body_codes": body_codes,
    "seal_timers": seal_timers,
    "common_side": continuity,
    "pin_plan": pin_plan,
    "grounds": grounds,
    "torque": torque,
}


def judge_grid(name: str, about: About, data: Data) -> GridResult:
    """Judge the data of a grid by its name."""
    if name not in GRIDS:
        raise BadInput(f"There is no grid “{name}”.", "grid")
    return GRIDS[name](about, data)
