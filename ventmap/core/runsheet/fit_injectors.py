"""Fit: injectors, seals, their rail, and what is measured while they are in the hand."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import Call, Evidence, HouseRules, Injector, Verdict
from .asked import CheckRow, ChecksAsked, CodesAsked, SealsAsked, SetAsked
from .fit_common import label_parts
from .make_safe import FUEL_GATE
from .model import Kit, ReadingWanted, SheetVehicle, Step

#: Where no sheet says: a saturated injector, and a seal that grows back in a minute.
SATURATED, SEAT_WITHIN_S = 12.0, 60.0
#: Coils of a saturated and of a peak-and-hold injector, of a direct one, and a piezo stack [Ω].
COILS, LOW_COILS, DIRECT_COILS, PIEZO = (10.0, 18.0), (0.8, 4.0), (0.5, 16.0), (150_000.0, 250_000.0)
SPRAY = "Fuel runs out of the rail: rag under it, eyes covered, nothing that sparks nearby."


def injectors(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A new set: one revision, clean bores, resistance, codes, seals by their kind of injection, rail."""
    about = kit.injector_about
    direct = vehicle.high_pressure
    resistance = _resistance(direct, about.ohms if about else None)
    steps = [
        Step(
            "fit.set",
            "fit",
            title="Hold the set side by side",
            do="Same part number and revision on each; flow sheet in hand.",
            know="One revision across all cylinders.",
            wrong="A mixed set trims itself against itself.",
            evidence="grid",
            grid="injector_set",
            about=SetAsked(count=vehicle.cylinders),
            minutes=6,
        ),
        *_adapted(kit),
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
            title="Measure the injectors' resistance",
            do="Each one; enter the lowest.",
            know=resistance.know,
            wrong=resistance.wrong,
            evidence="reading",
            reading=resistance.reading,
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
    if direct:
        steps.append(_lines())
    if codes:
        steps.append(
            Step(
                "fit.codes",
                "fit",
                title="Enter the body codes and read them back",
                do="First read what the computer holds of the old set; then enter the value beside each code,"
                " and read it back.",
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


def _adapted(kit: Kit) -> list[Step]:
    """What the set needs to go in, laid out and tried dry before anything is opened."""
    if not kit.injector_work:
        return []
    rows = tuple(
        CheckRow(
            key=f"{place}",
            title=f"{work[0].upper()}{work[1:]}",
            why="By the sizes of rail, seat and injector, as Plan compared them.",
            answers={"yes": "One for each, it fits", "no": "Missing, or it does not fit"},
            do_next="Get what fits first: with the rail in the hand it is too late.",
        )
        for place, work in enumerate(kit.injector_work, 1)
    )
    return [
        Step(
            "fit.adapters",
            "fit",
            title="Try dry what the injectors need to go in",
            do="On the bench: each injector with its parts, in a spare rail end or by calliper.",
            know="All alike, none tilts, no ring is pinched.",
            wrong="An adapter that is missing is found with the fuel open.",
            evidence="grid",
            grid="checks",
            about=ChecksAsked(rows=rows),
            tools=("calliper",),
            consumables=kit.injector_work,
            minutes=float(4 + 2 * len(rows)),
        )
    ]


@dataclass(frozen=True)
class _Resistance:
    know: str
    wrong: str
    reading: ReadingWanted


def _resistance(direct: bool, ohms: float | None) -> _Resistance:
    """What a meter must show: by the sheet's own figure, or by what is usual for the kind of injection."""
    driver = "1–4 Ω burns a driver that expects more."
    if direct and ohms is None:
        know, wrong = "A coil 0.5–16 Ω, a piezo stack 150–250 kΩ; all alike.", "Between them it is neither."
        asked = ReadingWanted("lowest resistance", "resistance", "Ω", judge="direct injector")
        return _Resistance(know, wrong, asked)
    if direct and ohms is not None:
        piezo = ohms > DIRECT_COILS[1]
        low, high = PIEZO if piezo else DIRECT_COILS
        know = "A piezo stack: 150–250 kΩ, all alike." if piezo else "A coil: 0.5–16 Ω, all alike."
        wrong = "Lower it leaks inside, higher it is torn."
    else:
        saturated = (ohms or SATURATED) >= COILS[0]
        (low, high), wrong = COILS if saturated else LOW_COILS, driver
        know = "Saturated injectors: 10 Ω or more."
        know = know if saturated else "Peak-and-hold injectors: 1–4 Ω, and a driver made for them."
    asked = ReadingWanted("lowest resistance", "resistance", "Ω", low=low, high=high)
    return _Resistance(know, wrong, asked)


def direct_ohms(rule: str, title: str, ohms: float) -> Call:
    """Resistance of a direct injector of which no sheet is at hand: a coil's, a piezo stack's, or neither."""
    sound = any(low <= ohms <= high for low, high in (DIRECT_COILS, PIEZO))
    return Call(
        rule,
        verdict=Verdict.go if sound else Verdict.hold,
        because=(Evidence("lowest resistance", round(ohms, 1), "a coil or a stack", unit="Ω"),),
        do_next="As a coil or a piezo stack reads."
        if sound
        else "Neither a coil nor a piezo stack: measure at the injector's own pins, then change it.",
        source="Coils and piezo stacks of direct injection; the maker's figure wins",
        title=title,
    )


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


def _lines() -> Step:
    """What holds and feeds each direct injector, by its place."""
    return Step(
        "fit.lines",
        "fit",
        shuts="fuel",
        title="Hold-downs, lines and leak-off back, each at its place",
        do="Clamp and bolt by the maker's figure, new where one-use. Lines to the cylinder they came from,"
        " nuts new where one-use, counter-held: the maker's torque, often 25–30 N·m, or snug plus angle."
        " Leak-off clips and O-rings by count.",
        know="Every line by its label, every clip counted, nothing is left over.",
        wrong="A one-use nut that is used twice cracks under two thousand bar.",
        caution="Fuel under rail pressure cuts skin: nobody feels for a leak by hand.",
        tools=("flare spanner", "counter-hold spanner", "torque wrench 5–25 N·m"),
        consumables=("line nuts where one-use", "leak-off O-rings"),
        minutes=12,
    )
