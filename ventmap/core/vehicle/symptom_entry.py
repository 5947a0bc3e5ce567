"""A complaint with its causes, the signs they show, and the checks that tell."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
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


Row = tuple[str, float, tuple[float, ...], str]


def tree(
    text: str,
    signs: Mapping[str, str],
    causes: list[Row],
    tests: Iterable[tuple[str, float, int]],
    only: str = "",
) -> Complaint:
    """A complaint by rows: of each cause how common it is, how often it shows each sign in their order, and
    its cure; of each check its minutes and the number of the cause that it confirms, from 1.
    """
    return Complaint(
        text,
        signs,
        tuple(
            Cause(name, weight, dict(zip(signs, shows, strict=True)), cure)
            for name, weight, shows, cure in causes
        ),
        tuple(Test(told, minutes, (causes[number - 1][0],)) for told, minutes, number in tests),
        only,
    )
