"""The vehicle comes apart: what comes off to reach the work, in its order, and goes back in the other."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..basics import AccessItem, HouseRules
from .asked import AccessAsked, RefitAsked
from .make_safe import FUEL_GATE
from .model import Answer, Kit, SheetVehicle, Step
from .opening import CAUTIONS, at_engine, comes_off, opened

#: The step that takes things off; and what has to be done before anything runs → what opened it.
ACCESS = "fit.access"
SHUT_AGAIN: Mapping[str, tuple[str, ...]] = {
    "fit.refit": (ACCESS,),
    "fit.oil_level": (ACCESS,),
    "fit.coolant_level": (ACCESS, "make-safe.drain"),
}


def take_off(vehicle: SheetVehicle, kits: Sequence[Kit]) -> list[Step]:
    """The way in. Nobody has said what comes off: the step asks it; nothing comes off: no step."""
    items = comes_off(vehicle, kits)
    unsaid = any(map(at_engine, kits)) and vehicle.access is None
    if not items and not unsaid:
        return []
    found = opened(vehicle, kits)
    brittle = [item.name for item in items if item.care == "brittle"]
    return [
        Step(
            ACCESS,
            "fit",
            title="Take off what is in the way, in this order",
            do="Bag the fasteners of each by itself, label the bag and every plug; cover open ports at once.",
            know="Each lies by itself, and nothing had to be forced.",
            wrong="What is forced breaks; what is not labelled goes back wrong; what falls in a port is found"
            " by the engine.",
            evidence="grid",
            grid="access",
            about=AccessAsked(items=items),
            caution=" ".join(CAUTIONS[what] for what in CAUTIONS if what in found),
            beware=f"Brittle, below 10 °C above all: {', '.join(brittle)}." if brittle else "",
            needs=(
                *(FUEL_GATE if "fuel" in found else ()),
                *(("make-safe.drain",) if "coolant" in found else ()),
            ),
            tools=("trim tool", "labels and bags"),
            minutes=float(4 * len(items)),
        )
    ]


def put_back(vehicle: SheetVehicle, kits: Sequence[Kit], rules: HouseRules) -> tuple[list[Step], list[Step]]:
    """The way out, backwards: before there is power what seals or is torqued, after it the covers."""
    items = comes_off(vehicle, kits)[::-1]
    found = opened(vehicle, kits)
    first = tuple(item for item in items if item.nm is not None or item.opens or item.renew)
    covers = tuple(item for item in items if item not in first)
    before, after = [], []
    if first:
        before.append(
            _back(
                "fit.refit",
                "Put back what seals and what is torqued, backwards",
                first,
                rules,
                needs=(ACCESS, *(FUEL_GATE if "fuel" in found else ())),
                counted=not covers,
            )
        )
    if covers:
        after.append(_back("fit.covers", "Put the covers back, backwards", covers, rules, needs=(ACCESS,)))
    if "oil" in found:
        before.append(
            _level("fit.oil_level", "oil", "Oil to its mark", "Started with less, bearings go first.")
        )
    if "coolant" in found:
        wrong = "Air at the thermostat: it boils in minutes."
        before.append(_level("fit.coolant_level", "coolant", "Fill and bleed the coolant", wrong))
    return before, after


def _back(
    key: str,
    title: str,
    items: tuple[AccessItem, ...],
    rules: HouseRules,
    needs: tuple[str, ...],
    counted: bool = True,
) -> Step:
    renew = tuple(dict.fromkeys(item.renew for item in items if item.renew))
    new = tuple(f"fasteners of {item.name}" for item in items if item.care == "one-use")
    return Step(
        key,
        "fit",
        title=title,
        do="The last that came off goes back first; its bag empties. The maker's figure wins; gaskets and"
        " one-use fasteners new.",
        know="No bag is left, and nothing is left over.",
        wrong="A screw that is left over is missing somewhere, or lies where it turns.",
        evidence="grid",
        grid="refit",
        about=RefitAsked(
            items=items,
            counted=counted,
            snug_allowed=rules.school("fit.torque_school") == "snug allowed",
        ),
        needs=needs,
        consumables=(*renew, *new),
        minutes=float(5 * len(items)),
    )


def _level(key: str, what: str, title: str, wrong: str) -> Step:
    return Step(
        key,
        "fit",
        title=title,
        do=f"Fill what ran out, with the maker's {what}; look again after the first minutes of running.",
        know="At its mark, and it stays there.",
        wrong=wrong,
        evidence="answer",
        answers=(
            Answer("full", "At its mark"),
            Answer("low", "Below it", "stop", "Fill it first: nothing is started before."),
        ),
        needs=("fit.refit",),
        minutes=6,
    )
