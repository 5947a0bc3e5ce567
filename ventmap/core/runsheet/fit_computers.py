"""Fit: devices that take the place of the stock computer."""

from __future__ import annotations

from ..basics import HouseRules, Standalone
from .asked import PinsAsked
from .fit_common import STATIC, case_torque, hose, label_twins, map_first, swap
from .model import Kit, SheetVehicle, Step


def plug_in(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """On the stock connectors: twins labelled, stock computer shelved, hose from the whole plenum."""
    return [
        *map_first(kit, rules),
        *label_twins(kit),
        swap(
            kit,
            "Swap the computer, plug by plug",
            "Click, then tug. The stock computer goes on the shelf, labelled.",
        ),
        *hose(kit),
    ]


def stock_case(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """Its board goes into the stock case: opened without a mark, hole without a chip, sealed all round."""
    return [
        Step(
            "fit.open_case",
            "fit",
            title="Open the factory case and lift its board out",
            do=(
                "Warm the sealant, pry evenly, note each screw. The board goes on the shelf, bagged and"
                " labelled."
            ),
            know="Board and case are unmarked.",
            wrong="A slipped blade cuts a track.",
            evidence="photo",
            caution=STATIC,
            tools=("wrist strap", "plastic wedge", "heat gun"),
            minutes=25,
        ),
        Step(
            "fit.case_hole",
            "fit",
            title="Make the hole for the hose",
            do="Before the new board goes in; deburr, blow out every chip, grommet in.",
            know="No chip rattles.",
            wrong="A chip under a board is a short in a year.",
            tools=("step drill", "air gun"),
            consumables=("grommet",),
            minutes=12,
        ),
        Step(
            "fit.close_case",
            "fit",
            title="New board in, lid on, every screw back",
            do="Board flat on its posts, hose on its nipple, lid on dry; screws crosswise, each in its hole.",
            know="The lid lies flat; no screw is left over.",
            wrong="A board that is clamped on a wire cracks.",
            caution=STATIC,
            minutes=10,
        ),
        *case_torque(kit, rules),
        Step(
            "fit.seal_case",
            "fit",
            title="Seal the lid",
            do="Even bead, all round and over the hole's grommet, let it skin.",
            know="No gap in the bead.",
            wrong="Water finds the gap.",
            needs=tuple(step.key for step in case_torque(kit, rules)) or ("fit.close_case",),
            consumables=("case sealant",),
            minutes=6,
        ),
        *map_first(kit, rules),
        *label_twins(kit),
        swap(kit, "Plug the case in again", "Click, then tug."),
        *hose(kit),
    ]


def adapted_harness(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A harness made for another car: what it will not control is told first, then the pin plan, then the
    pins.
    """
    wont = (kit.about.will_not_control if kit.about else None) or ()
    steps = []
    if wont:
        steps.append(
            Step(
                "fit.wont",
                "fit",
                title="Tell the owner what it will not control",
                do=f"It does not run: {', '.join(wont)}. Say it before the first wire moves.",
                know="The owner agrees, in a note.",
                wrong="Found out later it is a fault of yours.",
                minutes=3,
            )
        )
    return steps + [
        Step(
            "fit.pin_plan",
            "fit",
            title="Make the pin plan",
            do="Every pin of both connectors: keep, pull, move, join or insulate, with its label.",
            know="Every function the computer needs has exactly one pin.",
            wrong="A pin used twice burns one of its owners.",
            evidence="grid",
            grid="pin_plan",
            about=PinsAsked(needs=(kit.about.functions if isinstance(kit.about, Standalone) else None) or ()),
            tools=("terminal tool", "multimeter"),
            minutes=60,
        ),
        Step(
            "fit.move_pins",
            "fit",
            title="Move the pins by the plan",
            do="One at a time, label first, tug each; cover every pulled end.",
            know="The list is ticked to its end.",
            wrong="Two pins out at once is one pin wrong.",
            needs=("fit.pin_plan",),
            tools=("terminal tool",),
            consumables=("heat-shrink", "label tape"),
            minutes=90,
        ),
        *map_first(kit, rules),
        *label_twins(kit),
        swap(kit, "Plug the computer in", "Click, then tug."),
        *hose(kit),
    ]


def swapped_computer(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """A second stock computer: plugs, and the ground strap that came off with the first."""
    return [
        *map_first(kit, rules),
        *label_twins(kit),
        swap(
            kit,
            "Swap the computers, plug by plug",
            "Click, then tug. VIN and calibration identity were copied: see Baseline.",
        ),
        Step(
            "fit.strap",
            "fit",
            title="Put the ground strap back",
            do="The strap that came off with the old computer, bare metal both ends.",
            know="It does not turn under a finger.",
            wrong="Left off, the computer grounds itself through a sensor.",
            evidence="photo",
            minutes=4,
        ),
    ]
