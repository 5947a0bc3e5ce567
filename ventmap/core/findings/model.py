"""Findings, and the view of a log that every detector shares."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..basics import SEA_LEVEL_KPA, Evidence, HouseRules, Verdict, in_boost, standard_pressure
from ..logs import Log, Samples, Window, find_windows


@dataclass(frozen=True)
class ReviewContext:
    """What is known of the vehicle beside its log.

    Parameters
    ----------
    induction : str
        ``"turbo"``, ``"blower"``, ``"none"``; ``"unknown"`` judges pressure above the barometer as boost.
    injection : str
        ``"port"``, ``"direct"``, ``"both"``, ``"diesel"``; a diesel has no mixture target, spark or knock
        sensor.
    stroke : int
        4 or 2.
    window_deg : float, optional
        Window of direct injection [° of crank].
    device : str
        Kind of the device that is fitted, for what to do next.
    ethanol : float, optional
        Fraction in the tank.
    idle_target : float, optional
        The vehicle's own idle speed [rpm].
    altitude_m : float, optional
        Of the place, where the log holds no barometer [m].
    baseline_boost_kpa : float, optional
        Peak manifold pressure of the healthy vehicle [kPa].
    concerns : tuple of str
        What the job is about, of `CONCERNS`: a log in which that could not be checked is no *go*.
    rules : HouseRules
    """

    induction: str = "none"
    injection: str = "port"
    stroke: int = 4
    window_deg: float | None = None
    device: str = ""
    ethanol: float | None = None
    idle_target: float | None = None
    altitude_m: float | None = None
    baseline_boost_kpa: float | None = None
    concerns: tuple[str, ...] = ()
    rules: HouseRules = field(default_factory=HouseRules)

    @property
    def spark(self) -> bool:
        return self.injection != "diesel"


#: What a job may be about, and the kind of finding that tells of it.
CONCERNS = {
    "boost": "boost_plateau_low",
    "mixture": "lean_under_load",
    "pressure": "fuel_pressure_drop",
    "knock": "knock",
}


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
    """A kind that this log cannot show, the channels it lacks, and columns that may be these: say what they
    are.
    """

    kind: str
    missing: tuple[str, ...]
    perhaps: tuple[str, ...] = ()


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
        """Logged or key-on barometer [kPa], else that of the altitude; sea level where nobody knows
        either.
        """
        if self.has("baro"):
            return float(np.nanmedian(self["baro"]))
        if self.context.altitude_m is not None:
            return standard_pressure(self.context.altitude_m)
        return SEA_LEVEL_KPA

    @cached_property
    def running(self) -> NDArray[np.bool_]:
        """Rows with the engine turning by itself: a mixture read before or after is air."""
        return np.asarray(self["rpm"] > 400.0) if self.has("rpm") else np.ones(len(self.log), bool)

    @cached_property
    def boosted(self) -> NDArray[np.bool_]:
        """Rows above the barometer, by 5 kPa against the sensor's own noise."""
        if not self.has("map"):
            return np.zeros(len(self.log), bool)
        return in_boost(self["map"], self.barometer)

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
    """A rule of the trade: its kind, the channels it needs (each a choice of any one), how it looks,
    and what it lacks beside channels."""

    kind: str
    needs: tuple[tuple[str, ...], ...]
    look: Callable[[View], list[Finding]]
    applies: Callable[[ReviewContext], bool] = lambda context: True
    lacks: Callable[[View], str] = lambda view: ""
