"""A check with two ends."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict


def one_call(
    named: str, good: bool, bad: Verdict, because: list[Evidence], say: tuple[str, str], title: str
) -> Call:
    """A check with two ends: what to do where it is good, and where it is not."""
    return Call(
        named,
        verdict=Verdict.go if good else bad,
        because=tuple(because),
        do_next=say[0] if good else say[1],
        source="Each form of map has bounds of its own",
        title=title,
    )
