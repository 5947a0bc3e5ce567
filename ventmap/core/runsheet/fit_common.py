"""Fit: steps that many kinds of device share: twins, plugs, rows, the hose."""

from __future__ import annotations

from .model import Kit, Step

STATIC = "Boards die of a spark you do not feel: wrist strap on, lay it on the bag it came in."


def label_twins(kit: Kit) -> list[Step]:
    """Twin plugs get a label before they are pulled."""
    pairs = kit.about.twin_plugs if kit.about else ()
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


def swap(kit: Kit, title: str, do: str) -> Step:
    """Plugs off and on: locks said, reversible ones warned of."""
    reversible = kit.about.reversible_plugs if kit.about else ()
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
