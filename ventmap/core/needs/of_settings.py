"""What is asked of what a device does and how it is set: levels, bounds, times, what it will not control."""

from __future__ import annotations

from typing import Any

from ..basics import DeviceKind
from .of_device import COMPUTERS, FLASHERS, INJECTOR, INLINE, MODULES, SENSOR
from .question import TEXT, Column, Question, texts


def _levels(rows: list[dict[str, Any]]) -> list[list[float]]:
    return [[round(row["number"]), row["ron"]] for row in rows]


OF_SETTINGS: tuple[Question, ...] = (
    Question(
        "device",
        "options",
        title="Which of its options are worth having?",
        found="The maker's price list: wireless link, map switch, wideband, longer harness.",
        without="None is offered to the owner.",
        steps=("plan.parts",),
        form="list",
        columns=TEXT,
        build=texts,
        none="It has none",
    ),
    Question(
        "device",
        "trim_bounds",
        title="Within which bounds does it trim fuel?",
        found="Its sheet or its software: like −25 to +40 %.",
        without="Nobody can say whether a trim lies within what it can do.",
        steps=("base-map.settings",),
        form="pair",
        quantity="fraction",
        unit="%",
        kinds=(INLINE,),
    ),
    Question(
        "device",
        "will_not_control",
        title="What will it not control?",
        found="Its maker's list of functions: gearbox, cruise, purge, cooling fan.",
        without="The owner is told before the first wire moves, or it is a fault of yours.",
        steps=("fit.pin_plan",),
        must=True,
        form="list",
        columns=TEXT,
        build=texts,
        none="It controls all that the stock one does",
        kinds=(DeviceKind.standalone,),
    ),
    Question(
        "device",
        "functions",
        title="Which functions need a pin?",
        found="Its pin-out: each input and output that is used.",
        without="The plan cannot be checked: nobody knows what is missing.",
        steps=("fit.pin_plan",),
        must=True,
        form="list",
        columns=TEXT,
        build=texts,
        none="None",
        kinds=(DeviceKind.standalone,),
    ),
    Question(
        "device",
        "levels",
        title="Which levels has it, and which octane does each need?",
        found="The maker's sheet.",
        without="A level for better fuel knocks on this one.",
        steps=("fit.level",),
        must=True,
        form="list",
        columns=(
            Column("number", "level", "fraction", "fraction"),
            Column("ron", "least octane", "octane", "RON"),
        ),
        build=_levels,
        none="It has no levels",
        kinds=(SENSOR,),
    ),
    Question(
        "device",
        "added_boost_kpa",
        title="How much boost does it add, at most?",
        found="The maker's sheet, at its highest level.",
        without="Pump and injectors under that boost are left to be typed in their sums.",
        steps=("fit.level", "fit.bypass", "plan.injectors"),
        quantity="pressure",
        unit="kPa",
        rules=("plan.pump", "sum.injector-pressure", "sum.fuel-pump"),
        kinds=(SENSOR,),
    ),
    Question(
        "device",
        "ethanol_max",
        title="How much ethanol is it made for, at most?",
        found="Its maker's sheet; most kits are for pump E85.",
        without="It is taken to run 85 %: injectors and pump are sized for that.",
        steps=("plan.injectors", "plan.pump"),
        quantity="fraction",
        unit="%",
        rules=("plan.injector", "sum.injector-need", "log.injector_limit"),
        kinds=(INJECTOR,),
    ),
    Question(
        "device",
        "warm_up_s",
        title="How long is its warm-up delay?",
        found="The maker's sheet; none where it has no such setting.",
        without="Boost on cold oil wears the turbo.",
        steps=("fit.level", "fit.bypass"),
        quantity="time",
        unit="s",
        kinds=(SENSOR,),
    ),
    Question(
        "device",
        "off_s",
        title="How long does it want the ignition off?",
        found="Its manual, or its own countdown on the screen.",
        without="Wait until every module sleeps, by its own prompt.",
        steps=("load.read_back",),
        quantity="time",
        unit="s",
        kinds=(*COMPUTERS, *FLASHERS, *MODULES),
    ),
    Question(
        "device",
        "off_s",
        title="How long does it want the ignition off?",
        found="Its manual, or its own countdown on the screen.",
        without="Without it nobody knows when its memory is written.",
        steps=("load.write",),
        must=True,
        quantity="time",
        unit="s",
        kinds=COMPUTERS,
    ),
)
