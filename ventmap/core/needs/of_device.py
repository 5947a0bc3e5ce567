"""What is asked of a device that is a kind and a name so far."""

from __future__ import annotations

from typing import Any, get_args

from ..basics import DeviceKind, ShowsOn, kinds_with
from .question import TEXT, Column, Question, texts

COMPUTERS = kinds_with(lambda record: record.replaces_stock)
FLASHERS = kinds_with(lambda record: record.rewrites_stock)
SENSOR, INJECTOR, INLINE = (
    DeviceKind.sensor_piggyback,
    DeviceKind.injector_piggyback,
    DeviceKind.inline_controller,
)
MODULES = (DeviceKind.driver_module, DeviceKind.body_network)
BOXES = (*COMPUTERS, SENSOR, INJECTOR, INLINE, *MODULES)
_PLUGS = ("fit.plugs", "fit.common")


def _pairs(rows: list[dict[str, Any]]) -> list[list[str]]:
    return [[row["one"], row["other"]] for row in rows]


def _fastenings(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [
        {
            "name": row["name"],
            "nm": row["nm"],
            "count": round(row.get("count", 1)),
            "critical": row.get("critical", "yes") == "yes",
        }
        for row in rows
    ]


OF_DEVICE: tuple[Question, ...] = (
    Question(
        "device",
        "fits",
        title="Does its maker's list name this engine?",
        found="The maker's list, by engine and year; the label on the box.",
        without="Whether it fits is not known, and the call holds.",
        steps=("plan.fit",),
        form="yes",
        rules=("plan.fit",),
    ),
    Question(
        "device",
        "not_in_box",
        title="What does it need that is not in the box?",
        found="The packing list against the fitting guide: drivers, sensors, brackets, bushings, tools.",
        without="The parts list may lack something.",
        steps=("plan.parts",),
        form="list",
        columns=TEXT,
        build=texts,
        none="Nothing: it is complete",
    ),
    Question(
        "device",
        "hose",
        title="Does it want a manifold-pressure hose?",
        found="A nipple on its case; the fitting guide.",
        without="The hose may be missing when it is needed.",
        steps=("plan.parts", *_PLUGS),
        must=True,
        form="yes",
        kinds=kinds_with(lambda record: record.written_here),
    ),
    Question(
        "device",
        "ethanol_sensor",
        title="Does an ethanol sensor go into the feed line with it?",
        found="In the box; the fitting guide.",
        without="Whether fuel has to be opened is not known.",
        steps=("plan.parts", *_PLUGS),
        must=True,
        form="yes",
        kinds=(*COMPUTERS, INJECTOR, INLINE),
    ),
    Question(
        "device",
        "shows_on",
        title="What shows what is set in it?",
        found="On the box, beside the dash, in its tool or on a phone; its fitting guide.",
        without="Its screens are told without a word for what shows.",
        steps=("base-map.settings",),
        form="choice",
        choices=get_args(ShowsOn),
        kinds=(SENSOR, INJECTOR, INLINE),
    ),
    Question(
        "device",
        "temperature_probe",
        title="Does it come with an engine-temperature probe?",
        found="In the box.",
        without="A probe left out overfuels a warm engine.",
        steps=("plan.parts", *_PLUGS),
        must=True,
        form="yes",
        kinds=(INJECTOR,),
    ),
    Question(
        "device",
        "shift_sensor",
        title="Does it come with a shift sensor?",
        found="In the box.",
        without="A rod is a safety part: it has to be planned.",
        steps=("plan.parts", *_PLUGS),
        must=True,
        form="yes",
        kinds=(INLINE,),
    ),
    Question(
        "device",
        "map_before_power",
        title="Does it want firmware and a map before its first power-up?",
        found="First page of the fitting guide.",
        without="Powered up empty it may hold injectors or coils on.",
        steps=("fit.plugs", "fit.pin_plan", "fit.open_case"),
        must=True,
        protects="computer",
        form="yes",
        kinds=COMPUTERS,
    ),
    Question(
        "device",
        "look_alikes",
        title="Which sensor does it name, and which one looks like it?",
        found="The fitting guide's pictures.",
        without="On the wrong one the computer sees nonsense.",
        steps=("fit.plugs",),
        must=True,
        form="list",
        columns=(
            Column("name", "the one meant"),
            Column("other", "its look-alike"),
            Column("tell", "how to tell"),
        ),
        none="It has no look-alike",
        kinds=(SENSOR,),
    ),
    Question(
        "device",
        "twin_plugs",
        title="Which plugs are twins and go into each other's place?",
        found="Look at both banks, before one is pulled.",
        without="Crossed, the engine never fires, and nothing shows why.",
        steps=_PLUGS,
        must=True,
        form="list",
        columns=(Column("one", "one"), Column("other", "its twin")),
        build=_pairs,
        none="No twins",
        kinds=BOXES,
    ),
    Question(
        "device",
        "reversible_plugs",
        title="Which of its plugs go on both ways?",
        found="Turn each one over and look at its key.",
        without="Look at the mark on every plug, not at the fit.",
        steps=("fit.plugs",),
        form="list",
        columns=TEXT,
        build=texts,
        none="None does",
        kinds=(SENSOR, INJECTOR, INLINE, *MODULES),
    ),
    Question(
        "device",
        "locks",
        title="How do its connectors lock?",
        found="Slide, lever, squeeze or twist: look before you pull.",
        without="A lock that is forced breaks.",
        steps=("fit.plugs",),
        form="text",
        kinds=BOXES,
    ),
    Question(
        "device",
        "grounds",
        title="Which grounds does it list?",
        found="The fitting guide, and every black lead of its harness.",
        without="No power before all are known: a missing main ground can destroy the computer.",
        steps=("fit.grounds", "fit.ground_drop"),
        must=True,
        protects="computer",
        form="list",
        columns=TEXT,
        build=texts,
        none="It has none of its own",
        kinds=BOXES,
    ),
    Question(
        "device",
        "torque",
        title="Which torques does its maker give?",
        found="The fitting guide; the maker's figure wins.",
        without="The list stays open.",
        steps=("fit.torque",),
        must=True,
        form="list",
        columns=(
            Column("name", "fastener"),
            Column("nm", "torque", "torque", "N·m"),
            Column("count", "count", "fraction", "fraction", optional=True),
            Column("critical", "critical", choices=("yes", "no"), optional=True),
        ),
        build=_fastenings,
        none="Its maker gives none",
        kinds=BOXES,
    ),
)
