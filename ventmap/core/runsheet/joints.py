"""Fit: crimps proved by a pull, and wires joined by the house's school."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..basics import HouseRules, kinds_with
from .model import Answer, Step

#: Kinds whose harness is made or cut into on the bench.
CUT_INTO = kinds_with(lambda record: record.cut_into)

#: Least pull that a crimp stands [N], by wire [mm²]: IEC 60352-2.
PULL_N = {0.5: 60, 0.75: 85, 1.0: 108, 1.5: 150, 2.5: 230}

#: School → what is done, how one knows.
SCHOOLS = {
    "crimp splice": (
        "Crimp splice with adhesive sleeve; shrink until the glue shows at both ends.",
        "It holds a tug, and the glue shows all round.",
    ),
    "solder and sleeve": (
        "Solder and sleeve, supported on both sides; never where it flexes or soaks.",
        "Solder shines and has run into every strand; the wire is strapped on both sides.",
    ),
    "reversible tap": (
        "Reversible tap; never on a wire that carries an injector's or a coil's current.",
        "It is on the list to be looked at again after the first heat cycles.",
    ),
}


def joints(rules: HouseRules) -> list[Step]:
    """Crimps by their pull test, joints by the school of the house, each on record with its pin."""
    school = rules.school("fit.joining_school")
    do, know = SCHOOLS[school]
    pulls = ", ".join(f"{area:g} mm² {force} N" for area, force in PULL_N.items())
    return [
        Step(
            "fit.crimps",
            "fit",
            title="Crimp the terminals and pull one of each",
            do=(
                "Die for the terminal, strip to its barrel, seal on the wire first, conductor and insulation"
                f" crimped apart. Pull a spare of each size: {pulls}."
            ),
            know="The wire breaks before the crimp lets go; the terminal clicks in and its lock closes.",
            wrong="A terminal the wrong way round stops half way and backs out later.",
            evidence="answer",
            answers=(
                Answer("held", "Every spare held its pull"),
                Answer("let go", "One let go", "hold", "Another die or strip length, then all of that size."),
            ),
            tools=("crimp tool", "pull gauge"),
            consumables=("terminals and seals",),
            minutes=20,
        ),
        Step(
            "fit.joints",
            "fit",
            title=f"Join the wires: {school}",
            do=f"{do} Write down each joint: pin, wire, how it was joined.",
            know=know,
            wrong="A joint nobody wrote down is found last.",
            evidence="words",
            tools=("crimp tool",),
            consumables=("adhesive sleeve",),
            minutes=15,
        ),
    ]


def with_joints(steps: Sequence[Step], rules: HouseRules) -> list[Step]:
    """Crimps before the pins are moved, joints after it, and no plug goes on before the wires are joined."""
    crimps, joint = joints(rules)
    at = next((n for n, step in enumerate(steps) if step.key == "fit.move_pins"), 0)
    moved = 1 if steps and steps[at].key == "fit.move_pins" else 0
    ordered = [*steps[:at], crimps, *steps[at : at + moved], joint, *steps[at + moved :]]
    return [
        replace(step, needs=(*step.needs, joint.key)) if step.key.startswith("fit.plugs") else step
        for step in ordered
    ]
