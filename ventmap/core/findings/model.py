"""Findings, and the view of a log that every detector shares."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..basics import SEA_LEVEL_KPA, Evidence, HouseRules, Verdict
from ..logs import Log, Samples, Window, find_windows


@dataclass(frozen=True)
class ReviewContext:
    """What is known of the vehicle beside its log.

    Parameters
    ----------
    induction : str
        ``"turbo"``, ``"blower"``, ``"none"``; ``"unknown"`` judges pressure above the barometer as boost.
    ethanol : float, optional
        Fraction in the tank.
    idle_target : float, optional
        [rpm]
    baseline_boost_kpa : float, optional
        Peak manifold pressure of the healthy vehicle [kPa].
    rules : HouseRules
    """

    induction: str = "none"
    ethanol: float | None = None
    idle_target: float | None = None
    baseline_boost_kpa: float | None = None
    rules: HouseRules = field(default_factory=HouseRules)


@dataclass(frozen=True)
class Finding:
    """Something a log shows: where, with which numbers, from what, and what to do."""

    kind: str
    verdict: Verdict
    title: str
    from_s: float
    to_s: float
    evidence: tuple[Evidence, ...]
    causes: tuple[str, ...]
    check: str
    next: str


@dataclass(frozen=True)
class NotCheckable:
    """A kind that this log cannot show, and the channels it lacks."""

    kind: str
    missing: tuple[str, ...]


@dataclass(frozen=True)
class Review:
    """What a log shows, what was looked for, and what could not be."""

    findings: tuple[Finding, ...]
    checked: tuple[str, ...]
    not_checkable: tuple[NotCheckable, ...]
    windows: tuple[Window, ...]


class View:
    """A log with its windows and the helpers that detectors share."""

    def __init__(self, log: Log, context: ReviewContext) -> None:
        self.log = log
        self.context = context
        self.rules = context.rules
        self.time = log.time_s
        self.rate = max(log.rate_hz, 1e-6)

    def __getitem__(self, name: str) -> Samples:
        return self.log.filled(name)

    def has(self, *names: str) -> bool:
        """Whether the log holds these channels, with anything in them: a column that a logger left empty is
        missing.
        """
        return self.log.has(*names) and not self._empty.intersection(names)

    @cached_property
    def _empty(self) -> frozenset[str]:
        return frozenset(name for name, values in self.log.channels.items() if not np.isfinite(values).any())

    @cached_property
    def windows(self) -> list[Window]:
        return find_windows(self.log, self.rules["cut.depth"] / 100, self.rules["cut.back_s"])

    def of(self, *kinds: str) -> list[Window]:
        return [window for window in self.windows if window.kind in kinds]

    @property
    def pulls(self) -> list[Window]:
        return self.of("pull")

    def mask(self, *kinds: str) -> NDArray[np.bool_]:
        mask = np.zeros(len(self.log), bool)
        for window in self.of(*kinds):
            mask[window.start : window.stop] = True
        return mask

    def rows(self, seconds: float) -> int:
        return max(1, int(round(seconds * self.rate)))

    @cached_property
    def barometer(self) -> float:
        """Logged or key-on barometer [kPa]; sea level where neither is there."""
        return float(np.nanmedian(self["baro"])) if self.has("baro") else SEA_LEVEL_KPA

    @cached_property
    def cut_rows(self) -> NDArray[np.bool_]:
        """Rows in or within half a second of a traction cut or a shift: no judgement of mixture or boost
        there.
        """
        mask, near = np.zeros(len(self.log), bool), self.rows(0.5)
        for window in self.of("traction_cut", "shift"):
            mask[max(0, window.start - near) : window.stop + near] = True
        return mask

    def at(self, name: str, row: int) -> float:
        return round(float(self[name][row]), 3)


@dataclass(frozen=True)
class Detector:
    """A rule of the trade: its kind, the channels it needs (each a choice of any one), and how it looks."""

    kind: str
    needs: tuple[tuple[str, ...], ...]
    look: Callable[[View], list[Finding]]
    applies: Callable[[ReviewContext], bool] = lambda context: True
