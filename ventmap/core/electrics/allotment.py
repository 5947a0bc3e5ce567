"""Which spare pin of a device serves which demand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..basics import BadInput, Call, Evidence, Verdict

#: Type of a demand -> the types of pin that can serve it, the best first.
SERVED_BY = {
    "analog in": ("analog in",),
    "temperature in": ("temperature in", "analog in"),
    "digital in": ("digital in", "frequency in"),
    "frequency in": ("frequency in",),
    "pwm out": ("pwm out",),
    "switched out": ("switched out", "pwm out"),
    "can": ("can",),
}
_NO = 1e6


@dataclass(frozen=True)
class Demand:
    """Something to be connected: `kind` a key of `SERVED_BY`; `high_v` its highest signal [V]; `current_a`
    what it draws [A].
    """

    name: str
    kind: str
    high_v: float = 0.0
    current_a: float = 0.0


@dataclass(frozen=True)
class Pin:
    """A spare pin: what it can be, how much it takes [V] and carries [A]; `jumper`: what has to be set
    first.
    """

    name: str
    kinds: tuple[str, ...]
    max_v: float = 5.0
    max_a: float = 0.0
    jumper: str = ""


@dataclass(frozen=True)
class Allotment:
    """`placed`: demand → pin; `because`: demand → why, or what would make it possible."""

    placed: dict[str, str]
    because: dict[str, str]
    calls: tuple[Call, ...]


def _cost(demand: Demand, pin: Pin, with_relay: bool = False) -> float:
    """0 for a perfect place; more for a wasteful one; `_NO` for an impossible one."""
    wanted = SERVED_BY[demand.kind]
    rank = next((place for place, kind in enumerate(wanted) if kind in pin.kinds), None)
    if rank is None or demand.high_v > pin.max_v:
        return _NO
    if not with_relay and demand.current_a > pin.max_a:
        return _NO
    spare = pin.max_a - demand.current_a if demand.current_a else 0.0
    return 10.0 * rank + 2.0 * (len(pin.kinds) - 1) + (3.0 if pin.jumper else 0.0) + min(spare, 5.0) * 0.2


def allot_io(demands: Sequence[Demand], pins: Sequence[Pin]) -> Allotment:
    """Place as many demands as can be, on the pins that they waste least.

    An assignment problem over type, range and current (`scipy.optimize.linear_sum_assignment`). What cannot
    be placed is
    named with what would make it possible.
    """
    # Loaded when first needed: scipy's optimisers would hold up every start of the server.
    from scipy.optimize import linear_sum_assignment

    for demand in demands:
        if demand.kind not in SERVED_BY:
            raise BadInput(f"{demand.name}: the type is one of {', '.join(SERVED_BY)}.", "demands")
    for label, names in (("demand", [d.name for d in demands]), ("pin", [p.name for p in pins])):
        twice = sorted({name for name in names if names.count(name) > 1})
        if twice:
            raise BadInput(f"The {label} “{twice[0]}” is listed twice.", f"{label}s")
    placed: dict[str, str] = {}
    because: dict[str, str] = {}
    if demands and pins:
        cost = np.array([[_cost(demand, pin) for pin in pins] for demand in demands])
        for row, column in zip(*linear_sum_assignment(cost), strict=True):
            if cost[row, column] < _NO:
                demand, pin = demands[row], pins[column]
                placed[demand.name] = pin.name
                because[demand.name] = _why(demand, pin)
    for demand in demands:
        if demand.name not in placed:
            because[demand.name] = _remedy(demand, pins, set(placed.values()))
    missing = [d.name for d in demands if d.name not in placed]
    call = Call(
        "wiring.allotment",
        verdict=Verdict.hold if missing else Verdict.go,
        because=(
            Evidence("placed", len(placed), len(demands)),
            *(Evidence(name, because[name]) for name in missing),
        ),
        do_next=(
            "Do what each line says, or leave the demand out." if missing else "Every demand has its pin."
        ),
        source="Assignment by type, range and current",
        title="Inputs and outputs",
    )
    return Allotment(placed, because, (call,))


def _why(demand: Demand, pin: Pin) -> str:
    parts = [next(kind for kind in SERVED_BY[demand.kind] if kind in pin.kinds)]
    if demand.high_v:
        parts.append(f"up to {pin.max_v:g} V")
    if demand.current_a:
        parts.append(f"carries {pin.max_a:g} A")
    if pin.jumper:
        parts.append(f"set {pin.jumper}")
    return ", ".join(parts)


def _remedy(demand: Demand, pins: Sequence[Pin], used: set[str]) -> str:
    of_type = [pin for pin in pins if set(pin.kinds) & set(SERVED_BY[demand.kind])]
    if not of_type:
        return f"No {demand.kind} on this device: an expander on the CAN bus would add one."
    if all(pin.name in used for pin in of_type):
        return (
            f"All {demand.kind} pins are taken: an expander, or give up"
            f" {', '.join(pin.name for pin in of_type[:2])}."
        )
    if demand.current_a and all(demand.current_a > pin.max_a for pin in of_type if pin.name not in used):
        return (
            f"Draws {demand.current_a:g} A, more than a free pin carries: a relay, switched by one of them."
        )
    return (
        f"Its signal reaches {demand.high_v:g} V, more than a free pin takes: a divider, or a pin set for it."
    )
