"""Plan: what is said of injectors while their figures, or those of the engine, are not known."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import Call, Evidence, Verdict
from .injector_plan import InjectorPlan


def nothing_to_size(missing: Sequence[str]) -> InjectorPlan:
    """The plan while figures that it needs are not known: it holds, and names them."""
    call = Call(
        "plan.injectors",
        verdict=Verdict.hold,
        because=tuple(Evidence(what, "not known") for what in missing),
        do_next=f"Find out first: {', '.join(missing)}. The stock set may stay meanwhile.",
        source="Injectors are sized from power, pressure and fuel",
        title="Injectors for the goal",
    )
    return InjectorPlan((), (), (call,))


def stock_stays() -> Call:
    """The injectors that are in stay, and no sheet of theirs is on the shelf."""
    return Call(
        "plan.injector",
        verdict=Verdict.hold,
        because=(Evidence("flow of the stock set", "not known"),),
        do_next="They may stay. Type their sheet, or read duty in the stock log: below 85 % they carry it.",
        source="It runs on them now; what they can carry nobody has looked up",
        title="The stock injectors stay",
    )
