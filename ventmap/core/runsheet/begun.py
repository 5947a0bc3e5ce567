"""What was begun on a vehicle is shut before there is power, whatever is asked of that vehicle since.

A sheet is written from the kit as it is now. What hands have done follows another clock: a rail that is off
stays off when the kit becomes a flasher. So what was begun is remembered with the job, and what today's sheet
asks no more is asked once in a step of its own.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from ..basics import AccessItem
from .asked import AccessAsked, CheckRow, ChecksAsked
from .make_safe import FUEL_GATE
from .model import Begun, SheetVehicle, Step

#: The step that asks what today's sheet asks no more.
EARLIER = "fit.earlier"
#: Steps of Fit that look, measure, hold or shut; every other one takes something apart or puts something on.
LOOKS = frozenset(
    {
        EARLIER,
        "fit.adapters",
        "fit.access",  # what is off is known item by item
        "fit.bypass",
        "fit.case_torque",
        "fit.close_case",
        "fit.codes",
        "fit.codes_written",
        "fit.connectors",
        "fit.coolant_level",
        "fit.covers",
        "fit.crimps",
        "fit.decoupling",
        "fit.ground_drop",
        "fit.grounds",
        "fit.labels",
        "fit.lines",
        "fit.level",
        "fit.map_first",
        "fit.numbers",
        "fit.ohms",
        "fit.oil_level",
        "fit.pin_plan",
        "fit.port",
        "fit.power",
        "fit.rail",
        "fit.refit",
        "fit.routing",
        "fit.row",
        "fit.seal_case",
        "fit.seals",
        "fit.set",
        "fit.set_of_maps",
        "fit.sizing",
        "fit.strap",
        "fit.tap_1",
        "fit.tap_2",
        "fit.tidy",
        "fit.torque",
        "fit.twins",
        "fit.warm_delay",
        "fit.wont",
    }
)
#: Beside Fit: what is drained has to be filled again.
ALSO = ("make-safe.drain",)
#: Stages in which a stop is found on the vehicle itself; elsewhere on its sheet, its map or its owner's wish.
ON_IT = ("fit", "first-start")

_ANSWERS = {
    "back": "As it was, tight and full",
    "stays": "Stays as fitted, shut and tight",
    "open": "Something of it is open, off or loose",
}
#: The same of a stop that was found at it.
_FOUND = {"back": "It is off the vehicle", "stays": "It is right now", "open": "It is still so"}


def alters(step: Step) -> bool:
    """Whether doing it takes something of the vehicle apart, or puts something on."""
    return step.key in ALSO or (step.stage == "fit" and _plain(step.key) not in LOOKS)


def _plain(key: str) -> str:
    """The key without the number of the kit that it is for."""
    head, _, tail = key.rpartition("-")
    return head if head and tail.isdigit() else key


def remembered(
    begun: Iterable[Begun], steps: Sequence[Step], done: Collection[str], filled: Collection[str]
) -> tuple[Begun, ...]:
    """What is begun: what was, and what today's sheet shows.

    Parameters
    ----------
    begun : iterable of Begun
        As it was remembered.
    steps : sequence of Step
        Today's sheet.
    done, filled : collection of str
        Keys of steps that are done, not set aside; of those with something entered in their grid.

    Notes
    -----
    From its relief on, fuel may be open at any step that opens it: nobody ticks while a line drips.
    """
    kept = {one.key: one for one in begun}
    for step in steps:
        fuel = opens_fuel_at(step)
        if alters(step) and (step.key in done or step.key in filled or (fuel and FUEL_GATE[-1] in done)):
            kept.setdefault(step.key, Begun(step.key, step.title, fuel=fuel))
    return tuple(kept.values())


def mistaken(begun: Iterable[Begun], done: Collection[str], filled: Collection[str]) -> tuple[Begun, ...]:
    """What is begun once a relief was taken back as never done: no fuel, where nothing of Fit was touched."""
    if any(key.startswith("fit.") for key in (*done, *filled)):
        return tuple(begun)
    return tuple(one for one in begun if not one.fuel)


def opens_fuel_at(step: Step) -> bool:
    """Whether a step opens fuel: it needs that its pressure was relieved. What only needs a cool engine, as
    draining does, opens none.
    """
    return FUEL_GATE[-1] in step.needs


def off(was: Iterable[AccessItem], step: Step | None, rows: Sequence[Mapping[str, Any]]) -> list[AccessItem]:
    """What is off the vehicle by what was entered on the way in, whatever that way is now."""
    kept = {item.name: item for item in was}
    told = {str(row.get("name", "")): bool(row.get("off")) for row in rows}
    about = step.about if step else None
    for item in about.items if isinstance(about, AccessAsked) else ():
        if told.get(item.name):
            kept[item.name] = item
        elif item.name in told:
            kept.pop(item.name, None)
    return list(kept.values())


def earlier(vehicle: SheetVehicle) -> list[Step]:
    """One look at all that was begun and is no part of this sheet."""
    if not vehicle.earlier:
        return []
    rows = tuple(
        CheckRow(
            key=one.key,
            title=f"Found: {one.title}" if one.found else one.title,
            why=one.found or "It was begun for what was to be fitted before.",
            answers=_FOUND if one.found else _ANSWERS,
            good=("back", "stays"),
            do_next="Shut it, or put it back, before there is power.",
            protects="people",
        )
        for one in vehicle.earlier
    )
    fuel = any(one.fuel for one in vehicle.earlier)
    return [
        Step(
            EARLIER,
            "fit",
            title="Shut what was begun before the kit changed",
            do="Each of it by hand and lamp: joints, plugs, wires, straps, levels. What this sheet asks no"
            " longer is put back as it was, or stays and is shut.",
            know="Nothing of it is open, bare or loose.",
            wrong="A sheet forgets what a vehicle does not: a rail left loose sprays with the first key.",
            evidence="grid",
            grid="checks",
            about=ChecksAsked(rows=rows),
            caution="Fuel may be open: no flame, no spark, no power before every joint is shut."
            if fuel
            else "No power before every lead is covered or seated.",
            minutes=float(3 * len(rows)),
        )
    ]


@dataclass(frozen=True)
class Memory:
    """What a job remembers of its vehicle: work that was begun, what came off it, and the last number that a
    part beside the kit was given.
    """

    begun: tuple[Begun, ...] = ()
    off: tuple[AccessItem, ...] = ()
    parts: int = 0

    def to_json(self) -> dict[str, Any]:
        return {
            "begun": [asdict(one) for one in self.begun],
            "off": [item.model_dump(mode="json") for item in self.off],
            "parts": self.parts,
        }

    @classmethod
    def from_json(cls, kept: Mapping[str, Any]) -> Memory:
        return cls(
            tuple(Begun(**one) for one in kept.get("begun", ())),
            tuple(AccessItem.model_validate(item) for item in kept.get("off", ())),
            int(kept.get("parts", 0)),
        )
