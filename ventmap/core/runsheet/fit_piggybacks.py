"""Fit: devices between the harness and the stock computer."""

from __future__ import annotations

from ..basics import HouseRules, InjectorPiggyback, InlineController, SensorPiggyback
from .asked import SidesAsked
from .fit_common import label_twins, row, swap
from .make_safe import FUEL_GATE
from .model import Answer, Kit, SheetVehicle, Step


def sensor_piggyback(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between sensor and computer: the right one of two look-alikes, the right way round, bypass plug
    stowed.
    """
    steps = []
    module = kit.about if isinstance(kit.about, SensorPiggyback) else None
    for index, pair in enumerate((module.look_alikes if module else None) or ()):
        steps.append(
            Step(
                f"fit.tap_{index + 1}",
                "fit",
                title=f"Find the {pair.name}",
                do=f"The device names this one: {pair.tell}.",
                know=f"The picture shows {pair.tell}.",
                wrong=f"On the {pair.other} the computer sees nonsense and goes to limp mode.",
                evidence="photo",
                beware=(f"Look-alike: the {pair.other} has the same plug. Label both before pulling either."),
                minutes=6,
            )
        )
    warm = module.warm_up_s if module else None
    steps += [
        swap(
            kit,
            "Put the module between sensor and harness",
            "Sensor side to sensor, harness side to harness; click, then tug.",
        ),
        Step(
            "fit.bypass",
            "fit",
            title="Stow the bypass plug with the vehicle",
            do="In its bag, dry, where the owner finds it: with it in, the vehicle is stock again.",
            know="It is where the owner was told.",
            wrong="Lost, a limp mode on a Sunday stays one.",
            minutes=2,
        ),
    ]
    if module is None or module.levels != ():
        steps.append(
            Step(
                "fit.level",
                "fit",
                title="Set the power level for the fuel in the tank",
                do="Never above what the octane allows.",
                know="Level and lamp agree with the sheet.",
                wrong="A level for better fuel knocks on this one.",
                evidence="answer",
                answers=tuple(
                    _level(n, ron, vehicle.ron) for n, ron in (module.levels if module else None) or ()
                )
                or (
                    Answer("lowest", "lowest level"),
                    Answer("higher", "higher", verdict="hold", advice="Check the octane first."),
                ),
                minutes=2,
            )
        )
    if warm:
        steps.append(
            Step(
                "fit.warm_delay",
                "fit",
                title=f"Set the warm-up delay: {warm:g} s",
                do="The module stays passive until then.",
                know="The lamp shows passive after a start.",
                wrong="Boost on cold oil wears the turbo.",
                minutes=2,
            )
        )
    return steps


def _level(number: int, needs: float, tank: float | None) -> Answer:
    """A power level against the octane in the tank."""
    if tank is None:
        return Answer(
            f"level_{number}",
            f"level {number}",
            verdict="hold",
            advice=f"Level {number} needs {needs:g} RON; what is in the tank nobody has said: save Intake.",
        )
    if needs > tank:
        return Answer(
            f"level_{number}",
            f"level {number}",
            verdict="hold",
            advice=(
                f"Level {number} needs {needs:g} RON and {tank:g} is in the tank: a lower level, or other"
                " fuel first."
            ),
        )
    return Answer(
        f"level_{number}",
        f"level {number}",
        verdict="go",
        advice=f"Level {number} needs {needs:g} RON; {tank:g} is in the tank.",
    )


def injector_piggyback(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between injectors and harness: the shared feed of every plug by continuity, then its lead."""
    plugs = [str(n + 1) for n in range(vehicle.cylinders)]
    steps = [
        Step(
            "fit.common",
            "fit",
            title="Find the shared feed of the injector plugs",
            do="All plugs off their injectors, meter on continuity, pin to pin across plugs.",
            know="Each plug has exactly one marked side.",
            wrong="A plug still seated on its injector makes both sides beep.",
            evidence="grid",
            grid="common_side",
            about=SidesAsked(plugs=tuple(plugs), pins=("A", "B"), banks=vehicle.banks or 1),
            caution=("Key out and away, battery off. A meter on a live circuit lies and can blow its fuse."),
            tools=("multimeter",),
            minutes=12,
        ),
        Step(
            "fit.feed_lead",
            "fit",
            title="Seat the feed lead on the marked side of every plug",
            do="Plug by plug, as the picture above said. Click, then tug.",
            know="Every plug, the marked side.",
            wrong="On the switched side the injector never closes.",
            needs=("fit.common",),
            shows="fit.common",
            minutes=10,
        ),
    ]
    steps = [*row(kit), *steps]
    if isinstance(kit.about, InjectorPiggyback) and kit.about.temperature_probe:
        steps.append(
            Step(
                "fit.probe",
                "fit",
                title="Fix the engine-temperature probe",
                do="On bare metal of the head, not on a hose; strap and paste.",
                know="It cannot be turned by hand.",
                wrong="In the air it calls a warm engine cold and overfuels it.",
                consumables=("thermal paste", "strap"),
                minutes=6,
            )
        )
    return steps


def ethanol_sensor(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """The sensor in the feed line, for any device that asks for one."""
    if not (kit.about and kit.about.ethanol_sensor):
        return []
    return [
        Step(
            "fit.feed_line",
            "fit",
            title="Fit the ethanol sensor into the feed line",
            do=(
                "Cuts and fittings from the sum in Plan; arrow with the flow; the original line is kept,"
                " capped."
            ),
            know="Hose marks at their depth, no kink through full engine movement.",
            wrong="Against the arrow some sensors read nothing.",
            caution=(
                "The feed line is opened: fuel is relieved, rag, eye protection, extinguisher, no flame or"
                " spark."
            ),
            needs=FUEL_GATE,
            tools=("hose cutter",),
            consumables=("fuel hose", "hose clips", "rag"),
            minutes=35,
        )
    ]


def inline_controller(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between harness and computer on small vehicles: selector, and the shift sensor with its rod."""
    steps = [
        *row(kit),
        *label_twins(kit),
        swap(
            kit,
            "Put the controller between harness and computer",
            "Pair by pair, its plug into theirs; click, then tug.",
        ),
        Step(
            "fit.selector",
            "fit",
            title="Mount the selector where a glove finds it",
            do="Position, lamp colour and rev limit as the legend says; learner position is the lowest.",
            know="Each position shows its own colour.",
            wrong="A selector that turns by itself changes the map in a bend.",
            minutes=12,
        ),
    ]
    if isinstance(kit.about, InlineController) and kit.about.shift_sensor:
        steps.append(
            Step(
                "fit.shift_rod",
                "fit",
                title="Fit the shift sensor and its rod",
                do="Length from the sum in Plan. Count the threads, locknuts tight, paint marks.",
                know="Pedal height as before; it moves freely to both stops.",
                wrong="A rod that lets go leaves the rider in the wrong gear.",
                caution=(
                    "The rod is a safety part: thread engaged at least 1 diameter in steel, 1.5 in aluminium,"
                    " at each end."
                ),
                tools=("thread gauge",),
                consumables=("paint marker",),
                minutes=20,
            )
        )
    return steps
