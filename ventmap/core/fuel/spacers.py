"""A stack of shims that makes up for injectors of another length."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from ..basics import BadInput, Call, Evidence, Verdict, require_positive


@dataclass(frozen=True)
class SpacerStack:
    """Shims to lie under the rail at each foot; `wanted` and `made` [mm]; negative `wanted` lowers the
    rail.
    """

    wanted: float
    shims: tuple[float, ...]
    made: float
    call: Call


def plan_stack(
    old_seat_to_rail: float, new_seat_to_rail: float, stock: Sequence[float], tolerance: float = 0.1
) -> SpacerStack:
    """Make up a change in seat-to-rail distance from the shims in stock.

    Parameters
    ----------
    old_seat_to_rail, new_seat_to_rail : float
        Between the lower seat and the rail's seat, measured [mm].
    stock : sequence of float
        Thickness of each shim at hand [mm]; list one as often as there are.
    tolerance : float
        How near the stack must come [mm]: more tilts or pinches the O-rings.
    """
    require_positive(old_seat_to_rail=old_seat_to_rail, new_seat_to_rail=new_seat_to_rail)
    for thickness in stock:
        require_positive(stock=thickness)
    if len(stock) > 14:
        raise BadInput("Name up to 14 shims; more than that is a drawer, not a stack.", "stock")
    wanted = new_seat_to_rail - old_seat_to_rail
    best: tuple[float, ...] = ()
    if wanted > 0:
        tries = [combo for count in range(5) for combo in combinations(sorted(stock), count)]
        best = min(tries, key=lambda combo: (round(abs(sum(combo) - wanted), 4), len(combo)))
    made = sum(best)
    off = abs(made - wanted)
    good = off <= tolerance + 1e-9
    if good:
        advice = "Lay the stack under every foot of the rail alike." if best else "No spacer is needed."
    elif wanted < 0:
        advice = (
            "The new injectors are shorter: the rail would have to come down. Use extenders or shorter feet."
        )
    else:
        advice = "The shims at hand do not make it. Have one made to the difference, or order the next size."
    call = Call(
        "plan.spacers",
        verdict=Verdict.go if good else Verdict.hold,
        because=(
            Evidence("stack", round(made, 2), round(wanted, 2), unit="mm"),
            Evidence("off by", round(off, 2), tolerance, unit="mm"),
        ),
        do_next=advice,
        source="Seat-to-rail distance, measured",
        title="Spacer stack",
    )
    return SpacerStack(wanted, tuple(best), made=made, call=call)
