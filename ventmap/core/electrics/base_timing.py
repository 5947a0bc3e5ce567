"""The trigger offset from a timing light."""

from __future__ import annotations


def trigger_offset(old: float, locked: float, read: float) -> float:
    """New trigger offset [° before top dead centre] after reading `read` with spark locked at `locked`.

    The offset is where the reference edge passes, so a light that reads more advance than was commanded
    means that the edge passes earlier than set: new = old + (read − locked).
    """
    return old + (read - locked)
