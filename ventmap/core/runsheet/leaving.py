"""What leaves with the vehicle, what stays, what goes back as a core, and whose a licence is."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import DeviceKind
from .asked import CheckRow, ChecksAsked
from .model import Kit, Step
from .opening import retunes

LEAVES = "hand-over.leaves"
#: Kinds that put a second one of their own kind in the place of what was there.
_SWAPS = (DeviceKind.swapped, DeviceKind.driver_module)
_OLD = {
    "owner": "Goes with the owner, labelled",
    "here": "Kept here, labelled with this job",
    "core": "Goes back as a core, and the owner knows",
    "lost": "Nobody can say where it is",
}
_LICENCE = {
    "this": "Tied to this vehicle, noted with the job",
    "none": "Tied to none",
    "other": "Tied to another vehicle",
}
_MOVED = {
    "moved": "Moved over, none is left on the old part",
    "none": "None had to",
    "left": "Some are still on the old part",
}


def what_leaves(kits: Sequence[Kit]) -> list[Step]:
    """Asked where something of the vehicle was exchanged, or the engine runs by a tool's licence."""
    rows: list[CheckRow] = []
    for number, kit in enumerate(kits, 1):
        name = kit.name or kit.device
        about = kit.about
        if about is not None and (about.replaces_stock or kit.device in _SWAPS):
            old = "injector driver" if kit.device == DeviceKind.driver_module else "computer"
            rows += [
                _old(
                    f"computer_{number}",
                    f"The stock {old}, for {name}",
                    "It fits no longer; it has a worth."
                    if kit.device == DeviceKind.swap_harness
                    else "It is the way back.",
                ),
                CheckRow(
                    key=f"moved_{number}",
                    title=f"Bushings, brackets and clips of the old part, for {name}",
                    why="What is missing on the new one rattles, and what is left on the old one is lost.",
                    answers=_MOVED,
                    good=("moved", "none"),
                    do_next="Move them over before it leaves.",
                ),
            ]
        if about is not None and about.rewrites_stock and retunes(kit):
            rows.append(
                CheckRow(
                    key=f"licence_{number}",
                    title=f"The licence of {name}",
                    why="A tool that is tied to a vehicle writes to no other, and the way back needs it.",
                    answers=_LICENCE,
                    good=("this", "none"),
                    do_next="Ask its maker to move it: the way back is refused on this vehicle until then.",
                )
            )
        if kit.injectors:
            title = "The old injectors, by their cylinder"
            rows.append(_old(f"injectors_{number}", title, "A set stays a set."))
        if kit.pump:
            rows.append(_old(f"pump_{number}", "The old pump", "It fits again where the new one fails."))
    if not rows:
        return []
    return [
        Step(
            LEAVES,
            "hand-over",
            title="See what leaves with it, and what does not",
            do="Each in its own box or bag, labelled with job, plate and place; cores by their paper.",
            know="Nothing of this vehicle lies about, and its owner knows where each is.",
            wrong="A way back without its parts is none.",
            evidence="grid",
            grid="checks",
            about=ChecksAsked(rows=tuple(rows)),
            minutes=float(2 + 2 * len(rows)),
        )
    ]


def _old(key: str, title: str, why: str) -> CheckRow:
    return CheckRow(
        key=key,
        title=title,
        why=why,
        answers=_OLD,
        good=("owner", "here", "core"),
        do_next="Find it and label it before the vehicle leaves.",
    )
