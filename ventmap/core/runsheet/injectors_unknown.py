"""Plan: what is said of injectors while their figures, or those of the engine, are not known."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import Call, Evidence, Verdict
from ..fuel import FuelDemand, blend, pulse_multiplier
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


def cannot_feed(demand: FuelDemand, why: str) -> InjectorPlan:
    """A rail that does not follow the manifold and lies below the boost: no injector feeds there."""
    call = Call(
        "plan.injectors",
        verdict=Verdict.stop,
        because=(
            Evidence("rail, gauge", demand.rail_kpa, unit="kPa"),
            Evidence("boost with this kit", demand.boost_kpa, unit="kPa"),
        ),
        do_next=f"{why} More rail pressure, a regulator that follows the manifold, or less boost.",
        source="rail absolute minus manifold absolute",
        title="Injectors for the goal",
        protects="engine",
    )
    return InjectorPlan((), (), (call,))


def stock_stays(duty_limit: float, ethanol: float, in_the_tank: float) -> Call:
    """The injectors that are in stay, and no sheet of theirs is on the shelf.

    Parameters
    ----------
    duty_limit : float
        That is planned for [fraction].
    ethanol, in_the_tank : float
        Most that this kit runs, and what the stock log is driven on [fraction].
    """
    longer = pulse_multiplier(blend(ethanol)) / pulse_multiplier(blend(in_the_tank))
    below = 100.0 * duty_limit / longer
    on = f", on {100 * in_the_tank:.0f} % ethanol: on {100 * ethanol:.0f} % it is {longer:.2f} times that"
    more = on if longer > 1.0005 else ""
    return Call(
        "plan.injector",
        verdict=Verdict.hold,
        because=(Evidence("flow of the stock set", "not known"),),
        do_next=f"They may stay. Type their sheet, or read duty in the stock log: below {below:.0f} % they"
        f" carry the power that is driven there{more}. More power asks for more in proportion.",
        source="It runs on them now; what they can carry nobody has looked up",
        title="The stock injectors stay",
    )
