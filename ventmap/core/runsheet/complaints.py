"""What somebody complained of, each by itself, and what became of it."""

from __future__ import annotations

import re
from collections.abc import Sequence

from .asked import CheckRow, ChecksAsked
from .model import Step

OUTCOMES = {
    "gone": "Gone",
    "better": "Better",
    "same": "The same",
    "worse": "Worse",
    "untried": "Not tried",
}
GOOD = ("gone", "better")


def complaints_in(text: str) -> tuple[str, ...]:
    """Complaints of a job, as they were written: one a line, or parted by semicolons.

    Examples
    --------
    >>> complaints_in("Runs out of breath; hesitates when hot.\\n")
    ('Runs out of breath', 'hesitates when hot')
    """
    found = (part.strip(" .\t") for part in re.split(r"[;\n]", text))
    return tuple(dict.fromkeys(part for part in found if part))


def asked_again(complaints: Sequence[str]) -> list[Step]:
    """Before the owner is told: each complaint, driven as it was complained of."""
    if not complaints:
        return []
    rows = tuple(
        CheckRow(
            key=f"{place}",
            title=complaint[:160],
            why="Driven as it was told: same load, same heat, same fuel.",
            answers=OUTCOMES,
            good=GOOD,
            do_next="Find why before it leaves, or tell the owner in writing that it is still there.",
        )
        for place, complaint in enumerate(complaints, 1)
    )
    one = len(rows) == 1
    return [
        Step(
            "hand-over.complaint",
            "hand-over",
            title="What became of the complaint" if one else "What became of each complaint",
            do="Drive it as it was complained of, not as you like to. Say what the owner would say.",
            know="Gone or better, and you felt it yourself.",
            wrong="A gain on the drum with the old complaint comes back within the week.",
            evidence="grid",
            grid="checks",
            about=ChecksAsked(rows=rows),
            minutes=10.0,
        )
    ]
