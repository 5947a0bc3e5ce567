"""Devices that do not go together on one engine."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import kinds_with

#: Each takes the place of the stock computer.
REPLACE = frozenset(kinds_with(lambda record: record.replaces_stock))
#: A factory computer itself: what writes into the stock one writes into it.
FACTORY = frozenset(kinds_with(lambda record: record.factory))
#: Each writes into the stock computer's memory.
WRITE = frozenset(kinds_with(lambda record: record.rewrites_stock))
#: Each sits between the stock computer and something that it measures or drives.
BETWEEN = frozenset(kinds_with(lambda record: record.sits_between))
#: Each sits on the wires of the injectors.
ON_INJECTORS = frozenset(kinds_with(lambda record: record.on_injector_wires))


def clash(devices: Sequence[tuple[str, str]]) -> str:
    """Why these do not go together; empty where they do.

    Parameters
    ----------
    devices : sequence of (name, kind)

    Examples
    --------
    >>> clash([("A", "plug-in ECU"), ("B", "swapped computer")])
    'A and B both take the place of the stock computer: one of them.'
    >>> clash([("A", "sensor piggyback"), ("B", "injector piggyback")])
    ''
    """

    def named(kinds: frozenset[str]) -> list[str]:
        return [name for name, kind in devices if kind in kinds]

    for kinds, what in (
        (REPLACE, "take the place of the stock computer"),
        (WRITE, "write into the stock computer: the second wipes out the first"),
        (ON_INJECTORS, "sit on the injectors' wires"),
    ):
        both = named(kinds)
        if len(both) > 1:
            return f"{both[0]} and {both[1]} both {what}: one of them."
    new = named(REPLACE)
    if new and named(BETWEEN):
        return (
            f"{named(BETWEEN)[0]} bends what the stock computer sees, and {new[0]} takes its place: one of"
            " them."
        )
    if new and named(WRITE) and not named(FACTORY):
        return f"{named(WRITE)[0]} writes into the stock computer, and {new[0]} takes its place: one of them."
    return ""
