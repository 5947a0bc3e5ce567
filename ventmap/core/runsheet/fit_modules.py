"""Fit: devices at the diagnostic port, injector drivers and modules on the body network."""

from __future__ import annotations

from ..basics import HouseRules
from .fit_common import label_twins, swap
from .model import Answer, Kit, ReadingWanted, SheetVehicle, Step


def flasher(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Through the diagnostic port: nothing may pull the cable, and the parts of the map must be there."""
    return [
        Step(
            "fit.port",
            "fit",
            title="Find the diagnostic port and the cable's route",
            do="Nothing will pull it on its way; it is not in the way of anyone who walks past.",
            know="The plug sits to its stop.",
            wrong="A cable that is pulled in a write costs a computer.",
            evidence="photo",
            minutes=3,
        ),
        Step(
            "fit.filter",
            "fit",
            title="Fit the parts the map was made for",
            do="Intake, exhaust, sensors: as the map's sheet lists them.",
            know="List and vehicle agree.",
            wrong="A map for parts that are not there runs rich or lean.",
            minutes=20,
        ),
    ]


def remote_flasher(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """As a flasher, with the sensor that the tuner reads by."""
    return [
        *flasher(vehicle, kit, rules),
        Step(
            "fit.wideband",
            "fit",
            title="Fit the wideband sensor the tuner asks for",
            do="Upright, cable clear of the exhaust, away from a leak.",
            know="It reads lambda 20+ in air.",
            wrong="Before a leaking joint it reads lean.",
            consumables=("sensor paste",),
            tools=("sensor socket",),
            minutes=25,
        ),
    ]


def driver_module(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A separate injector driver: its map, the engine's and the gearbox's are one matched set."""
    return [
        Step(
            "fit.set_of_maps",
            "fit",
            title="Check that module, engine and gearbox maps are one set",
            do="Set number on all three.",
            know="One number.",
            wrong="Stacked maps add up: an over-fuelled diesel melts pistons.",
            evidence="answer",
            answers=(
                Answer("one", "One matched set"),
                Answer(
                    "mixed", "Not one set", verdict="stop", advice="Do not fit it: ask for the matched set."
                ),
            ),
            minutes=4,
        ),
        *label_twins(kit),
        swap(
            kit,
            "Plug the driver module in",
            "Old module off its bracket, new one on, plug by plug. Click, then tug.",
        ),
    ]


def body_network(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Between engine and body computer: the bus measured without power, the settings of this engine."""
    return [
        swap(
            kit,
            "Put the module between engine and body computer",
            "Power off; pair by pair. Click, then tug.",
        ),
        Step(
            "fit.can",
            "fit",
            title="Measure the bus with power off",
            do="Between the two wires, both ends plugged.",
            know="60 Ω: two terminators.",
            wrong="120 is one missing, 40 one too many.",
            evidence="reading",
            reading=ReadingWanted("between the wires", "resistance", "Ω", judge="can"),
            tools=("multimeter",),
            minutes=4,
        ),
        Step(
            "fit.numbers",
            "fit",
            title="Take the settings list of this engine",
            do="Numbers differ by engine: the sheet for this one, printed.",
            know="Engine on the sheet and on the plate agree.",
            wrong="A number for another engine switches another thing.",
            minutes=3,
        ),
    ]
