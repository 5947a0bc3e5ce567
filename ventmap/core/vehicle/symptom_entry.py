"""A complaint with its causes, the signs they show, and the checks that tell."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Cause:
    """`weight`: how common, relative; `shows`: sign → how often this cause shows it, 0–1 (0.5 where it says
    nothing).
    """

    name: str
    weight: float
    shows: Mapping[str, float]
    cure: str


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
