"""Fit: injectors, seals, their rail, and what is measured while they are in the hand."""

from __future__ import annotations

from ..basics import HouseRules, Injector
from .asked import CodesAsked, SealsAsked, SetAsked
from .fit_common import label_parts
from .make_safe import FUEL_GATE
from .model import Kit, ReadingWanted, SheetVehicle, Step

#: Where no sheet says: a saturated injector, and a seal that grows back in a minute.
SATURATED, SEAT_WITHIN_S = 12.0, 60.0
SPRAY = "Fuel runs out of the rail: rag under it, eyes covered, nothing that sparks nearby."


def injectors(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A new set: one revision, clean bores, resistance, codes, seals by their kind of injection, rail."""
    about = kit.injector_about
    direct = vehicle.high_pressure
    ohms = (about.ohms if about else None) or SATURATED
    low, high = (10.0, 18.0) if ohms >= 10 else (0.8, 4.0)
    steps = [
        Step(
            "fit.set",
            "fit",
            title="Hold the new set side by side",
            do="Same part number and revision on each; flow sheet in hand.",
            know="One revision across all cylinders.",
            wrong="A mixed set trims itself against itself.",
            evidence="grid",
            grid="injector_set",
            about=SetAsked(count=vehicle.cylinders),
            minutes=6,
        ),
        label_parts(vehicle),
        Step(
            "fit.blow",
            "fit",
            title="Blow the injector bores clean, then lift the rail",
            do="Air first, then pull: straight up, both ends together.",
            know="Every old lower seal came out with its injector.",
            wrong="Dirt pushed down lies on the valve.",
            caution=(
                SPRAY if not direct else f"{SPRAY} The rail was read at or below feed pressure: not before."
            ),
            needs=FUEL_GATE,
            tools=("air gun", "injector puller") if direct else ("air gun",),
            consumables=("rag",),
            minutes=20 if direct else 12,
        ),
        Step(
            "fit.ohms",
            "fit",
            title="Measure the new injectors' resistance",
            do="Each one; enter the lowest.",
            know=(
                "Saturated injectors: 10 Ω or more."
                if ohms >= 10
                else "Peak-and-hold injectors: 1–4 Ω, and a driver made for them."
            ),
            wrong="1–4 Ω burns a driver that expects more.",
            evidence="reading",
            reading=ReadingWanted("lowest resistance", "resistance", "Ω", low=low, high=high),
            tools=("multimeter",),
            minutes=4,
        ),
    ]
    codes = about.codes if about else ()
    if codes:
        steps.append(
            Step(
                "fit.codes_written",
                "fit",
                title="Photograph the code on every body",
                do="Before it goes in: code, cylinder, one picture each or all in order.",
                know="Every digit can be read on the screen.",
                wrong="Once in, the code is hidden under the rail.",
                evidence="photo",
                minutes=6,
            )
        )
    if direct:
        steps += _sized_seals(vehicle, about)
    else:
        steps.append(
            Step(
                "fit.seals",
                "fit",
                shuts="fuel",
                title=f"Seat {vehicle.cylinders} injectors with new seals",
                do="New upper and lower seals, oiled; press, do not twist in.",
                know="Each turns by hand under light force.",
                wrong="A pinched lower seal leaks air: high idle later.",
                consumables=("upper O-rings", "lower seals", "clean engine oil"),
                minutes=4 * vehicle.cylinders,
            )
        )
    nm = kit.rail_bolt_nm
    here = "it is not known yet" if nm is None else f"here {nm:g} N·m unless the book says otherwise"
    # What nobody knows is no figure that could be met.
    low, high = (0.0, 0.0) if nm is None else (0.95 * nm, 1.05 * nm)
    steps.append(
        Step(
            "fit.rail",
            "fit",
            shuts="fuel",
            title="Torque the rail bolts",
            do=f"Each back by its label. Maker's figure; {here}.",
            know="Clicks on each bolt, twice round.",
            wrong="Uneven bolts tilt the rail.",
            evidence="reading",
            reading=ReadingWanted("torque used", "torque", "N·m", low=low, high=high),
            tools=("torque wrench 5–25 N·m",),
            minutes=6,
        )
    )
    if codes:
        steps.append(
            Step(
                "fit.codes",
                "fit",
                title="Enter the body codes and read them back",
                do="Value to enter beside each code; after entry read the computer back.",
                know="Every cylinder reads back within half a storage step.",
                wrong="Two crossed codes drive like a misfire.",
                evidence="grid",
                grid="body_codes",
                about=CodesAsked(cylinders=vehicle.cylinders, fields=codes),
                needs=("fit.rail",),
                tools=("tester",),
                minutes=10,
            )
        )
    return steps


def _sized_seals(vehicle: SheetVehicle, about: Injector | None) -> list[Step]:
    within = about.seat_within_s if about else SEAT_WITHIN_S
    return [
        Step(
            "fit.decoupling",
            "fit",
            title="New decoupling rings on every injector",
            do="Always new, whatever the old ones look like.",
            know="Each sits square.",
            wrong="An old ring lets the injector hammer.",
            consumables=("decoupling rings", "upper O-rings"),
            minutes=6,
        ),
        Step(
            "fit.sizing",
            "fit",
            shuts="fuel",
            title="Size each tip seal, then seat it in time",
            do=(
                "Expand over the cone, sizing dies in their order; after the last die the seal grows back."
                " Start its timer at the last die, stop it when seated."
            ),
            know="Every injector was seated before its time ran out.",
            wrong="Over the time: size it again, or it tears going in.",
            evidence="grid",
            grid="seal_timers",
            about=SealsAsked(cylinders=vehicle.cylinders, seconds=within),
            tools=("seal sizing dies",),
            consumables=("tip seals",),
            caution="Touch nothing with the tip on the way in; clean gloves.",
            minutes=6 * vehicle.cylinders,
        ),
    ]
