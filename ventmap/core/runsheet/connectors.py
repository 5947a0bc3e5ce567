"""The plugs that were touched: where each is, what locks it, what it looks like, and how it stands now."""

from __future__ import annotations

from collections.abc import Sequence

from .asked import PlugAsked, PlugsAsked
from .model import Kit, Step


def connectors(kits: Sequence[Kit]) -> list[Step]:
    """One list over all boxes, begun with the plugs that their sheets name."""
    about = [kit.about for kit in kits if kit.about is not None]
    if not about:
        return []
    named = [
        PlugAsked(name=plug, like=", ".join(other for other in twins if other != plug), whose="stock")
        for box in about
        for twins in box.twin_plugs or ()
        for plug in twins
    ]
    named += [
        PlugAsked(name=plug, note="goes on both ways", whose="stock")
        for box in about
        for plug in box.reversible_plugs or ()
    ]
    locks = next((box.locks for box in about if box.locks), "") or ""
    return [
        Step(
            "fit.connectors",
            "fit",
            title="Tug every plug that was touched",
            do="One line a plug: place, what it is for, its lock. Seat it until it clicks, close the second"
            " lock, then tug; what stays off is covered.",
            know="Each is seated and tugged, or covered; no stock plug hangs bare.",
            wrong="A half-seated plug reads like ten faults; a bare one fills with water.",
            evidence="grid",
            grid="plugs",
            about=PlugsAsked(begin=tuple(dict.fromkeys(named)), locks=locks),
            minutes=6,
        )
    ]
