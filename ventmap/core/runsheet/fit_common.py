"""Fit: steps that many kinds of device share: twins, plugs, rows, the hose."""

from __future__ import annotations

from ..basics import HouseRules
from .asked import TorqueAsked
from .model import Kit, SheetVehicle, Step

STATIC = "Boards die of a spark you do not feel: wrist strap on, lay it on the bag it came in."


def label_twins(kit: Kit) -> list[Step]:
    """Twin plugs get a label before they are pulled."""
    pairs = (kit.about.twin_plugs if kit.about else None) or ()
    if not pairs:
        return []
    told = "; ".join(" and ".join(pair) for pair in pairs)
    return [
        Step(
            "fit.twins",
            "fit",
            title="Label the twin plugs before pulling",
            do=(
                f"{told[:1].upper()}{told[1:]}: same shape, other bank. Tape with bank and number on both"
                " halves, then a picture."
            ),
            know="Label on plug and on socket.",
            wrong="Crossed, the engine never fires, and nothing shows why.",
            evidence="photo",
            beware=f"Look-alikes: {told}. They go into each other's place.",
            consumables=("label tape",),
            minutes=4,
        )
    ]


def label_parts(vehicle: SheetVehicle) -> Step:
    """Parts that look alike but are not: a label each before they come off, and back by it."""
    known = "; ".join(vehicle.look_alike_parts or ())
    return Step(
        "fit.labels",
        "fit",
        title="Label what looks alike but is not",
        do=(
            f"{known[:1].upper()}{known[1:]}." if known else "Lines, rail bolts, injector plugs of each bank."
        )
        + " Tag each with its cylinder and end before it comes off; lay them out in order; a picture.",
        know="Nothing is loose without a tag.",
        wrong="A line a hand's breadth too short, or a longer bolt in a shallow hole, is forced and cracks.",
        evidence="photo",
        beware=f"Look alike, are not: {known}." if known else "",
        consumables=("label tape",),
        minutes=5,
    )


def map_first(kit: Kit, rules: HouseRules) -> list[Step]:
    """Firmware and a map go in before the first power-up, where the device asks for it."""
    about = kit.about
    if about is None or not about.map_before_power:
        return []
    least = f" {about.firmware} or newer" if about.firmware else ", as its maker's sheet says"
    return [
        Step(
            "fit.map_first",
            "fit",
            title=f"Firmware and a map into {kit.name or kit.device} first"[:72],
            do=(
                f"On its own cable, before it is powered in the vehicle: firmware{least}, then the map"
                " nearest to this engine. Type what it reads back: firmware, map, checksum."
            ),
            know="It reads back firmware and map.",
            hint="as it reads back: firmware, map, checksum",
            wrong="Powered up empty it may hold injectors or coils on.",
            evidence="words",
            caution=f"Supply at {rules['load.battery_go']:g} V or more, and nothing pulled while it writes.",
            tools=("laptop", "the device's cable"),
            minutes=15,
        )
    ]


def case_torque(kit: Kit, rules: HouseRules) -> list[Step]:
    """Screws of the computer's case: home before the lid is sealed over them."""
    about = kit.about
    screws = tuple(line for line in about.torque or () if line.closes_case) if about else ()
    if not screws:
        return []
    return [
        Step(
            "fit.case_torque",
            "fit",
            title="Torque the case screws before the lid is sealed",
            do="Crosswise, twice round, by their list.",
            know="Every line is done, with its wrench.",
            wrong="Sealed over a loose screw, the case is opened once more.",
            evidence="grid",
            grid="torque",
            about=TorqueAsked(
                fasteners=screws, snug_allowed=rules.school("fit.torque_school") == "snug allowed"
            ),
            needs=("fit.close_case",),
            minutes=4 + 2 * len(screws),
        )
    ]


def swap(kit: Kit, title: str, do: str) -> Step:
    """Plugs off and on: locks said, reversible ones warned of."""
    reversible = (kit.about.reversible_plugs if kit.about else None) or ()
    beware = (
        f"Goes on both ways: {', '.join(reversible)}. Look at the mark, not at the fit." if reversible else ""
    )
    locks = kit.about.locks if kit.about else ""
    return Step(
        "fit.plugs",
        "fit",
        title=title,
        do=f"{do}{' Locks: ' + locks + '.' if locks else ''}",
        know="No plug moves under a tug.",
        wrong="A half-seated plug reads like ten faults.",
        beware=beware,
        minutes=12,
    )


def row(kit: Kit) -> list[Step]:
    """Which of two rows of injectors the device names."""
    pair = kit.about.rows if kit.about else None
    if not pair:
        return []
    return [
        Step(
            "fit.row",
            "fit",
            title=f"Take the {pair.name} row of injectors",
            do=f"The device names this one: {pair.tell}.",
            know=f"The picture shows {pair.tell}.",
            wrong=f"On the {pair.other} row only half the fuel is moved.",
            evidence="photo",
            beware=f"Look-alike: the {pair.other} row has the same plugs.",
            minutes=4,
        )
    ]


def hose(kit: Kit) -> list[Step]:
    """The manifold-pressure hose, where the device asks for one."""
    if not kit.hose:
        return []
    return [
        Step(
            "fit.hose",
            "fit",
            title="Run the manifold-pressure hose",
            do="From a port that sees the whole plenum; short, no kink, away from heat, tee secured.",
            know="Blow: no leak, no kink.",
            wrong="A kink reads as a slow sensor.",
            consumables=("4 mm hose", "tee"),
            minutes=12,
        )
    ]
