"""Fit: the factory computer of the engine that was swapped in, on a harness made for the swap."""

from __future__ import annotations

from dataclasses import replace

from ..basics import HouseRules
from .asked import CheckRow, ChecksAsked
from .fit_common import label_twins, map_first, swap
from .model import Answer, Kit, SheetVehicle, Step

_SEATED = {
    "seated": "Seated, locked and tugged",
    "none": "This swap has none, and nothing looks for it",
    "open": "Open, or its partner is not found",
}
#: Branches that no engine runs without: where one of them is said to be missing, it was not found.
ALWAYS = ("engine", "throttle", "sensors", "supply", "port")
#: Of these an open plug can hurt somebody, or the engine.
PROTECTS = {
    "engine": "engine",
    "throttle": "people",
    "gearbox": "people",
    "body": "people",
    "supply": "people",
}
#: Branch → what is on it and what its lack looks like.
BRANCHES = (
    ("engine", "Engine: injectors, coils, crank and cam", "A cam plug that hangs runs the engine blind."),
    (
        "throttle",
        "Throttle body and pedal, two tracks each",
        "A pedal of another engine reads half way shut.",
    ),
    ("sensors", "Temperatures, pressures, knock, oil", "What is left open rails, and fuel follows it."),
    ("oxygen", "Oxygen sensors: two a bank, front and rear", "Exchanged banks run one rich and one lean."),
    ("gearbox", "Gearbox: lever, speed, its own computer", "It cranks in gear, or never shifts."),
    (
        "body",
        "Body: key, brake, clutch, dash, climate",
        "Without brake and clutch no cruise, and no safe start.",
    ),
    ("supply", "Supplies, fuses and relays of the harness", "Two feeds on one fuse blow it on the road."),
    ("fans", "Fans, fuel pump, charging", "Hot and no fan: the harness had no wire for it."),
    ("port", "Diagnostic port", "Without it no code is read and nothing is written."),
)


def swap_harness(vehicle: SheetVehicle, kit: Kit, rules: HouseRules) -> list[Step]:
    """The computer on its harness, connectors by branch, grounds of the swap."""
    return [
        *map_first(kit, rules),
        *label_twins(kit),
        replace(
            swap(
                kit,
                "Put the computer on its harness",
                "Click, then tug; clear of heat and water, its seal in.",
            ),
            needs=("plan.no_way_back",),
        ),
        Step(
            "fit.branches",
            "fit",
            title="Walk the harness, branch by branch",
            do="From the computer out to each end, hand on the branch: every plug found, seated, tugged.",
            know="Every branch is seated, or this swap has none and nothing looks for it.",
            wrong="A plug that fits two places is in the wrong one; one that hangs shorts on the first bump.",
            evidence="grid",
            grid="checks",
            about=ChecksAsked(
                rows=tuple(
                    CheckRow(
                        key=key,
                        title=title,
                        why=why,
                        answers={k: v for k, v in _SEATED.items() if k != "none" or key not in ALWAYS},
                        good=("seated",) if key in ALWAYS else ("seated", "none"),
                        do_next="Find its partner by the harness maker's list; cap what stays open.",
                        protects=PROTECTS.get(key, ""),
                    )
                    for key, title, why in BRANCHES
                )
            ),
            minutes=25,
        ),
        Step(
            "fit.swap_grounds",
            "fit",
            title="Grounds of the swap: block, body, computer",
            do="Block to body by a strap of its own, computer's ground on bare metal, battery to both.",
            know="Three straps, bare metal, none turns under a finger.",
            wrong="An engine on rubber grounds itself through the throttle cable and the computer.",
            evidence="photo",
            minutes=8,
        ),
    ]


def no_way_back() -> Step:
    """Said in Plan, before anything is ordered or comes off."""
    return Step(
        "plan.no_way_back",
        "plan",
        title="Say that there is no way back",
        do=(
            "Engine and harness are this vehicle's own from here: no stock computer runs it again. What it"
            " means by law and to the insurer is the owner's to ask before the first wire."
        ),
        know="The owner has said yes, with a name in a note.",
        wrong="Found out later it is a fault of yours.",
        evidence="answer",
        answers=(
            Answer("agreed", "The owner knows and agrees"),
            Answer("not", "Not said yet", "hold", "Say it before anything is ordered, cut or pulled."),
        ),
        minutes=3,
    )
