"""A complaint with its causes, the signs they show, and the checks that tell."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace


@dataclass(frozen=True)
class Cause:
    """`weight`: how common, relative; `shows`: sign → how often this cause shows it, 0–1 (0.5 where it says
    nothing); `only`: the trait of an engine that can have it, empty where every engine can.
    """

    name: str
    weight: float
    shows: Mapping[str, float]
    cure: str
    only: str = ""


@dataclass(frozen=True)
class Test:
    """A check: what to do, how long it takes, and which causes a positive result confirms."""

    text: str
    minutes: float
    confirms: tuple[str, ...]


@dataclass(frozen=True)
class Complaint:
    text: str
    signs: Mapping[str, str]
    causes: tuple[Cause, ...]
    tests: tuple[Test, ...]
    only: str = ""

    def of(self, traits: Collection[str]) -> Complaint:
        """What of it an engine with these traits (``"petrol"`` or ``"diesel"``, ``"boosted"``) can have."""
        causes = tuple(cause for cause in self.causes if not cause.only or cause.only in traits)
        names = {cause.name for cause in causes}
        told = ((test, tuple(name for name in test.confirms if name in names)) for test in self.tests)
        tests = tuple(replace(test, confirms=confirms) for test, confirms in told if confirms)
        return replace(self, causes=causes, tests=tests)
